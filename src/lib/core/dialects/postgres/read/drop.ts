// DROP, and what goes with what is dropped: manual, 5.15 Dependency Tracking, and DROP of each kind.
import {
  addressKey,
  addressOf,
  foreignKeysTo,
  freeAddress,
  KIND_WORDS,
  memberAddress,
  namesOf,
  standingOn,
  tableAddress,
  usersOfColumn,
  type Address,
  type Catalog,
  type Column,
  type FreeKind,
  type Table
} from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import type { Reading } from './reading'
import { routineNamed } from './routines'

/** Takes something away with all that goes with it; with `cascade` what stands on it too, else there must be none. */
export function remove(address: Address, cascade: boolean, reading: Reading): void {
  const catalog = reading.catalog()
  const users = standingOn(catalog)
  const gone = new Map<string, Address>()
  const visit = (next: Address, wanted: boolean, by: Address) => {
    const key = addressKey(next)
    if (gone.has(key) || isWithin(next, gone)) return
    if (!wanted && !cascade)
      throw new NotUnderstood(
        `The ${KIND_WORDS[next.kind]} ${namesOf(next).name} stands on the ${KIND_WORDS[by.kind]} ${namesOf(by).name}: it goes only with CASCADE.`
      )
    gone.set(key, next)
    for (const { to, own } of takenAlong(next, catalog, users, reading)) visit(to, own, next)
  }
  visit(address, true, address)
  // What stands in something goes before it.
  for (const next of [...gone.values()].reverse()) takeAway(next, gone, reading)
}

const isWithin = ({ path }: Address, gone: ReadonlyMap<string, Address>): boolean =>
  path.length > 2 &&
  (['table', 'view'] as const).some((kind) => gone.has(addressKey(addressOf(kind, path[0] ?? '', path[1] ?? ''))))

/** `own`: it goes without a word. */
function takenAlong(
  address: Address,
  catalog: Catalog,
  users: (address: Address) => readonly Address[],
  reading: Reading
): { readonly to: Address; readonly own: boolean }[] {
  const { kind, schema, table, name } = namesOf(address)
  const all = (list: readonly Address[], own: boolean) => list.map((to) => ({ to, own }))
  const sequences = (of: (sequence: NonNullable<NonNullable<Catalog['sequences']>[number]['ownedBy']>) => boolean) =>
    (catalog.sequences ?? []).flatMap((sequence) =>
      sequence.ownedBy && of(sequence.ownedBy) ? [freeAddress('sequence', sequence)] : []
    )
  if (kind === 'table') {
    const found = reading.standing.table(schema, name)
    const columns = (found?.columns ?? []).map((column) => addressOf('column', schema, name, column.name))
    const keys = foreignKeysTo(catalog, schema, name).map(({ child, fk }) => memberAddress(child, 'foreignKey', fk))
    const parts = catalog.tables.filter(
      ({ partition }) => partition?.of.schema === schema && partition.of.name === name
    )
    const stand = [address, ...columns].flatMap((place) => [...users(place)])
    const isOwn = ({ path }: Address) => path.length > 2 && path[0] === schema && path[1] === name
    const part = new Set(parts.map((one) => addressKey(tableAddress(one))))
    return [
      ...all(parts.map(tableAddress), true),
      ...all(
        sequences((by) => by.schema === schema && by.table === name),
        true
      ),
      ...all(
        [...keys, ...stand].filter((to) => !isOwn(to) && !part.has(addressKey(to)) && to.kind !== 'sequence'),
        false
      )
    ]
  }
  if (kind === 'column') {
    const home = reading.standing.table(schema, table)
    if (!home) return []
    const used = usersOfColumn(catalog, home, name, reading.write.lexis).map((inner) => ({
      to: memberAddress(inner.table, inner.kind, inner.member),
      own: inner.table === home && inner.kind !== 'column'
    }))
    return [
      ...used,
      ...all(
        sequences((by) => by.schema === schema && by.table === table && by.column === name),
        true
      ),
      ...all(
        users(address).filter((to) => to.kind !== 'sequence' && addressKey(to) !== addressKey(address)),
        false
      )
    ]
  }
  if (kind === 'primaryKey' || kind === 'unique') {
    const home = reading.standing.table(schema, table)
    const key = home && [home.primaryKey, ...home.uniques].find((other) => other?.name === name)
    if (!key) return []
    const keys = foreignKeysTo(catalog, schema, table).filter(({ fk }) =>
      sameColumns(fk.references.columns, key.columns)
    )
    return all(
      keys.map(({ child, fk }) => memberAddress(child, 'foreignKey', fk)),
      false
    )
  }
  return all(users(address), false)
}

const sameColumns = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((column) => b.includes(column))

function takeAway(address: Address, gone: ReadonlyMap<string, Address>, reading: Reading): void {
  if (isWithin(address, gone)) return
  if (address.kind !== 'column') return reading.drop(address)
  // A column outlives what its default calls.
  const column = reading.standing.member(address, 'column')
  if (!column) return
  const isGone = (ref: Address) => gone.has(addressKey(ref)) && (ref.kind === 'sequence' || ref.kind === 'routine')
  const called = (column.refs ?? []).filter(({ to }) => isGone(to))
  const asked = [...gone.values()][0]
  if (called.length === 0 || (asked && addressKey(asked) === addressKey(address))) return reading.drop(address)
  reading.set(address, column.generated === undefined ? 'default' : 'generated', undefined)
  const rest = (column.refs ?? []).filter(({ to }) => !isGone(to))
  reading.set(address, 'refs', rest.length ? rest : undefined)
}

export function dropColumn(table: Table, column: Column, cascade: boolean, reading: Reading): void {
  remove(memberAddress(table, 'column', column), cascade, reading)
}

const FREE: Readonly<Record<string, FreeKind>> = {
  table: 'table',
  view: 'view',
  sequence: 'sequence',
  type: 'type',
  domain: 'type',
  schema: 'schema',
  extension: 'extension'
}

const WORDS = [
  ...Object.keys(FREE),
  'index',
  'function',
  'procedure',
  'aggregate',
  'routine',
  'trigger',
  'rule',
  'policy'
]

/** After DROP; false where it is nothing that a catalogue holds. */
export function drop(cursor: Cursor, reading: Reading): boolean {
  const materialized = cursor.take('materialized')
  const word = cursor.takeOne(...WORDS)
  if (word === undefined) return false
  if (/^(function|procedure|aggregate|routine)$/.test(word)) return dropRoutines(cursor, word, reading)
  if (/^(trigger|rule|policy)$/.test(word)) return dropOn(cursor, word as 'trigger' | 'rule' | 'policy', reading)
  const kind = FREE[word]
  if (word === 'index') cursor.take('concurrently')
  const gently = cursor.take('if', 'exists')
  const { paths, cascade } = takeList(cursor)
  for (const path of paths) {
    const found = word === 'index' ? indexAt(path, reading) : kind && placeOf(kind, path, reading)
    if (found) remove(found, cascade, reading)
    else if (!gently)
      throw new NotUnderstood(`There is no ${materialized ? 'materialized ' : ''}${word} ${path.join('.')} to remove.`)
  }
  return true
}

function takeList(cursor: Cursor): { readonly paths: string[][]; readonly cascade: boolean } {
  const paths = [cursor.path()]
  while (cursor.take(',')) paths.push(cursor.path())
  const cascade = cursor.takeOne('cascade', 'restrict') === 'cascade'
  cursor.finish()
  return { paths, cascade }
}

function placeOf(kind: FreeKind, path: readonly string[], reading: Reading): Address | undefined {
  if (kind === 'schema' || kind === 'extension') {
    const name = path.at(-1) ?? ''
    return reading.standing.free(kind, '', name) ? addressOf(kind, name) : undefined
  }
  const found = reading.lookFor(kind, path)
  return found && freeAddress(kind, found as never)
}

function indexAt(path: readonly string[], reading: Reading): Address | undefined {
  const found = reading.indexed(path)
  if (!found) return undefined
  if (found.kind !== 'index')
    throw new NotUnderstood(`${path.at(-1) ?? ''} is a constraint’s index: it goes with that.`)
  return addressOf('index', found.schema, found.name, path.at(-1) ?? '')
}

function dropRoutines(cursor: Cursor, word: string, reading: Reading): true {
  const gently = cursor.take('if', 'exists')
  const found: Address[] = []
  do {
    const [address, name] = routineNamed(cursor, reading)
    if (address) found.push(address)
    else if (!gently) throw new NotUnderstood(`There is no ${word} ${name} to remove.`)
  } while (cursor.take(','))
  const cascade = cursor.takeOne('cascade', 'restrict') === 'cascade'
  cursor.finish()
  for (const address of found) remove(address, cascade, reading)
  return true
}

function dropOn(cursor: Cursor, kind: 'trigger' | 'rule' | 'policy', reading: Reading): true {
  const gently = cursor.take('if', 'exists')
  const name = cursor.name()
  cursor.expect('on')
  const path = cursor.path()
  const home = reading.relation(path)
  cursor.takeOne('cascade', 'restrict')
  cursor.finish()
  const address = home && addressOf(kind, home.schema, home.name, name)
  if (address && reading.standing.find(address)) reading.drop(address)
  else if (!gently) throw new NotUnderstood(`There is no ${kind} ${name} on ${path.join('.')} to remove.`)
  return true
}
