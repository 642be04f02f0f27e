// A server that speaks MySQL’s protocol and answers by the stand-in: what the driver is tried on, since no server of MySQL runs here. The
// protocol itself is the driver’s own package’s.
import { createRequire } from 'node:module'
import initSqlJs from 'sql.js'
import { Refused } from '../../src/lib/live/refused'
import { Server } from '../../src/lib/live/mysql/server'

/** What of the package’s server is used here; its types say nothing of it. */
interface Line {
  readonly stream: { destroy(): void }
  serverHandshake(args: object): void
  /** The number of the next packet. */
  sequenceId: number
  on(event: 'query' | 'stmt_prepare', heard: (sql: string) => void): void
  on(event: 'quit', heard: () => void): void
  on(event: 'error', heard: (error: unknown) => void): void
  writeColumns(columns: readonly object[]): void
  writeTextRow(row: readonly unknown[]): void
  writeEof(warnings?: number, status?: number): void
  writeOk(args: object): void
  writeError(args: object): void
}
interface Listening {
  on(event: 'connection', heard: (line: Line) => void): void
  listen(port: number, host: string): void
  close(done?: () => void): void
  readonly _server: { address(): { port: number } | null; on(event: 'listening', heard: () => void): void }
}

const { createServer } = createRequire(import.meta.url)('mysql2') as { createServer(): Listening }

const AUTOCOMMIT = 2
const IN_TRANSACTION = 1
/** "CLIENT_…" flags: all but compression, encryption and what came with later versions of the protocol. */
const ABLE = 0xffffff & ~(0x20 | 0x800)

export interface MysqlServer {
  readonly url: string
  /** Ends all lines at once, as a server does that is killed. */
  cut(): void
  stop(): Promise<void>
}

export async function startMysqlServer(version: string): Promise<MysqlServer> {
  const answering = new Server(await initSqlJs(), version)
  const lines = new Set<Line>()
  const server = createServer()
  server.on('connection', (line) => {
    lines.add(line)
    line.on('error', () => undefined)
    line.serverHandshake({
      protocolVersion: 10,
      serverVersion: `${version}.0`,
      connectionId: lines.size,
      statusFlags: AUTOCOMMIT,
      characterSet: 45,
      capabilityFlags: ABLE,
      authCallback: (_: unknown, done: (error: unknown) => void) => {
        done(null)
        line.sequenceId = 0
      }
    })
    line.on('quit', () => line.stream.destroy())
    const answer = (sql: string) => {
      try {
        const { columns, rows, affected } = answering.carryOut(sql)
        const status = AUTOCOMMIT | (answering.isOpen ? IN_TRANSACTION : 0)
        if (columns.length === 0) return line.writeOk({ affectedRows: affected, serverStatus: status })
        // Texts: what is read of them the driver leaves as it is.
        line.writeColumns(
          columns.map((name) => ({
            catalog: 'def',
            schema: '',
            table: '',
            orgTable: '',
            name,
            orgName: name,
            characterSet: 45,
            columnLength: 1024,
            columnType: 253,
            flags: 0,
            decimals: 0
          }))
        )
        for (const row of rows) line.writeTextRow(row.map((value) => (value === null ? null : String(value))))
        line.writeEof(0, status)
      } catch (error) {
        const { code, message } = error instanceof Refused ? error : { code: 1105, message: String(error) }
        line.writeError({ code, message })
      } finally {
        // Each command counts its packets anew.
        line.sequenceId = 0
      }
    }
    line.on('query', answer)
    // The package takes SET for a statement that is prepared.
    line.on('stmt_prepare', answer)
  })
  await new Promise<void>((resolve) => {
    server._server.on('listening', resolve)
    server.listen(0, '127.0.0.1')
  })
  const cut = () => {
    for (const line of lines) line.stream.destroy()
    lines.clear()
  }
  return {
    url: `mysql://ines@127.0.0.1:${server._server.address()?.port ?? 0}/main`,
    cut,
    stop: async () => {
      cut()
      await new Promise<void>((resolve) => server.close(resolve))
      answering.close()
    }
  }
}
