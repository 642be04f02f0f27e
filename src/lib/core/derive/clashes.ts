// Names that the engine would refuse, since something else has them.
import {
  KIND_WORDS,
  MEMBER_KINDS,
  members,
  tableKey,
  withMembers,
  type Catalog,
  type MemberKind,
  type Origin,
  type Table
} from '../catalog'
import { nameKey, type Dialect } from '../dialects'
import type { Notice } from '../notice'

/** Where a name must be the only one: in its schema or its table, and there among names of its own sort. */
export function nameScope(
  kind: 'table' | 'view' | MemberKind,
  { schema, table }: { readonly schema: string; readonly table: string },
  { profile: { features } }: Dialect
): string {
  if (kind === 'table' || kind === 'view') return features.indexesBesideTables ? schema : `tables ${schema}`
  if (kind === 'column') return `columns ${tableKey(schema, table)}`
  return features.namesInSchema.includes(kind) ? schema : tableKey(schema, table)
}

/** An error for each name that is given twice. Columns of one name are told where they come together. */
export function clashes(catalog: Catalog, dialect: Dialect): Notice[] {
  const taken = new Map<string, { readonly kind: 'table' | 'view' | MemberKind; readonly table: string }>()
  const notices: Notice[] = []
  const claim = (
    kind: Exclude<'table' | 'view' | MemberKind, 'column'>,
    home: { schema: string; table: string },
    object: Named
  ) => {
    const key = `${nameScope(kind, home, dialect)}\0${nameKey(kind, object.name, dialect)}`
    const other = taken.get(key)
    if (!other) {
      taken.set(key, { kind, table: home.table })
      return true
    }
    const first = other.kind === 'table' || other.kind === 'view' ? `a ${other.kind}` : `something of ${other.table}`
    const article = kind === 'index' ? 'an' : 'a'
    notices.push({
      code: 'name-twice',
      severity: 'error',
      ...(object.origin ? { where: object.origin.id } : {}),
      // Tables come first: only another table has a table's name by then.
      message:
        kind === 'table' || kind === 'view'
          ? other.kind === kind
            ? `Two ${kind}s would be called ${object.name}.`
            : `The name ${object.name} is given twice, to ${first} and to a view: give one of the two another name.`
          : `The name ${object.name} is given twice, to ${first} and to ${article} ${KIND_WORDS[kind]} of ${home.table}: give one of the two another name.`
    })
    return false
  }
  // Which of two tables of one name something belongs to, nobody knows.
  const tables = catalog.tables.filter((table) => claim('table', { schema: table.schema, table: table.name }, table))
  for (const view of catalog.views ?? []) claim('view', { schema: view.schema, table: view.name }, view)
  for (const table of tables)
    for (const kind of MEMBER_KINDS)
      if (kind !== 'column')
        for (const member of members(table, kind)) claim(kind, { schema: table.schema, table: table.name }, member)
  return notices
}

/** Every name of a table, a view or a member, as it must be the only one where it is. */
export function* namesIn(catalog: Pick<Catalog, 'tables' | 'views'>, dialect: Dialect): Iterable<string> {
  const key = (kind: 'table' | 'view' | MemberKind, schema: string, table: string, name: string) =>
    `${nameScope(kind, { schema, table }, dialect)}\0${nameKey(kind, name, dialect)}`
  for (const { schema, name } of catalog.views ?? []) yield key('view', schema, name, name)
  for (const table of catalog.tables) {
    yield key('table', table.schema, table.name, table.name)
    for (const kind of MEMBER_KINDS)
      if (kind !== 'column')
        for (const { name } of members(table, kind)) yield key(kind, table.schema, table.name, name)
  }
}

/** The catalogue with the first of what has one name in one place: which of the two anything else means, nobody knows. */
export function withoutDoubles(catalog: Catalog): Catalog {
  const firsts = <T>(list: readonly T[], key: (item: T) => string): readonly T[] => {
    const found = new Map<string, T>()
    for (const item of list) if (!found.has(key(item))) found.set(key(item), item)
    return found.size === list.length ? list : [...found.values()]
  }
  const place = ({ schema, name }: { readonly schema: string; readonly name: string }) => tableKey(schema, name)
  const within = (table: Table): Table =>
    MEMBER_KINDS.reduce((result, kind) => {
      const own = members(result, kind)
      const kept = firsts<Named>(own, ({ name }) => name)
      return kept === own ? result : withMembers(result, kind, kept as never)
    }, table)
  const tables = firsts(catalog.tables, place).map(within)
  const taken = new Set(tables.map(place))
  const views = firsts(catalog.views ?? [], place).filter((view) => !taken.has(place(view)))
  return { ...catalog, tables, ...(catalog.views ? { views } : {}) }
}

interface Named {
  readonly name: string
  readonly origin?: Origin
}
