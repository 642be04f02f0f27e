// The graph inside tables: which of its table's columns a member stands on, and what stands on a column.
import { namesIn, type Lexis } from '../sql'
import { foreignKeysTo } from './graph'
import { MEMBER_KINDS } from './kinds'
import type { Catalog, Check, Column, Index, MemberKind, MemberOf, Table } from './shapes'
import { tableKey } from './rename'
import { members } from './walk'

interface Used {
  readonly named: ReadonlySet<string>
  /** As texts name them: folded, and what are no columns among them. */
  readonly told: ReadonlySet<string>
}

const known = new WeakMap<Lexis, WeakMap<object, Used>>()

/** What a member says of columns; found once for each. */
function usedBy(member: object, lexis: Lexis): Used {
  const ofLexis = known.get(lexis) ?? new WeakMap<object, Used>()
  known.set(lexis, ofLexis)
  let used = ofLexis.get(member)
  if (!used) {
    const { columns, parts, expression, where, include, generated, definition } = member as Partial<Index> & {
      readonly columns?: readonly string[]
      readonly expression?: string
      readonly generated?: string
      readonly definition?: string
    }
    const texts = [expression, where, generated, definition, ...(parts ?? []).map((part) => part.expression)]
    used = {
      named: new Set([...(columns ?? []), ...(include ?? []), ...(parts ?? []).flatMap((part) => part.column ?? [])]),
      told: new Set(texts.flatMap((text) => (text === undefined ? [] : [...namesIn(text, lexis)])))
    }
    ofLexis.set(member, used)
  }
  return used
}

const CARRIED: ReadonlySet<MemberKind> = new Set<MemberKind>(['trigger', 'policy', 'rule'])

/**
 * Whether a key, check, exclusion, index, foreign key (its child's side) or computed column of a table stands on one of its
 * columns. What is carried says by its own references what it stands on.
 */
export function usesColumn<K extends MemberKind>(kind: K, member: MemberOf[K], column: string, lexis: Lexis): boolean {
  if (CARRIED.has(kind)) return false
  const { named, told } = usedBy(member, lexis)
  return named.has(column) || (told.size > 0 && told.has(lexis.fold(column, true)))
}

/** Whether a column is worked out from another of its table. */
export const worksFrom = (column: Pick<Column, 'generated'>, name: string, lexis: Lexis): boolean =>
  column.generated !== undefined && usedBy(column, lexis).told.has(lexis.fold(name, true))

/** A member and the table that it is in. */
export type Inner = {
  readonly [K in MemberKind]: { readonly table: Table; readonly kind: K; readonly member: MemberOf[K] }
}[MemberKind]

/** All that stands on a column: keys, rules and computed columns of its table, foreign keys of any that go to it, and checks that look into it. */
export function usersOfColumn(catalog: Pick<Catalog, 'tables'>, table: Table, column: string, lexis: Lexis): Inner[] {
  const own = MEMBER_KINDS.flatMap((kind) =>
    members(table, kind).flatMap((member) =>
      usesColumn(kind, member as never, column, lexis) ? [{ table, kind, member } as Inner] : []
    )
  )
  const others = foreignKeysTo(catalog, table.schema, table.name).flatMap(({ child, fk }): Inner[] =>
    fk.references.columns.includes(column) && !own.some((inner) => inner.member === fk)
      ? [{ table: child, kind: 'foreignKey', member: fk }]
      : []
  )
  const looking = (checksInto(catalog.tables).get(tableKey(table.schema, table.name)) ?? []).filter(
    (inner) => inner.table !== table
  )
  return [...own, ...others, ...looking]
}

/** A check may look into other tables: it is made once they are there, and goes before they change. */
export const looksBeyond = ({ refs = [] }: Pick<Check, 'refs'>): boolean => refs.some(({ to }) => to.kind === 'table')

const lookers = new WeakMap<Catalog['tables'], ReadonlyMap<string, readonly Inner[]>>()

/** Checks that look into other tables, by these. */
function checksInto(tables: Catalog['tables']): ReadonlyMap<string, readonly Inner[]> {
  const known = lookers.get(tables)
  if (known) return known
  const found = new Map<string, Inner[]>()
  for (const table of tables)
    for (const member of table.checks) {
      const into = new Set(
        (member.refs ?? []).flatMap(({ to }) =>
          to.kind === 'table' ? [tableKey(to.path[0] ?? '', to.path[1] ?? '')] : []
        )
      )
      for (const key of into) found.set(key, [...(found.get(key) ?? []), { table, kind: 'check', member }])
    }
  lookers.set(tables, found)
  return found
}
