// The ledger: runs written down in the database itself, and a lock so that two runs do not meet there. Its two tables are
// no part of any comparison.
import type { Catalog, Column, Table } from '../core/catalog'
import type { Dialect } from '../core/dialects'
import type { NeutralType } from '../core/types'
import type { Migration } from '../core/plan'
import type { LiveDatabase } from './database'
import type { Recorded } from './run'

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
  /** The step's id in its run. */
  readonly step: string
  readonly statement: string
  readonly state: string
  readonly message?: string
}

export interface Ledger {
  /**
   * Statements that write lines, to be sent with what they are about: where an engine has transactions of structure, both
   * are done or none.
   */
  lines(lines: readonly LedgerLine[]): readonly string[]
  /** Writes lines that were not sent with what they are about. */
  write(lines: readonly LedgerLine[]): Promise<void>
  /** Gives the lock back. */
  release(): Promise<void>
}

/**
 * Opens the ledger of a database for a run, made when it is not there, and takes its lock; tells who has it when it is
 * taken. Lines go on behind those that the run has there already.
 */
export async function openLedger(
  live: LiveDatabase,
  dialect: Dialect,
  { who, run }: { readonly who: string; readonly run: string }
): Promise<Ledger | Held> {
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
  await withSteps(live, dialect, ledger)
  const { rows } = await live.query(
    `SELECT max(line) FROM ${write.table(ledger.schema, ledger.name)} WHERE run = '${id(run)}'`
  )
  let line = Number(rows[0]?.[0] ?? 0)
  const lines: Ledger['lines'] = (given) =>
    given.map(({ step, statement, state, message = null }) =>
      write.insert(ledger, { run, line: ++line, who, at: new Date().toISOString(), statement, state, message, step })
    )
  return {
    lines,
    write: async (given) => {
      // One by one where the engine takes no more at once.
      for (const statement of lines(given)) await must(live, statement, true)
    },
    release: () => breakLock(live, dialect, { since })
  }
}

/**
 * What the ledger knows of transactions that were begun, never ended, and leave no trace in the structure: one that is
 * marked is done; where marks are of the transaction itself, one that is not was never done. `recorded` is changed so. Only
 * for a run that had the ledger all the time; what cannot be asked stays as it is.
 */
export async function askLedger(
  live: LiveDatabase,
  dialect: Dialect,
  {
    run,
    migration,
    recorded
  }: { readonly run: string; readonly migration: Migration; readonly recorded: Map<number, Recorded> }
): Promise<void> {
  const cutOff = migration.groups.filter((group) => group.after.length === 0 && recorded.get(group.id) === 'begun')
  if (cutOff.length === 0) return
  const { schema, name } = ledgerTable(dialect)
  const asked = `SELECT step FROM ${dialect.write.table(schema, name)} WHERE run = '${id(run)}' AND state = 'done'`
  const answer = await live.query(asked).catch(() => undefined)
  if (!answer) return
  const marked = new Set(answer.rows.map(([step]) => String(step)))
  for (const group of cutOff) {
    const steps = migration.steps.filter((step) => step.group === group.id)
    if (steps.every((step) => marked.has(step.id))) recorded.set(group.id, 'done')
    else if (dialect.profile.features.transactionalDdl) recorded.delete(group.id)
  }
}

/** A run's id as it may stand in a statement. */
function id(run: string): string {
  if (!/^[\w-]+$/.test(run)) throw new Error(`“${run}” is no id of a run.`)
  return run
}

/** Ledgers of before did not say which step a line is about. */
async function withSteps(live: LiveDatabase, dialect: Dialect, ledger: Table) {
  const { write, alter } = dialect
  const step = ledger.columns.at(-1)
  const asked = `SELECT ${write.quote(step?.name ?? '')} FROM ${write.table(ledger.schema, ledger.name)} WHERE 1 = 0`
  if (!step || (await live.query(asked).then(Boolean, () => false))) return
  for (const { statement } of alter.addColumn(ledger, step)) await must(live, statement)
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
      ['message', text(), true],
      ['step', text(40), true]
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
