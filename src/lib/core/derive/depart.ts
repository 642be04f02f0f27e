// What one target has otherwise than the design says: applied last, to what was derived.
import {
  MEMBER_KINDS,
  apply,
  members,
  memberAddress,
  propertyOf,
  tableAddress,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type MemberKind,
  type Origin
} from '../catalog'
import type { Target } from '../design'
import { sameName, type Dialect } from '../dialects'

/** Values first and what is absent, in the design's names; then other names; then what is there beside the design. */
export function depart(catalog: Catalog, target: Pick<Target, 'departures' | 'extras'>, dialect: Dialect): Catalog {
  const { departures = [], extras = [] } = target
  if (departures.length === 0 && extras.length === 0) return catalog
  const values: Change[] = []
  const renames: Change[] = []
  for (const departure of departures) {
    const found = byOrigin(catalog, departure)
    if (!found) continue
    const { address, object } = found
    if ('absent' in departure) values.push({ action: 'drop', address, object })
    else if (departure.property === 'name') renames.push({ action: 'rename', address, to: String(departure.value) })
    else {
      const { property, value } = departure
      values.push({
        action: 'alter',
        address,
        property,
        from: propertyOf(object.value, property),
        to: value,
        certain: true
      })
    }
  }
  const departed = apply([...values, ...renames], catalog, dialect.write)
  return extras.reduce((result, { schema, table, kind, value }) => {
    const object = { kind, value } as CatalogObject
    if (object.kind === 'table') return apply([create(tableAddress(object.value), object)], result, dialect.write)
    const home = result.tables.find((t) => t.schema === schema && sameName('table', t.name, table, dialect))
    return home
      ? apply([create(memberAddress(home, object.kind, object.value), object)], result, dialect.write)
      : result
  }, departed)
}

const create = (address: Address, object: CatalogObject): Change => ({ action: 'create', address, object })

function byOrigin(catalog: Catalog, wanted: Origin): { address: Address; object: CatalogObject } | undefined {
  const is = (origin: Origin | undefined) => origin?.id === wanted.id && origin.part === wanted.part
  for (const table of catalog.tables) {
    if (is(table.origin)) return { address: tableAddress(table), object: { kind: 'table', value: table } }
    for (const kind of MEMBER_KINDS)
      for (const member of members(table, kind) as readonly { name: string; origin?: Origin }[])
        if (is(member.origin))
          return {
            address: memberAddress(table, kind, member),
            object: { kind: kind as MemberKind, value: member } as CatalogObject
          }
  }
  return undefined
}
