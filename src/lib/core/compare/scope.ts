// Managed scope: what a target does not compare, each with a reason.
import { members, withMembers, MEMBER_KINDS, type Catalog, type Change, type MemberKind } from '../catalog'
import type { Ignored } from '../design'

/** A catalogue without the schemas, tables and members that are not compared. */
export function inScope(catalog: Catalog, ignored: readonly Ignored[]): Catalog {
  const whole = ignored.filter((item) => item.property === undefined)
  if (whole.length === 0) return catalog
  const isOut = (kind: string, schema: string, table?: string, name?: string) =>
    whole.some((i) => i.kind === kind && i.schema === schema && i.table === table && i.name === name)
  return {
    ...catalog,
    tables: catalog.tables
      .filter((t) => !isOut('schema', t.schema) && !isOut('table', t.schema, t.name, t.name))
      .map((table) =>
        MEMBER_KINDS.reduce((t, kind: MemberKind) => {
          const list: readonly { readonly name: string }[] = members(t, kind)
          const left = list.filter((member) => !isOut(kind, t.schema, t.name, member.name))
          return left.length === list.length ? t : withMembers(t, kind, left as never)
        }, table)
      )
  }
}

/** Whether one property's difference is kept for good. */
export const isKeptDifferent = (change: Change, ignored: readonly Ignored[]): boolean =>
  change.action === 'alter' &&
  ignored.some(
    (i) =>
      i.property === change.property &&
      i.kind === change.address.kind &&
      i.schema === change.address.schema &&
      i.table === change.address.table &&
      i.name === change.address.name
  )

/** What keeps a difference as it is for good. A rename cannot be kept: it is one object under two names. */
export function keepDifferent(change: Change, reason: string): Ignored | undefined {
  const { kind, schema, table, name } = change.address
  if (change.action === 'rename') return undefined
  return { kind, schema, table, name, reason, ...(change.action === 'alter' ? { property: change.property } : {}) }
}
