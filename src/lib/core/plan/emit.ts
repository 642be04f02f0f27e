// One change to the statements that make it, on the catalogue as it stands then.
import {
  isCarried,
  isConstrained,
  namesOf,
  withProperty,
  type Change,
  type Column,
  type Constrained,
  type MemberKind,
  type MemberOf,
  type Standing,
  type Table
} from '../catalog'
import type { Carried, Dialect, StepDraft } from '../dialects'

/** Drafts for a single change; empty when the engine has no words for it (comments, say) or the object is not there. */
export function emit(change: Change, state: Standing, dialect: Dialect): StepDraft[] {
  const { kind, schema, table: tableName } = namesOf(change.address)
  if (isCarried(kind)) return emitCarried(change, state, dialect)
  if (change.action === 'alter' && (change.property === 'rights' || change.property === 'owner'))
    return emitCarried(change, state, dialect)
  if (kind === 'table') return emitTable(change, state, dialect)
  const table = state.table(schema, tableName)
  if (kind === 'index' && !table && change.action !== 'rename') return emitCarried(change, state, dialect)
  if (!table) return []
  if (kind === 'column') return emitColumn(change, table, state, dialect)
  return isConstrained(kind) ? emitConstraint(change, kind, table, state, dialect) : []
}

function emitCarried(change: Change, state: Standing, { carry }: Dialect): StepDraft[] {
  const { address } = change
  if (change.action === 'create') return carry.create({ address, ...change.object })
  if (change.action === 'rename') return []
  const value = state.find(address)
  if (!value) return []
  const object = { address, kind: address.kind, value } as Carried
  if (change.action === 'drop') return carry.drop(object)
  const drafts = carry.alter(object, change.property, change.to)
  if (drafts) return drafts
  const next = { ...object, value: withProperty(value, change.property, change.to) } as Carried
  return [...carry.drop(object), ...carry.create(next)]
}

function emitTable(change: Change, state: Standing, { alter }: Dialect): StepDraft[] {
  if (change.action === 'create') return change.object.kind === 'table' ? alter.createTable(change.object.value) : []
  const { schema, name } = namesOf(change.address)
  const table = state.table(schema, name)
  if (!table) return []
  if (change.action === 'drop') return alter.dropTable(table)
  if (change.action === 'rename') return alter.renameTable(table, change.to)
  return change.property === 'comment'
    ? alter.commentTable(table, change.to as string | undefined)
    : (alter.alterTable(table, change.property, change.to) ?? [])
}

function emitColumn(change: Change, table: Table, state: Standing, dialect: Dialect): StepDraft[] {
  const { alter } = dialect
  switch (change.action) {
    case 'create':
      return change.object.kind === 'column' ? alter.addColumn(table, change.object.value) : []
    case 'drop': {
      // As it stands by now: a step before may have changed it.
      const column = state.member(change.address, 'column')
      return column ? alter.dropColumn(table, column) : []
    }
    case 'rename':
      return alter.renameMember(table, 'column', namesOf(change.address).name, change.to)
    case 'alter': {
      const column = state.member(change.address, 'column')
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
  state: Standing,
  dialect: Dialect
): StepDraft[] {
  const { alter, profile } = dialect
  const member: MemberOf[K] | undefined = state.member(change.address, kind)
  switch (change.action) {
    case 'create':
      return alter.addMember(table, kind, change.object.value as MemberOf[K])
    case 'drop':
      return member ? alter.dropMember(table, kind, member) : []
    case 'rename':
      if (!member) return []
      if (kind === 'index' || profile.features.renameConstraint)
        return alter.renameMember(table, kind, namesOf(change.address).name, change.to)
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
    ? dialect.alter.commentMember(table, kind, namesOf(change.address).name, from, change.to as string | undefined)
    : []
