// The ledger: runs written down in the database itself, and a lock so that two runs do not meet there. Its two tables are
// no part of any comparison.
import type { Catalog, Column, Table } from '../core/catalog'
import type { Dialect } from '../core/dialects'
import type { NeutralType } from '../core/types'
import type { LiveDatabase } from './database'

const LEDGER = 'ramblet_ledger'
const LOCK = 'ramblet_lock'

/** A catalogue without the ledger's own tables. */
export const withoutLedger = (catalog: Catalog): Catalog => ({
  ...catalog,
  tables: catalog.tables.filter(({ name }) => ![LEDGER, LOCK].includes(name.toLowerCase()))
})

/** Who holds the lock, and since when (as an ISO date). */
export interface Held {
  readonly holder: string
  readonly since: string
}

export interface LedgerLine {
  readonly run: string
  readonly who: string
  readonly statement: string
  readonly state: string
  readonly message?: string
}

export interface Ledger {
  write(line: LedgerLine): Promise<void>
  /** Gives the lock back. */
  release(): Promise<void>
}

/** Opens the ledger of a database, made when it is not there, and takes its lock; tells who has it when it is taken. */
export async function openLedger(live: LiveDatabase, dialect: Dialect, who: string): Promise<Ledger | Held> {
  const [ledger, lock] = [ledgerTable(dialect), lockTable(dialect)]
  const { write } = dialect
  for (const table of [ledger, lock]) {
    const isThere = () =>
      live.query(`SELECT 1 FROM ${write.table(table.schema, table.name)} WHERE 1 = 0`).then(
        () => true,
        () => false
      )
    if (!(await isThere()))
      for (const { statement } of dialect.alter.createTable(table))
        await must(live, statement).catch(async (error: unknown) => {
          // Somebody else may have made it at the same moment.
          if (!(await isThere())) throw error
        })
  }
  const since = new Date().toISOString()
  // One row at most: its key refuses a second one, whoever asks at the same time.
  const [taken] = await live.run([write.insert(lock, { id: 1, holder: who, since })])
  if (!taken?.ok) {
    const held = await holder(live, dialect)
    if (held) return held
    throw new Error(taken?.error?.message ?? 'The lock could not be taken.')
  }
  let line = 0
  return {
    write: async ({ run, who: by, statement, state, message }) => {
      const values = {
        run,
        line: ++line,
        who: by,
        at: new Date().toISOString(),
        statement,
        state,
        message: message ?? null
      }
      await must(live, write.insert(ledger, values), true)
    },
    release: () => breakLock(live, dialect, { since })
  }
}

/** Takes the lock from him who has had it since then, and from nobody who came after him. */
export async function breakLock(live: LiveDatabase, dialect: Dialect, held: Pick<Held, 'since'>): Promise<void> {
  const { schema, name } = lockTable(dialect)
  if (!/^[\d:.TZ-]+$/.test(held.since)) throw new Error(`“${held.since}” is no date of a lock.`)
  await must(live, `DELETE FROM ${dialect.write.table(schema, name)} WHERE since = '${held.since}'`)
}

async function holder(live: LiveDatabase, dialect: Dialect): Promise<Held | undefined> {
  const { schema, name } = lockTable(dialect)
  const { rows } = await live.query(`SELECT holder, since FROM ${dialect.write.table(schema, name)}`)
  const [row] = rows
  return row && { holder: String(row[0]), since: String(row[1]) }
}

async function must(live: LiveDatabase, statement: string, later = false) {
  const refused = (await live.run([statement], { later })).find((outcome) => !outcome.ok)
  if (refused) throw new Error(refused.error?.message ?? 'The ledger could not be written.')
}

const text = (length?: number): NeutralType => (length === undefined ? { kind: 'text' } : { kind: 'text', length })

function tableOf(
  dialect: Dialect,
  name: string,
  columns: readonly (readonly [string, NeutralType, boolean?])[],
  key: readonly string[]
): Table {
  const { profile, types } = dialect
  const fold = (word: string) => (profile.names.fold === 'upper' ? word.toUpperCase() : word)
  return {
    schema: profile.defaultSchema,
    name: fold(name),
    columns: columns.map(([column, type, nullable = false]): Column => ({
      name: fold(column),
      type: types.fromNeutral(type).type,
      nullable
    })),
    primaryKey: { name: fold(`pk_${name}`), columns: key.map(fold) },
    uniques: [],
    foreignKeys: [],
    checks: [],
    indexes: []
  }
}

const ledgerTable = (dialect: Dialect): Table =>
  tableOf(
    dialect,
    LEDGER,
    [
      ['run', text(40)],
      ['line', { kind: 'integer' }],
      ['who', text(120)],
      ['at', text(30)],
      ['statement', text()],
      ['state', text(20)],
      ['message', text(), true]
    ],
    ['run', 'line']
  )

const lockTable = (dialect: Dialect): Table =>
  tableOf(
    dialect,
    LOCK,
    [
      ['id', { kind: 'integer' }],
      ['holder', text(120)],
      ['since', text(30)]
    ],
    ['id']
  )
