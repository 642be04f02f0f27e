// The agreed state: what the database holds, each object with the identity of the design object it came from.
import {
  MEMBER_KINDS,
  members,
  renameIn,
  renamesOf,
  tableKey,
  withMembers,
  type Catalog,
  type MemberKind,
  type MemberOf,
  type Table
} from '../catalog'
import type { Dialect } from '../dialects'
import type { CompareInput } from './compare'
import { match } from './match'

/** `live` with the origins of the wanted objects that its own are matched with; objects nobody designed have none. */
export function identified(input: CompareInput, dialect: Dialect): Catalog {
  const { renames } = match(input, dialect)
  const named = renameIn(input.live, renamesOf(renames), dialect.write.fold, dialect.write.quote)
  const wanted = new Map(input.wanted.tables.map((table) => [tableKey(table.schema, table.name), table]))
  return {
    ...input.live,
    tables: input.live.tables.map((table, i) => {
      const now = named.tables[i] ?? table
      const other = wanted.get(tableKey(now.schema, now.name))
      if (!other) return table
      const withMemberOrigins = MEMBER_KINDS.reduce((t, kind) => mark(t, now, other, kind), table)
      return other.origin ? { ...withMemberOrigins, origin: other.origin } : withMemberOrigins
    })
  }
}

function mark<K extends MemberKind>(table: Table, named: Table, wanted: Table, kind: K): Table {
  const names = members(named, kind)
  const marked = members(table, kind).map((member, i): MemberOf[K] => {
    const other = members(wanted, kind).find((m) => m.name === names[i]?.name)
    return other?.origin ? { ...member, origin: other.origin } : member
  })
  return withMembers(table, kind, marked)
}
