// Managed scope: what a target does not compare, each with a reason.
import {
  FREE_KINDS,
  MEMBER_KINDS,
  addressKey,
  freeAddress,
  memberAddress,
  members,
  namesOf,
  objectsOf,
  withMembers,
  withObjects,
  type Address,
  type Catalog,
  type Change,
  type Table,
  type View
} from '../catalog'
import type { Ignored } from '../design'

/** A catalogue without the schemas, objects and members that are not compared. */
export function inScope(catalog: Catalog, ignored: readonly Ignored[]): Catalog {
  const whole = ignored.filter((item) => item.property === undefined)
  if (whole.length === 0) return catalog
  const out = new Set(whole.map(addressKey))
  const schemas = new Set(whole.flatMap(({ kind, path }) => (kind === 'schema' ? path : [])))
  const isIn = (address: Address) => !out.has(addressKey(address)) && !schemas.has(namesOf(address).schema)
  const withinScope = <H extends Table | View>(home: H): H =>
    MEMBER_KINDS.reduce((result, kind) => {
      const list = members(result, kind)
      const left = list.filter((member) => !out.has(addressKey(memberAddress(home, kind, member))))
      return left.length === list.length ? result : withMembers(result, kind, left)
    }, home)
  return FREE_KINDS.reduce<Catalog>((result, kind) => {
    const list = objectsOf(result, kind).filter((object) => isIn(freeAddress(kind, object)))
    const own = kind === 'table' || kind === 'view' ? (list as readonly (Table | View)[]).map(withinScope) : list
    return withObjects(result, kind, own as never)
  }, catalog)
}

/** Whether one property's difference is kept for good. */
export const isKeptDifferent = (change: Change, ignored: readonly Ignored[]): boolean =>
  change.action === 'alter' &&
  ignored.some((item) => item.property === change.property && addressKey(item) === addressKey(change.address))

/** What keeps a difference as it is for good. A rename cannot be kept: it is one object under two names. */
export function keepDifferent(change: Change, reason: string): Ignored | undefined {
  if (change.action === 'rename') return undefined
  const { kind, path } = change.address
  return { kind, path: [...path], reason, ...(change.action === 'alter' ? { property: change.property } : {}) }
}
