// A stand-in for MySQL in this process: it keeps a database in memory, and answers by the manual's rules. What it does not know it
// refuses by name.
import type { SqlJsStatic } from 'sql.js'
import { ROWS_SHOWN, STILL_OPEN, type LiveDatabase } from '../database'
import { mustRead, onlyReads } from '../reading'
import { oneByOne } from '../refused'
import type { FileKeeper } from '../sqlite'
import { inTurn } from '../turn'
import { Server } from './server'

/** Opens what a keeper holds, or an empty database of a version. */
export async function openMysqlStandIn(
  engine: SqlJsStatic,
  keeper: FileKeeper,
  version: string
): Promise<LiveDatabase> {
  const server = new Server(engine, version, await keeper.load())
  const save = () => keeper.save(() => server.file())
  return inTurn(opened(server, save), save)
}

function opened(server: Server, save: () => Promise<void>): LiveDatabase {
  const { dialect } = server
  const mustBeClosed = () => {
    if (server.isOpen) throw new Error(STILL_OPEN)
  }
  const reading = (sql: string, most?: number) => {
    mustRead(sql, dialect)
    const { columns, rows, more } = server.carryOut(sql, most)
    return { columns, rows, affected: 0, ...(more ? { more: true as const } : {}) }
  }
  return {
    engine: 'mysql',
    // It is in memory here anyway.
    rows: async (sql = '') => reading(sql),
    endRows: async () => undefined,
    catalog: async () => {
      mustBeClosed()
      return server.catalog()
    },
    query: async (sql, { readOnly, byHand } = {}) => {
      if (!byHand) mustBeClosed()
      const state = () => (server.isOpen ? { open: true as const } : {})
      if (readOnly) return { ...reading(sql, ROWS_SHOWN), ...state() }
      const { columns, rows, more, affected } = server.carryOut(sql, ROWS_SHOWN)
      if (!server.isOpen && !onlyReads(sql, dialect)) await save()
      return { columns, rows, affected, ...(more ? { more: true as const } : {}), ...state() }
    },
    run: async (statements) => {
      mustBeClosed()
      return oneByOne(statements, (statement) => server.carryOut(statement, 0))
    },
    close: async () => server.close()
  }
}
