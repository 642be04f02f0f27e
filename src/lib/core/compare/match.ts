// Which live object is which wanted one, when their names may differ.
import {
  MEMBER_KINDS,
  findTable,
  memberAddress,
  members,
  namesOf,
  propertyOf,
  sameValue,
  tableAddress,
  tableKey,
  sameOrigin,
  type Address,
  type Catalog,
  type Change,
  type MemberKind,
  type Origin,
  type Table
} from '../catalog'
import { nameKey, type Dialect } from '../dialects'
import { compareProperty } from './property'
import { doomed, doomedColumns, tablesThatGo, type Gone } from './doomed'

type Rename = Change & { action: 'rename' }

/** A new name that a person has confirmed for a live table or column. */
export interface ConfirmedRename {
  readonly schema: string
  readonly table: string
  /** Absent when the table itself is renamed. */
  readonly column?: string
  readonly to: string
}

/** Two objects that may be one under a new name. Nothing is done about it until somebody confirms it. */
export interface LikelyRename extends ConfirmedRename {
  readonly because: string
}

export interface Matching {
  readonly renames: readonly Rename[]
  readonly likely: readonly LikelyRename[]
}

interface Side {
  readonly wanted: Catalog
  readonly live: Catalog
  readonly agreed?: Catalog | undefined
  readonly confirmed?: readonly ConfirmedRename[] | undefined
}

/**
 * Tells what only happens to have a name that something else is renamed to: it is not the wanted object of that name.
 * `table` is the live table that the object is, or is in; `before` and `after` are its name and its new one.
 */
export function displaced(renames: readonly Rename[]) {
  const taken = new Set(
    renames.map(({ address, to }) => {
      const { kind, schema, table } = namesOf(address)
      return JSON.stringify([kind, schema, kind === 'table' ? '' : table, to])
    })
  )
  return (kind: Address['kind'], table: Pick<Table, 'schema' | 'name'>, before: string, after: string): boolean =>
    before === after && taken.has(JSON.stringify([kind, table.schema, kind === 'table' ? '' : table.name, after]))
}

const originKey = (origin: Origin | undefined) => origin && `${origin.id} ${origin.part}`

/**
 * Pairs what is there with what is wanted: by what a person confirmed, by identity through the agreed state
 * (wanted ↔ agreed by origin, agreed ↔ live by name), then by name. Keys, checks and indexes that are the same
 * but for their names are paired too: their names hold no rows.
 */
export function match(side: Side, dialect: Dialect): Matching {
  const renames: Rename[] = []
  const likely: LikelyRename[] = []
  const tables = pairTables(side, dialect)
  for (const [live, wanted] of tables)
    if (live.name !== wanted.name) renames.push(rename(tableAddress(live), wanted.name, wanted.origin))

  const columnPairs = new Map(
    [...tables].map(([live, wanted]) => {
      const agreed = side.agreed && agreedTable(side.agreed, wanted)
      const told = side.confirmed?.filter((c) => c.schema === live.schema && c.table === live.name)
      const pairs: Map<Named, Named> = pairMembers(
        'column',
        live.columns,
        wanted.columns,
        agreed?.columns,
        dialect,
        told
      )
      const alone = new Set(live.columns.filter((column) => !pairs.has(column)).map((column) => column.name))
      const doomed = doomedColumns(live, wanted, alone, dialect.write.lexis)
      for (const column of live.columns) if (doomed.has(column.name)) pairs.delete(column)
      return [live, pairs] as const
    })
  )
  const gone: Gone = {
    tables: tablesThatGo(
      side.live.tables.filter((table) => !tables.has(table)),
      side.wanted,
      dialect
    ),
    columns: new Map(
      [...columnPairs].flatMap(([live, pairs]) => {
        const left = live.columns.filter((column) => !pairs.has(column)).map((column) => column.name)
        return left.length > 0 ? [[tableKey(live.schema, live.name), new Set(left)] as const] : []
      })
    )
  }
  const newTableName = new Map([...tables].map(([live, wanted]) => [`${live.schema}\0${live.name}`, wanted.name]))
  for (const [live, wanted] of tables) {
    const agreed = side.agreed && agreedTable(side.agreed, wanted)
    const was = (kind: MemberKind): readonly Named[] | undefined => agreed && members(agreed, kind)
    const columns = columnPairs.get(live) ?? new Map<Named, Named>()
    const columnName = new Map([...columns].map(([a, b]) => [a.name, b.name]))
    for (const kind of MEMBER_KINDS) {
      const old: readonly Named[] = members(live, kind)
      if (old.length === 0) continue
      const staying = old.filter((m) => !doomed(live, kind, m as never, gone, dialect.write.lexis))
      const pairs = kind === 'column' ? columns : pairMembers(kind, staying, members(wanted, kind), was(kind), dialect)
      if (kind !== 'column')
        pairAlike(
          kind,
          staying,
          members(wanted, kind),
          pairs,
          (member) => shape(member, kind, columnName, newTableName),
          dialect
        )
      for (const [a, b] of pairs)
        if (a.name !== b.name) renames.push(rename(memberAddress(live, kind, a as never), b.name, b.origin))
    }
    likely.push(...likelyColumns(live, wanted, columns, dialect))
  }
  likely.push(...likelyTables(side, tables))
  return { renames, likely }
}

const rename = (address: Address, to: string, origin: Origin | undefined): Rename => ({
  action: 'rename',
  address,
  to,
  ...(origin ? { origin } : {})
})

/** Tables of an agreed state by what they were made from; a table that moved to another schema counts as another. */
const byOrigin = new WeakMap<readonly Table[], ReadonlyMap<string, Table>>()
const placeOfOrigin = ({ schema, origin }: Table) => origin && JSON.stringify([schema, originKey(origin)])

function agreedTable({ tables }: Catalog, wanted: Table): Table | undefined {
  let known = byOrigin.get(tables)
  if (!known) {
    known = new Map(tables.flatMap((table) => (table.origin ? [[placeOfOrigin(table) ?? '', table] as const] : [])))
    byOrigin.set(tables, known)
  }
  const place = placeOfOrigin(wanted)
  return place === undefined ? undefined : known.get(place)
}

function pairTables({ wanted, live, agreed, confirmed }: Side, dialect: Dialect): Map<Table, Table> {
  const pairs = new Map<Table, Table>()
  const taken = new Set<Table>()
  const pair = (from: Table | undefined, to: Table) => {
    if (!from || pairs.has(from) || taken.has(to)) return
    pairs.set(from, to)
    taken.add(to)
  }
  for (const table of wanted.tables) {
    const told = confirmed?.find((c) => c.column === undefined && c.schema === table.schema && c.to === table.name)
    if (told) pair(findTable(live, told.schema, told.table), table)
  }
  if (agreed)
    for (const table of wanted.tables) {
      const was = agreedTable(agreed, table)
      if (was) pair(findTable(live, was.schema, was.name), table)
    }
  const key = ({ schema, name }: Table) => tableKey(schema, nameKey('table', name, dialect))
  const byName = new Map(live.tables.map((table) => [key(table), table]))
  for (const table of wanted.tables) pair(byName.get(key(table)), table)
  return pairs
}

interface Named {
  readonly name: string
  readonly origin?: Origin
}

function pairMembers(
  kind: MemberKind,
  from: readonly Named[],
  to: readonly Named[],
  agreed: readonly Named[] | undefined,
  dialect: Dialect,
  confirmed: readonly ConfirmedRename[] = []
): Map<Named, Named> {
  const pairs = new Map<Named, Named>()
  const taken = new Set<Named>()
  const byName = new Map(from.map((member) => [nameKey(kind, member.name, dialect), member]))
  const pair = (name: string | undefined, member: Named) => {
    const found = name === undefined ? undefined : byName.get(nameKey(kind, name, dialect))
    if (!found || pairs.has(found) || taken.has(member)) return
    pairs.set(found, member)
    taken.add(member)
  }
  if (confirmed.length > 0) for (const member of to) pair(confirmed.find((c) => c.to === member.name)?.column, member)
  if (agreed)
    for (const member of to)
      if (member.origin) pair(agreed.find((m) => sameOrigin(m.origin, member.origin))?.name, member)
  // Of a name that the engine gave on both sides, which is which is told by what they are.
  for (const member of to) if (!isGiven(member.name, dialect)) pair(member.name, member)
  return pairs
}

/** Whether a name is one that the engine gives by itself. */
export const isGiven = (name: string, { profile }: Dialect): boolean => profile.names.given?.test(name) ?? false

function pairAlike(
  kind: MemberKind,
  live: readonly Named[],
  wanted: readonly Named[],
  pairs: Map<Named, Named>,
  liveShape: (member: Named) => unknown,
  dialect: Dialect
) {
  if (pairs.size === live.length) return
  const taken = new Set(pairs.values())
  for (const member of live) {
    if (pairs.has(member)) continue
    const shapeOf = liveShape(member)
    // Checks are left to their names, where these say something.
    const isAlike = (other: Named): boolean =>
      kind === 'check'
        ? (isGiven(member.name, dialect) || isGiven(other.name, dialect)) && sameRule(member, other, dialect)
        : kind === 'primaryKey' || sameValue(shapeOf, plain(other))
    const alike = wanted.find((other) => !taken.has(other) && isAlike(other))
    if (!alike) continue
    pairs.set(member, alike)
    taken.add(alike)
  }
}

/** All of a member but its name and what describes it. */
const plain = (member: object) =>
  Object.fromEntries(Object.entries(member).filter(([key]) => !['name', 'origin', 'comment'].includes(key)))

const sameRule = (a: object, b: object, dialect: Dialect): boolean =>
  compareProperty('check', 'expression', propertyOf(a, 'expression'), propertyOf(b, 'expression'), dialect) !==
  'different'

/** A live member as it will be once tables and columns have their new names. */
function shape(
  member: object,
  kind: MemberKind,
  columns: ReadonlyMap<string, string>,
  tables: ReadonlyMap<string, string>
): unknown {
  const renamed = (name: unknown) => columns.get(String(name)) ?? name
  const list = propertyOf(member, 'columns')
  const parts = propertyOf(member, 'parts')
  const references = propertyOf(member, 'references') as { schema: string; table: string } | undefined
  return {
    ...plain(member),
    ...(Array.isArray(list) ? { columns: list.map(renamed) } : {}),
    ...(Array.isArray(parts)
      ? {
          parts: parts.map((p: { column?: string }) =>
            p.column === undefined ? p : { ...p, column: renamed(p.column) }
          )
        }
      : {}),
    ...(references
      ? {
          references: {
            ...references,
            table: tables.get(`${references.schema}\0${references.table}`) ?? references.table
          }
        }
      : {})
  }
}

function likelyColumns(live: Table, wanted: Table, pairs: ReadonlyMap<Named, Named>, dialect: Dialect): LikelyRename[] {
  const taken = new Set(pairs.values())
  const gone = live.columns.filter((column) => !pairs.has(column))
  const fresh = wanted.columns.filter((column) => !taken.has(column))
  return gone.flatMap((column) => {
    const same = fresh.filter((other) => dialect.types.same(other.type, column.type))
    const [only] = same
    return only && same.length === 1
      ? [
          {
            schema: live.schema,
            table: live.name,
            column: column.name,
            to: only.name,
            because: `both are ${dialect.write.type(column.type)}`
          }
        ]
      : []
  })
}

/** Column names that so many tables have tell none of them apart. */
const COMMON = 50

function likelyTables({ wanted, live }: Side, pairs: ReadonlyMap<Table, Table>): LikelyRename[] {
  const taken = new Set(pairs.values())
  const fresh = wanted.tables.filter((table) => !taken.has(table))
  if (fresh.length === 0) return []
  const byColumn = new Map<string, Table[]>()
  for (const table of fresh)
    for (const { name } of table.columns) {
      const list = byColumn.get(name)
      if (list) list.push(table)
      else byColumn.set(name, [table])
    }
  return live.tables
    .filter((table) => !pairs.has(table))
    .flatMap((table) => {
      const names = new Set(table.columns.map((column) => column.name))
      const telling = [...names].filter((name) => (byColumn.get(name)?.length ?? 0) <= COMMON)
      const near = new Set(
        (telling.length > 0 || fresh.length > COMMON ? telling : [...names]).flatMap((name) => byColumn.get(name) ?? [])
      )
      const ranked = [...near]
        .filter((other) => other.schema === table.schema)
        .map((other) => {
          const shared = other.columns.filter((column) => names.has(column.name)).length
          return { other, shared, share: shared / Math.max(names.size + other.columns.length - shared, 1) }
        })
        .sort((a, b) => b.share - a.share)
      const [best] = ranked
      if (!best || best.share < 0.5) return []
      return [
        { schema: table.schema, table: table.name, to: best.other.name, because: `they share ${best.shared} columns` }
      ]
    })
}
