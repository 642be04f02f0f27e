// A stand-in for MongoDB in this process: it keeps collections in memory and answers commands by the manual's rules. What it does not
// know it refuses by name. Numbers are JavaScript's: it does not tell a long from an int, and computes decimals as doubles.
import { EJSON } from 'bson'
import { dialect, type Dialect } from '../../core/dialects'
import { ROWS_SHOWN, type LiveDatabase } from '../database'
import { mustRead, onlyReads } from '../reading'
import type { FileKeeper } from '../sqlite'
import { inTurn } from '../turn'
import { carryOut } from './commands'
import { asSent, catalogBy, rowsOf } from './rows'
import { commandOf } from './spoken'
import { oneByOne } from '../refused'
import { Store } from './store'

const mongodb = dialect('mongodb') as Dialect

/** Opens what a keeper holds, or an empty database. */
export async function openMongodbStandIn(keeper: FileKeeper): Promise<LiveDatabase> {
  const store = new Store()
  const kept = await keeper.load()
  if (kept) store.load(new TextDecoder().decode(kept))
  const save = () => keeper.save(() => new TextEncoder().encode(store.save()))
  return inTurn(opened(store, save), save)
}

function opened(store: Store, save: () => Promise<void>): LiveDatabase {
  const ask = (statement: string, most?: number) => rowsOf(carryOut(store, commandOf(statement)), most)
  return {
    engine: 'mongodb',
    // As on a server: each document as one text.
    rows: async (statement = '') => {
      mustRead(asSent(statement), mongodb)
      const { documents } = carryOut(store, commandOf(statement))
      return {
        columns: ['document'],
        rows: documents.map((one) => [EJSON.stringify(one, { relaxed: true })]),
        affected: 0
      }
    },
    endRows: async () => undefined,
    catalog: () => catalogBy(async (statement) => carryOut(store, commandOf(statement))),
    query: async (statement, { readOnly } = {}) => {
      if (readOnly) mustRead(asSent(statement), mongodb)
      const result = ask(statement, ROWS_SHOWN)
      if (!onlyReads(asSent(statement), mongodb)) await save()
      return result
    },
    run: async (statements) => {
      return oneByOne(statements, (statement) => carryOut(store, commandOf(statement)))
    },
    close: async () => undefined
  }
}
