// Entities whose documents are kept in their parents', where an engine has documents: their tables as columns of others.
import {
  EACH,
  HOLDS,
  tableKey,
  type Column,
  type DataType,
  type Index,
  type Key,
  type Origin,
  type Table
} from '../catalog'
import type { Design, Link } from '../design'
import type { Notice } from '../notice'
import type { NeutralType } from '../types'

/** Why a link's child cannot be kept in its parent, as far as the link itself says it; nothing where it can. */
export function whyNotEmbedded({ kind, parent, child, drawnOnly }: Link): string | undefined {
  if (drawnOnly) return 'A link that is only drawn says nothing of what is kept.'
  const inItself = parent === child && kind !== 'many-to-many'
  return inItself ? 'What leads to itself cannot be kept in itself.' : undefined
}

/** What an embedded link keeps in another, and in which: its child in its parent; of two that lead to many of each other, the pairs in its child. */
export const keptBy = ({ id, kind, parent, child }: Link): { readonly held: string; readonly home: string } =>
  kind === 'many-to-many' ? { held: id, home: child } : { held: child, home: parent }

/** The links by which something is kept in an entity, by what is: an entity by one link, and none that goes round. */
export function embeddings(design: Design, notices: Notice[]): Map<string, Link> {
  const found = new Map<string, Link>()
  const say = ({ id }: Link, message: string) =>
    notices.push({ code: 'not-embedded', severity: 'warning', where: id, message })
  for (const link of Object.values(design.links).sort((a, b) => (a.id < b.id ? -1 : 1))) {
    if (!link.embedded) continue
    const [child, parent] = [design.entities[link.child]?.name ?? '', design.entities[link.parent]?.name ?? '']
    const why = whyNotEmbedded(link)
    const { held } = keptBy(link)
    const other = found.get(held)
    if (why !== undefined) say(link, `${child} is not kept in ${parent}. ${why}`)
    else if (other)
      say(link, `${child} is kept in ${design.entities[other.parent]?.name ?? ''} already: to ${parent} it only leads.`)
    else if (goesRound(link, found)) say(link, `${child} is not kept in ${parent}, which is kept in ${child}.`)
    else found.set(held, link)
  }
  return found
}

function goesRound({ kind, child, parent }: Link, found: ReadonlyMap<string, Link>): boolean {
  if (kind === 'many-to-many') return false
  for (let at: string | undefined = parent; at !== undefined; at = found.get(at)?.parent) if (at === child) return true
  return false
}

interface Holding {
  /** What a parent calls what it holds. */
  readonly nameOf: (link: Link, child: Table) => string
  readonly typeOf: (type: NeutralType) => DataType
}

/**
 * Tables with those of embedded entities in them: `Crew` of a `Vessel` becomes the columns `crew` and `crew[].name`, without those that
 * led to the vessel.
 */
export function embedded(
  tables: readonly Table[],
  design: Design,
  { nameOf, typeOf }: Holding,
  notices: Notice[]
): Table[] {
  const links = embeddings(design, notices)
  const all = joined(tables)
  if (links.size === 0) return all
  const byOrigin = new Map(all.flatMap((table) => (isOwn(table) ? [[table.origin.id, table] as const] : [])))
  const inside = new Map<string, Link[]>()
  for (const link of links.values()) {
    const { held, home } = keptBy(link)
    // What shares a table with others is not taken out of it.
    if (byOrigin.has(held) && byOrigin.has(home)) inside.set(home, [...(inside.get(home) ?? []), link])
  }
  const gone = new Set([...inside.values()].flat().map((link) => keptBy(link).held))

  const whole = (table: Table): Table =>
    (inside.get(table.origin?.id ?? '') ?? []).reduce((into, link) => {
      const child = byOrigin.get(keptBy(link).held)
      return child ? put(whole(child), into, link, nameOf(link, child), typeOf, notices) : into
    }, table)
  return all.filter((table) => !(isOwn(table) && gone.has(table.origin.id))).map(whole)
}

/** Tables with which documents of others theirs name: an engine of documents has no foreign keys. */
function joined(tables: readonly Table[]): Table[] {
  const columns = new Map(
    tables.map(({ schema, name, columns }) => [
      tableKey(schema, name),
      new Map(columns.map((column) => [column.name, column.origin]))
    ])
  )
  return tables.map((table) => {
    const joins = table.foreignKeys.flatMap(
      ({ columns: names, references: { schema, table: to, columns: keys }, origin }) => {
        const pairs = names.flatMap((name, i) => {
          const own = columns.get(tableKey(table.schema, table.name))?.get(name)
          const key = columns.get(tableKey(schema, to))?.get(keys[i] ?? '')
          return own && key ? [{ own, key }] : []
        })
        return origin && leadsHome(origin) && pairs.length === names.length ? [{ link: origin.id, pairs }] : []
      }
    )
    return joins.length > 0 ? { ...table, joins } : table
  })
}

/** Of the two foreign keys of a pair, the one that leads to where pairs may be kept. */
const leadsHome = ({ part }: Origin): boolean => part !== 'fk parent'

const isOwn = (table: Table): table is Table & { readonly origin: { readonly id: string } } =>
  table.origin?.part === 'table'

function put(child: Table, into: Table, link: Link, name: string, typeOf: Holding['typeOf'], notices: Notice[]): Table {
  const many = link.kind !== 'one-to-one'
  const within = (path: string) => `${name}${many ? EACH : ''}.${path}`
  const { foreignKeys, primaryKey, uniques, indexes } = child
  const own = foreignKeys.find(({ origin }) => origin?.id === link.id && leadsHome(origin))
  const elsewhere = new Set(foreignKeys.filter((fk) => fk !== own).flatMap(({ columns }) => columns))
  // They say in which document it is.
  const upward = new Set((own?.columns ?? []).filter((column) => !elsewhere.has(column)))
  const holder: Column = {
    name,
    type: typeOf(many ? { kind: 'list', of: { kind: 'object' } } : { kind: 'object' }),
    nullable: many || !link.childRequired,
    ...(child.comment === undefined ? {} : { comment: child.comment }),
    origin: { id: keptBy(link).held, part: HOLDS + link.id }
  }
  const columns = child.columns
    .filter((column) => !upward.has(column.name))
    .map((column): Column => ({
      ...column,
      name: within(column.name),
      // A document that is part of another need not have an id of its own.
      nullable: column.nullable || column.origin?.part === 'identifier'
    }))
  const keys = [...(primaryKey ? [primaryKey] : []), ...uniques].flatMap((key) =>
    keyIn(key, upward, within, link, notices)
  )
  const rest = indexes.flatMap((index): Index[] => {
    const parts = index.parts.filter(({ column = '' }) => !upward.has(column))
    if (parts.length === 0 || (parts.length < index.parts.length && index.unique)) return []
    return [
      {
        ...index,
        parts: parts.map((part) => (part.column === undefined ? part : { ...part, column: within(part.column) }))
      }
    ]
  })
  return {
    ...into,
    columns: [...into.columns, holder, ...columns],
    checks: [...into.checks, ...child.checks],
    foreignKeys: [
      ...into.foreignKeys,
      ...foreignKeys.filter((fk) => fk !== own).map((fk) => ({ ...fk, columns: fk.columns.map(within) }))
    ],
    indexes: [...into.indexes, ...keys, ...rest]
  }
}

/** What tells the children of all apart still does; what tells those of one parent apart no index can keep within a list. */
function keyIn(
  { name, columns, origin }: Key,
  upward: ReadonlySet<string>,
  within: (path: string) => string,
  link: Link,
  notices: Notice[]
): Index[] {
  const parts = columns.filter((column) => !upward.has(column))
  if (parts.length === columns.length)
    return [
      {
        name,
        unique: true,
        parts: parts.map((column) => ({ column: within(column), descending: false })),
        ...(origin ? { origin } : {})
      }
    ]
  if (parts.length > 0)
    notices.push({
      code: 'key-within',
      severity: 'warning',
      where: origin?.id ?? link.id,
      message: `That ${parts.join(', ')} stands once in each list is kept by nobody: no index looks within a single document.`
    })
  return []
}
