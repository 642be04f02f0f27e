// What one target has otherwise than the design says: applied last, to what was derived.
import {
  findTable,
  foreignKeysTo,
  KIND_WORDS,
  madeFrom,
  addressKey,
  addressOf,
  optionIn,
  applied,
  apply,
  isFree,
  memberAddress,
  propertyFits,
  propertyOf,
  sameValue,
  usersOfColumn,
  withProperty,
  namesOf,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type ForeignKey,
  type MadeFrom,
  type Options
} from '../catalog'
import type { Target } from '../design'
import { sameName, type Dialect } from '../dialects'
import type { Notice } from '../notice'

/**
 * Values first and what is absent, in the design's names; then other names; then what is there beside the design. What
 * cannot be of the thing it is said of is left out, and told.
 */
export function depart(
  catalog: Catalog,
  target: Pick<Target, 'departures' | 'extras'>,
  dialect: Dialect,
  notices: Notice[] = []
): Catalog {
  const { departures = [], extras = [] } = target
  if (departures.length === 0 && extras.length === 0) return catalog
  const values: Change[] = []
  const absent: { address: Address; object: CatalogObject }[] = []
  const renames: Change[] = []
  const options = new Map<string, { readonly found: MadeFrom; value: Options | undefined }>()
  const made = madeFrom(catalog)
  for (const departure of departures) {
    const found = made(departure)
    if (!found) continue
    const { address, object } = found
    if ('absent' in departure) absent.push(found)
    else if (!propertyFits(address.kind, departure.property, departure.value))
      notices.push({
        code: 'departure-not-fitting',
        severity: 'error',
        where: departure.id,
        message: `What this target has otherwise is left out: a ${KIND_WORDS[address.kind]} (${namesOf(address).name}) has no such ${departure.property}.`
      })
    else if (departure.instead && !sameValue(propertyOf(object.value, departure.property), departure.instead.value))
      continue
    else if (departure.property === 'name') renames.push({ action: 'rename', address, to: String(departure.value) })
    else {
      const { property, value } = departure
      const option = optionIn(property)
      if (option === undefined && property !== 'options') values.push(altered(found, property, value))
      else {
        // All of them or one, each over what was said before it. One that is said to have no value has none in the database either.
        const key = addressKey(address)
        const before = options.get(key)?.value ?? (propertyOf(object.value, 'options') as Options | undefined) ?? {}
        options.set(key, {
          found,
          value: option === undefined ? (value as Options | undefined) : withProperty(before, option, value)
        })
      }
    }
  }
  for (const { found, value } of options.values())
    values.push(altered(found, 'options', value && shown(found, value, dialect)))
  // A key that says otherwise here may do without a column that is absent; what does not goes with it.
  const valued = applied(values, catalog, dialect.write)
  const drops = new Map<string, Change>()
  for (const { address, object } of absent) {
    for (const drop of standingOn(valued, address, dialect)) drops.set(addressKey(drop.address), drop)
    drops.set(addressKey(address), { action: 'drop', address, object })
  }
  // What is in a table that is absent goes with it, and is no drop of its own.
  const within = ({ address: { kind, path } }: Change) =>
    !isFree(kind) && drops.has(addressKey(addressOf('table', ...path.slice(0, 2))))
  const left = standing(
    applied(
      [...drops.values()].filter((drop) => !within(drop)),
      valued,
      dialect.write
    )
  )
  /** As far as each change fits; one that does not is left out, and told. */
  const fitting = (changes: readonly Change[], start: Catalog): Catalog => {
    const all = apply(changes, start, dialect.write)
    if (all.ok) return all.value
    if (changes.length > 1) return changes.reduce((result, change) => fitting([change], result), start)
    for (const { message } of all.notices)
      notices.push({
        code: 'departure-not-fitting',
        severity: 'error',
        message: message.replace(/\.$/, ': what this target has otherwise is left out.')
      })
    return start
  }
  return extras.reduce(
    (result, { path, ...object }) => {
      const { schema, table } = namesOf({ kind: object.kind, path })
      const { kind } = object
      if (isFree(kind)) return fitting([create(addressOf(kind, ...path), object)], result)
      const home = result.tables.find((t) => t.schema === schema && sameName('table', t.name, table, dialect))
      return home ? fitting([create(memberAddress(home, kind, object.value), object)], result) : result
    },
    fitting(renames, left)
  )
}

const altered = ({ address, object }: MadeFrom, property: string, to: unknown): Change => ({
  action: 'alter',
  address,
  property,
  from: propertyOf(object.value, property),
  to,
  certain: true
})

/** Options as the engine shows them: it does not show that something is as it would be anyway. */
const shown = ({ object }: MadeFrom, options: Options, { isUsual }: Dialect): Options =>
  object.kind === 'column' && isUsual
    ? Object.fromEntries(Object.entries(options).filter(([name, value]) => !isUsual(object.value, name, value)))
    : options

/** The catalogue without the foreign keys whose parent has no key any more that they could stand on. */
function standing(catalog: Catalog): Catalog {
  const keys = new Set(
    catalog.tables.flatMap((table) =>
      [
        ...(table.primaryKey ? [table.primaryKey.columns] : []),
        ...table.uniques.map((key) => key.columns),
        ...table.indexes.filter((index) => index.unique).map((index) => index.parts.map((part) => part.column ?? ''))
      ].map((columns) => keyOf(table.schema, table.name, columns))
    )
  )
  const stands = ({ references: { schema, table, columns } }: ForeignKey) => keys.has(keyOf(schema, table, columns))
  return {
    ...catalog,
    tables: catalog.tables.map((table) => ({ ...table, foreignKeys: table.foreignKeys.filter(stands) }))
  }
}

const keyOf = (schema: string, table: string, columns: readonly string[]) =>
  JSON.stringify([schema, table, ...[...columns].sort()])

/** What cannot be without a column, or a table, that is absent: it goes too. */
function standingOn(catalog: Catalog, address: Address, dialect: Dialect): Change[] {
  const { kind, schema, table, name } = namesOf(address)
  const home = findTable(catalog, schema, table)
  if (!home) return []
  const users =
    kind === 'column'
      ? usersOfColumn(catalog, home, name, dialect.write.lexis).filter((inner) => inner.kind !== 'column')
      : kind === 'table'
        ? foreignKeysTo(catalog, schema, table).map(({ child, fk }) => ({
            table: child,
            kind: 'foreignKey' as const,
            member: fk
          }))
        : []
  return users.map((inner): Change => ({
    action: 'drop',
    address: memberAddress(inner.table, inner.kind, inner.member),
    object: { kind: inner.kind, value: inner.member } as CatalogObject
  }))
}

const create = (address: Address, object: CatalogObject): Change => ({ action: 'create', address, object })
