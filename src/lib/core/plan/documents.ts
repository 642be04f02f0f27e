// Documents that get, or lose, a table of their own: from beside those that they are a part of into them, and out again.
import {
  EACH,
  holdingLink,
  isWithin,
  namesOf,
  tableAddress,
  tableKey,
  memberAddress,
  sameOrigin,
  type Address,
  type Catalog,
  type Change,
  type Column,
  type Origin,
  type Relation,
  type Table
} from '../catalog'
import type { Pairs, StepDraft } from '../dialects'
import type { Builder } from './builder'

export interface DocumentMove {
  readonly way: 'in' | 'out'
  readonly entity: string
  /** The table that the documents have by themselves: before they go in, or after they came out. */
  readonly own: Table
  /** What they are, or come to be, in, as it is called before, and the column that holds them there. */
  readonly home: Relation
  readonly holder: Column
  /** Which of its home each belongs to: columns of their own, and of the home before. */
  readonly pairs: Pairs
  /** What goes, and what comes for it: the table and the holder, or the other way round. */
  readonly source: Address
  readonly target: Address
  /** What is in a document, before it goes in or comes out, by its place in the document. */
  readonly fields: readonly Column[]
}

interface Kept {
  readonly table: Table
  /** What holds it; nothing where it has a table of its own. */
  readonly holder?: Column
  readonly link?: string
}

const prefixOf = ({ name, type }: Column): string => `${name}${type.of ? EACH : ''}.`

/** Where the documents of each entity are. */
function kept(catalog: Catalog): Map<string, Kept> {
  const found = new Map<string, Kept>()
  for (const table of catalog.tables) {
    if (table.origin?.part === 'table') found.set(table.origin.id, { table })
    for (const column of table.columns) {
      const link = column.origin && holdingLink(column.origin)
      if (column.origin && link !== undefined) found.set(column.origin.id, { table, holder: column, link })
    }
  }
  return found
}

const placeOf = ({ table, holder }: Kept): Address =>
  holder ? memberAddress(table, 'column', holder) : tableAddress(table)

/** What a document of an entity has, each by its place in it. */
function fieldsIn({ table, holder }: Kept): Column[] {
  if (!holder) return [...table.columns]
  const prefix = prefixOf(holder)
  return table.columns.flatMap((column) =>
    column.name.startsWith(prefix) ? [{ ...column, name: column.name.slice(prefix.length) }] : []
  )
}

/** The entity whose documents hold another's, and the holder as it is called in them. */
function around({ table, holder }: Kept): { readonly id: string; readonly holder: Column } | undefined {
  if (!holder) return undefined
  const outer = table.columns
    .filter((one) => one.origin && holdingLink(one.origin) !== undefined && isWithin(holder.name, one.name))
    .sort((a, b) => b.name.length - a.name.length)[0]
  const id = outer?.origin?.id ?? table.origin?.id
  if (id === undefined) return undefined
  return { id, holder: outer ? { ...holder, name: holder.name.slice(prefixOf(outer).length) } : holder }
}

/**
 * Which documents move from one state of a design's catalogue to another. What comes out is told before what goes in, what holds others
 * before those on its way out and after them on its way in. What stays in something that is itself within another, and moves there,
 * is not told: no statement leads there.
 */
export function movesBetween(before: Catalog, after: Catalog): DocumentMove[] {
  const [old, now] = [kept(before), kept(after)]
  const depth = ({ holder }: Kept) => holder?.name.split('.').length ?? 0
  const [out, into]: [(DocumentMove & { depth: number })[], (DocumentMove & { depth: number })[]] = [[], []]
  for (const [entity, was] of old) {
    const is = now.get(entity)
    if (!is || (was.holder === undefined) === (is.holder === undefined)) continue
    const held = around(was.holder ? was : is)
    const home = held && old.get(held.id)
    const join = ((was.holder ? is.table : was.table).joins ?? []).find(({ link }) => link === (was.link ?? is.link))
    // What stays within another is reached by no statement that puts something in.
    const isReached = home && (!home.holder || now.get(held?.id ?? '')?.holder === undefined)
    if (!held || !home || !join || !isReached) continue
    const [ownFields, homeFields] = [fieldsIn(was.holder ? is : was), fieldsIn(home)]
    const named = (fields: readonly Column[], from: Origin) =>
      fields.find(({ origin }) => sameOrigin(origin, from))?.name
    const pairs = join.pairs.flatMap(({ own, key }) => {
      const both = { own: named(ownFields, own), key: named(homeFields, key) }
      return both.own === undefined || both.key === undefined ? [] : [{ own: both.own, key: both.key }]
    })
    if (pairs.length < join.pairs.length || pairs.length === 0) continue
    const up = new Set(pairs.map(({ own }) => own))
    const move: DocumentMove = {
      way: was.holder ? 'out' : 'in',
      entity,
      own: was.holder ? is.table : was.table,
      home: home.holder ? (now.get(held.id)?.table ?? home.table) : home.table,
      holder: held.holder,
      pairs,
      source: placeOf(was),
      target: placeOf(is),
      fields: fieldsIn(was).filter(({ name }) => was.holder !== undefined || !up.has(name))
    }
    if (was.holder) out.push({ ...move, depth: depth(was) })
    else into.push({ ...move, depth: depth(is) })
  }
  return [...out.sort((a, b) => a.depth - b.depth), ...into.sort((a, b) => b.depth - a.depth)]
}

/**
 * Moves documents first of all, as they are: what else becomes of them follows where they are then. Gives those that moved, and the
 * new names of their fields.
 */
export function moveDocuments(
  moves: readonly DocumentMove[],
  to: Catalog,
  builder: Builder
): { readonly moved: readonly DocumentMove[]; readonly renames: readonly (Change & { action: 'rename' })[] } {
  const { documents } = builder.dialect.alter
  if (!documents) return { moved: [], renames: [] }
  const wanted = kept(to)
  const moved = moves.filter((move) => {
    const { state } = builder
    const is = wanted.get(move.entity)
    const home = state.table(move.home.schema, move.home.name)
    if (!is || !home || (is.holder === undefined) === (move.way === 'in')) return false
    const prefix = prefixOf(move.holder)
    if (move.way === 'in') {
      const own = state.table(move.own.schema, move.own.name)
      const taken = home.columns.some(({ name }) => name === move.holder.name)
      if (!own || taken) return false
      const up = new Set(move.pairs.map((pair) => pair.own))
      const origins = new Map(move.fields.map((field) => [field.name, field.origin]))
      const inside = own.columns
        .filter(({ name }) => !up.has(name))
        .map((column) => withOrigin({ ...column, name: prefix + column.name }, origins.get(column.name)))
      builder.add(documents.gather(own, home, [move.holder, ...inside], move.pairs))
      return true
    }
    const held = home.columns.some(({ name }) => name === move.holder.name)
    if (!held || state.table(move.own.schema, move.own.name)) return false
    const origins = new Map(move.fields.map((field) => [field.name, field.origin]))
    const inside = home.columns.flatMap((column) => {
      if (!column.name.startsWith(prefix)) return []
      const name = column.name.slice(prefix.length)
      return [withOrigin({ ...column, name }, origins.get(name))]
    })
    const up = move.own.columns.filter(({ name }) => move.pairs.some(({ own }) => own === name))
    const made: Table = {
      schema: move.own.schema,
      name: move.own.name,
      columns: [...up, ...inside],
      uniques: [],
      foreignKeys: [],
      checks: [],
      indexes: [],
      ...(move.own.origin ? { origin: move.own.origin } : {})
    }
    builder.add(documents.spread(made, home, move.holder, move.pairs))
    return true
  })
  // What was put into something that went into another is there by then.
  const passed = new Set(moved.flatMap(({ way, own }) => (way === 'in' ? [tableKey(own.schema, own.name)] : [])))
  const last = moved.filter(({ way, home }) => way === 'out' || !passed.has(tableKey(home.schema, home.name)))
  return { moved, renames: last.flatMap((move) => renamesOf(move, wanted.get(move.entity), builder)) }
}

const withOrigin = (column: Column, origin: Column['origin']): Column => (origin ? { ...column, origin } : column)

/** What is called otherwise where the documents are now than what they brought along. */
function renamesOf(move: DocumentMove, is: Kept | undefined, { state }: Builder): (Change & { action: 'rename' })[] {
  const [place, prefix] = move.way === 'in' ? [move.home, prefixOf(move.holder)] : [move.own, '']
  const table = state.table(place.schema, place.name)
  if (!table || !is) return []
  const wanted = new Map(fieldsIn(is).map((field) => [JSON.stringify(field.origin), field.name]))
  const outer = is.holder ? prefixOf(is.holder) : ''
  return table.columns.flatMap((column) => {
    if (!column.origin || !column.name.startsWith(prefix)) return []
    const name = wanted.get(JSON.stringify(column.origin))
    if (name === undefined || prefix + name === column.name || outer + name === column.name) return []
    return [{ action: 'rename' as const, address: memberAddress(table, 'column', column), to: outer + name }]
  })
}

/** What is said of the removal of what documents were moved out of: they are not lost. */
export function leftOver(
  moved: readonly DocumentMove[],
  { state, dialect }: Builder
): (change: Change, drafts: readonly StepDraft[]) => readonly StepDraft[] {
  const { documents } = dialect.alter
  const [own, homes] = [new Map<string, DocumentMove>(), new Map<string, DocumentMove[]>()]
  for (const move of moved)
    if (move.way === 'in') own.set(tableKey(move.own.schema, move.own.name), move)
    else {
      const key = tableKey(move.home.schema, move.home.name)
      homes.set(key, [...(homes.get(key) ?? []), move])
    }
  return (change, drafts) => {
    const { kind, schema, table, name } = namesOf(change.address)
    const gathered = kind === 'table' ? own.get(tableKey(schema, name)) : undefined
    if (gathered) {
      const [from, into] = [state.table(schema, name), state.table(gathered.home.schema, gathered.home.name)]
      const left = from && documents?.leftBehind(from, into ?? gathered.own, gathered.pairs)
      return drafts.map((draft) => ({ ...draft, ...left }))
    }
    const isHeld = ({ holder }: DocumentMove) => name === holder.name || isWithin(name, holder.name)
    if (kind === 'column' && homes.get(tableKey(schema, table))?.some(isHeld))
      return drafts.map((draft) => ({ ...draft, hazards: [] }))
    return drafts
  }
}
