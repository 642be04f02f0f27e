// A server in this process that speaks the wire protocol as far as the official driver needs it, and keeps what it is told in the
// stand-in ("MongoDB Wire Protocol": OP_MSG; OP_QUERY for the first hello). Users sign in by SCRAM-SHA-256 (RFC 5802, RFC 7677).
import { createHash, createHmac, pbkdf2Sync, randomBytes, timingSafeEqual } from 'node:crypto'
import { createServer, type AddressInfo, type Socket } from 'node:net'
import * as BSON from 'bson'
import type { Document } from 'bson'
import { carryOut } from '../../src/lib/live/mongodb/commands'
import { copy } from '../../src/lib/live/mongodb/copy'
import { Store } from '../../src/lib/live/mongodb/store'
import { Refused } from '../../src/lib/live/refused'

export interface DocumentServer {
  readonly port: number
  /** The commands that came, as they were sent. */
  readonly heard: readonly Document[]
  /** From now on the line is cut as a command of this name comes: before it is carried out, or after. */
  cut: { readonly word: string; readonly when: 'before' | 'after'; readonly nth?: number } | undefined
  store(database: string): Store
  close(): Promise<void>
}

const [OP_REPLY, OP_MSG] = [1, 2013]
/** "Wire Version" of 7.0. */
const WIRE = { minWireVersion: 0, maxWireVersion: 21 }
/** Documents of an answer before "getMore". */
const BATCH = 101

interface Line {
  signedIn: boolean
  scram?: { readonly client: string; readonly server: string; readonly nonce: string }
}

export async function documentServer(user?: {
  readonly name: string
  readonly password: string
}): Promise<DocumentServer> {
  const stores = new Map<string, Store>()
  const cursors = new Map<bigint, { readonly ns: string; rest: Document[] }>()
  const heard: Document[] = []
  const sockets = new Set<Socket>()
  let last = 0n
  /** How many commands came since that might be cut. */
  const met = new WeakMap<object, number>()
  const isTurn = (cut: NonNullable<DocumentServer['cut']>): boolean => {
    met.set(cut, (met.get(cut) ?? 0) + 1)
    return (met.get(cut) ?? 0) >= (cut.nth ?? 1)
  }
  const salt = randomBytes(16)
  const ROUNDS = 4096
  const key = user && pbkdf2Sync(user.password, salt, ROUNDS, 32, 'sha256')

  const store = (database: string): Store => {
    const found = stores.get(database) ?? new Store()
    stores.set(database, found)
    return found
  }
  const cursor = (ns: string, documents: readonly Document[], size = BATCH) => {
    const rest = documents.slice(size)
    const id = rest.length > 0 ? ++last : 0n
    if (id > 0n) cursors.set(id, { ns, rest })
    return { cursor: { id: BSON.Long.fromBigInt(id), ns, firstBatch: documents.slice(0, size) } }
  }

  /** "SCRAM": what the client says is checked against what both know; the server's own proof is given back. */
  function scram(line: Line, word: string, payload: string): Document {
    if (!user || !key) throw new Refused('There are no users here.', 18)
    const field = (text: string, name: string) => new RegExp(`(?:^|,)${name}=([^,]*(?:=*))`).exec(text)?.[1] ?? ''
    if (word === 'saslStart') {
      const client = payload.replace(/^n,,/, '')
      const nonce = field(client, 'r') + randomBytes(12).toString('base64')
      const server = `r=${nonce},s=${salt.toString('base64')},i=${ROUNDS}`
      line.scram = { client, server, nonce }
      return { conversationId: 1, done: false, payload: new BSON.Binary(Buffer.from(server)) }
    }
    const began = line.scram
    delete line.scram
    if (!began) return { conversationId: 1, done: true, payload: new BSON.Binary(Buffer.alloc(0)) }
    const hmac = (secret: Buffer, text: string) => createHmac('sha256', secret).update(text).digest()
    const clientKey = hmac(key, 'Client Key')
    const stored = createHash('sha256').update(clientKey).digest()
    const proof = Buffer.from(/,p=(.*)$/.exec(payload)?.[1] ?? '', 'base64')
    const said = `${began.client},${began.server},${payload.replace(/,p=.*$/, '')}`
    const signature = hmac(stored, said)
    const expected = Buffer.from(clientKey.map((byte, i) => byte ^ (signature[i] ?? 0)))
    const isUser = field(began.client, 'n') === user.name
    if (!isUser || proof.length !== expected.length || !timingSafeEqual(proof, expected))
      throw new Refused('Authentication failed.', 18)
    line.signedIn = true
    const verified = hmac(hmac(key, 'Server Key'), said).toString('base64')
    return { conversationId: 1, done: true, payload: new BSON.Binary(Buffer.from(`v=${verified}`)) }
  }

  function answer(line: Line, command: Document): Document {
    const { $db, lsid: _, $readPreference: __, comment: ___, $clusterTime: ____, apiVersion: _____, ...own } = command
    const database = String($db)
    const [word = ''] = Object.keys(own)
    switch (word) {
      case 'hello':
      case 'ismaster':
      case 'isMaster':
        return {
          [word === 'hello' ? 'isWritablePrimary' : 'ismaster']: true,
          helloOk: true,
          maxBsonObjectSize: 16_777_216,
          maxMessageSizeBytes: 48_000_000,
          maxWriteBatchSize: 100_000,
          logicalSessionTimeoutMinutes: 30,
          connectionId: 1,
          ...WIRE,
          ...(own['saslSupportedMechs'] === undefined ? {} : { saslSupportedMechs: ['SCRAM-SHA-256'] })
        }
      case 'saslStart':
      case 'saslContinue':
        return scram(line, word, (own['payload'] as BSON.Binary).toString('utf8'))
      case 'endSessions':
      case 'killCursors':
        return {}
    }
    if (user && !line.signedIn) throw new Refused(`Command ${word} requires authentication`, 13)
    switch (word) {
      case 'buildInfo':
        return { version: '7.0.14' }
      case 'listDatabases':
        return { databases: [...stores.keys(), 'admin', 'config', 'local'].map((name) => ({ name })) }
      case 'killOp':
        return {}
      case 'getMore': {
        const id = own['getMore'] as BSON.Long
        const open = cursors.get(BigInt(id.toString()))
        if (!open) throw new Refused(`cursor id ${id.toString()} not found`, 43)
        const next = open.rest.splice(0, Number(own['batchSize'] ?? 1000))
        if (open.rest.length === 0) cursors.delete(BigInt(id.toString()))
        return {
          cursor: { id: open.rest.length > 0 ? id : BSON.Long.fromNumber(0), ns: open.ns, nextBatch: next }
        }
      }
      case 'renameCollection': {
        const [from = '', to = ''] = [own['renameCollection'], own['to']].map((name) =>
          String(name).split('.').slice(1).join('.')
        )
        carryOut(store(String(own['renameCollection']).split('.', 1).join()), { renameCollection: from, to })
        return {}
      }
      case 'aggregate':
        // Nothing is ever under way here: a command is answered before the next is read.
        if (own['aggregate'] === 1) return cursor(`${database}.$cmd`, [])
    }
    const { batchSize, ...whole } = own
    const name: unknown = own[word]
    const ns = `${database}.${typeof name === 'string' ? name : '$cmd'}`
    // "Write Errors": a document that is refused is said with an answer that is well.
    if (word === 'insert') {
      let n = 0
      for (const [index, one] of (own['documents'] as Document[]).entries())
        try {
          n += carryOut(store(database), { ...own, documents: [one] }).affected
        } catch (error) {
          return { n, writeErrors: [{ index, ...told(error) }] }
        }
      return { n }
    }
    if (word === 'update' || word === 'delete')
      try {
        const { affected } = carryOut(store(database), own)
        return { n: affected, ...(word === 'update' ? { nModified: affected } : {}) }
      } catch (error) {
        return { n: 0, writeErrors: [{ index: 0, ...told(error) }] }
      }
    const { documents } = carryOut(store(database), whole)
    const size = (batchSize ?? (own['cursor'] as Document | undefined)?.['batchSize']) as number | undefined
    if (['find', 'aggregate', 'listCollections', 'listIndexes'].includes(word)) return cursor(ns, documents, size)
    if (word === 'distinct') return { values: documents.map(({ value }) => value as unknown) }
    return documents[0] ?? {}
  }

  const told = (error: unknown): Document => ({
    errmsg: error instanceof Error ? error.message : String(error),
    code: error instanceof Refused ? error.code : 1
  })

  function reply(socket: Socket, line: Line, message: Buffer) {
    const [id, code] = [message.readInt32LE(4), message.readInt32LE(12)]
    const command = code === OP_MSG ? messageOf(message) : queryOf(message)
    heard.push(command)
    const [word] = Object.keys(command)
    const { cut } = server
    const isCut = cut !== undefined && cut.word === word && isTurn(cut)
    if (isCut && cut?.when === 'before') return socket.destroy()
    let body: Document
    try {
      // Numbers as the stand-in has them.
      body = { ok: 1, ...answer(line, word === 'getMore' || word?.startsWith('sasl') ? command : copy(command)) }
    } catch (error) {
      body = { ok: 0, ...told(error) }
    }
    if (isCut && cut?.when === 'after') return socket.destroy()
    const document = BSON.serialize(body)
    const inner =
      code === OP_MSG
        ? Buffer.concat([Buffer.alloc(5), document])
        : Buffer.concat([Buffer.alloc(16), int32(1), document])
    socket.write(
      Buffer.concat([int32(inner.length + 16), int32(id), int32(id), int32(code === OP_MSG ? OP_MSG : OP_REPLY), inner])
    )
  }

  const listening = createServer((socket) => {
    sockets.add(socket)
    const line: Line = { signedIn: false }
    let buffer = Buffer.alloc(0)
    socket.on('error', () => undefined)
    socket.on('close', () => sockets.delete(socket))
    socket.on('data', (chunk) => {
      buffer = Buffer.concat([buffer, chunk as Buffer])
      while (buffer.length >= 4 && buffer.length >= buffer.readInt32LE(0)) {
        const length = buffer.readInt32LE(0)
        const message = buffer.subarray(0, length)
        buffer = buffer.subarray(length)
        reply(socket, line, message)
      }
    })
  })
  await new Promise<void>((resolve) => listening.listen(0, '127.0.0.1', resolve))
  const server: DocumentServer = {
    port: (listening.address() as AddressInfo).port,
    heard,
    cut: undefined,
    store,
    close: () => {
      for (const socket of sockets) socket.destroy()
      return new Promise((resolve) => listening.close(() => resolve()))
    }
  }
  return server
}

const int32 = (value: number): Buffer => {
  const bytes = Buffer.alloc(4)
  bytes.writeInt32LE(value)
  return bytes
}

/** "OP_MSG": flags, then one section that is the command and any that are sequences of documents in it. */
function messageOf(message: Buffer): Document {
  let command: Document = {}
  for (let at = 20; at < message.length;) {
    const kind = message.readUInt8(at)
    const size = message.readInt32LE(at + 1)
    if (kind === 0) command = { ...BSON.deserialize(message.subarray(at + 1, at + 1 + size), EXACT), ...command }
    else {
      const end = at + 1 + size
      const nameEnds = message.indexOf(0, at + 5)
      const documents: Document[] = []
      for (let next = nameEnds + 1; next < end; next += message.readInt32LE(next))
        documents.push(BSON.deserialize(message.subarray(next, next + message.readInt32LE(next)), EXACT))
      command[message.toString('utf8', at + 5, nameEnds)] = documents
    }
    at += 1 + size
  }
  return command
}
const EXACT = { promoteValues: false, promoteBuffers: false }

/** "OP_QUERY": flags, a name, two numbers, the command. */
function queryOf(message: Buffer): Document {
  const at = message.indexOf(0, 20) + 9
  const name = message.toString('utf8', 20, message.indexOf(0, 20))
  return { ...BSON.deserialize(message.subarray(at), EXACT), $db: name.split('.', 1).join() }
}
