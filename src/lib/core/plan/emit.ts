// One change to the statements that make it, on the catalogue as it stands then.
import {
  findMember,
  findTable,
  withProperty,
  type Catalog,
  type Change,
  type Column,
  type MemberKind,
  type MemberOf,
  type Table
} from '../catalog'
import type { Dialect, StepDraft } from '../dialects'

type Constrained = Exclude<MemberKind, 'column'>

/** Drafts for a single change; empty when the engine has no words for it (comments, say) or the object is not there. */
export function emit(change: Change, state: Catalog, dialect: Dialect): StepDraft[] {
  const { alter } = dialect
  const { kind, schema, table: tableName } = change.address
  if (kind === 'table' && change.action === 'create')
    return change.object.kind === 'table' ? alter.createTable(change.object.value) : []
  const table = findTable(state, schema, tableName)
  if (!table) return []
  if (kind === 'table') {
    if (change.action === 'drop') return alter.dropTable(table)
    if (change.action === 'rename') return alter.renameTable(table, change.to)
    return change.action === 'alter' ? alter.commentTable(table, change.to as string | undefined) : []
  }
  return kind === 'column'
    ? emitColumn(change, table, state, dialect)
    : emitConstraint(change, kind, table, state, dialect)
}

function emitColumn(change: Change, table: Table, state: Catalog, dialect: Dialect): StepDraft[] {
  const { alter } = dialect
  switch (change.action) {
    case 'create':
      return change.object.kind === 'column' ? alter.addColumn(table, change.object.value) : []
    case 'drop': {
      // As it stands by now: a step before may have changed it.
      const column = findMember(state, change.address, 'column')
      return column ? alter.dropColumn(table, column) : []
    }
    case 'rename':
      return alter.renameMember(table, 'column', change.address.name, change.to)
    case 'alter': {
      const column = findMember(state, change.address, 'column')
      if (!column) return []
      if (change.property === 'comment') return comment(change, 'column', table, column.comment, dialect)
      return alter.alterColumn(table, column, withProperty<Column>(column, change.property, change.to))
    }
  }
}

function emitConstraint<K extends Constrained>(
  change: Change,
  kind: K,
  table: Table,
  state: Catalog,
  dialect: Dialect
): StepDraft[] {
  const { alter, profile } = dialect
  const member: MemberOf[K] | undefined = findMember(state, change.address, kind)
  switch (change.action) {
    case 'create':
      return alter.addMember(table, kind, change.object.value as MemberOf[K])
    case 'drop':
      return member ? alter.dropMember(table, kind, member) : []
    case 'rename':
      if (!member) return []
      if (kind === 'index' || profile.features.renameConstraint)
        return alter.renameMember(table, kind, change.address.name, change.to)
      return remake(table, kind, member, withProperty(member, 'name', change.to), dialect)
    case 'alter':
      if (!member) return []
      if (change.property === 'comment') return comment(change, kind, table, member.comment, dialect)
      return remake(table, kind, member, withProperty(member, change.property, change.to), dialect)
  }
}

const remake = <K extends Constrained>(
  table: Table,
  kind: K,
  from: MemberOf[K],
  to: MemberOf[K],
  { alter }: Dialect
) => [...alter.dropMember(table, kind, from), ...alter.addMember(table, kind, to)]

const comment = (change: Change, kind: MemberKind, table: Table, from: string | undefined, dialect: Dialect) =>
  change.action === 'alter'
    ? dialect.alter.commentMember(table, kind, change.address.name, from, change.to as string | undefined)
    : []
