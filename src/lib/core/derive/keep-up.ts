// Columns of every entity that are filled anew whenever a row changes, in the engine's way: a trigger, or a word at the column.
import { addressKey, freeAddress, type Catalog, type Column, type Routine, type Table, type Trigger } from '../catalog'
import type { Common, Design } from '../design'
import type { DefaultValue, Dialect, KeptUp } from '../dialects'
import type { Notice } from '../notice'
import type { NeutralType } from '../types'

/** What fills a column that is kept, at first and from then on. */
export const keptValue = ({ kept }: Common): DefaultValue | undefined =>
  kept === undefined ? undefined : { kind: kept.endsWith('by') ? 'user' : 'now' }

export function keepUp(
  catalog: Catalog,
  design: Pick<Design, 'commons'>,
  dialect: Dialect,
  nameOf: (table: Table, column: Column, id: string) => string,
  notices: Notice[]
): Catalog {
  const kept = Object.values(design.commons).filter((common) => common.kept?.startsWith('changed'))
  if (kept.length === 0) return catalog
  const routines = new Map<string, Routine>()
  const missed = new Set<Common>()
  const tables = catalog.tables.map((table) =>
    kept.reduce<Table>((made, common) => {
      const part = `common ${common.id}`
      const column = made.columns.find(({ origin }) => origin?.part === part && origin.id === table.origin?.id)
      const value = column && written(common, dialect)
      if (!column) return made
      const how = value === undefined ? {} : dialect.keepUp?.(made, column, value, nameOf(made, column, common.id))
      if (!how || (!how.trigger && !how.column)) missed.add(common)
      else if (how.routine) {
        const address = addressKey(freeAddress('routine', how.routine))
        routines.set(address, { ...how.routine, origin: { id: common.id, part: `keep ${how.routine.schema}` } })
      }
      return how ? withIt(made, column, how, `keep ${common.id}`) : made
    }, table)
  )
  for (const { id, name } of missed)
    notices.push({
      code: 'not-kept-up',
      severity: 'warning',
      where: id,
      message: `${dialect.profile.label} does not keep ${name} up here: whoever changes a row must write it.`
    })
  return routines.size === 0 ? { ...catalog, tables } : { ...catalog, tables, routines: [...routines.values()] }
}

const written = (common: Common, { write }: Dialect): string | undefined => {
  const value = keptValue(common)
  return value && write.value(value, common.type as NeutralType)
}

function withIt(table: Table, column: Column, how: KeptUp, part: string): Table {
  const columns = how.column ? table.columns.map((one) => (one === column ? (how.column ?? one) : one)) : table.columns
  if (!how.trigger) return { ...table, columns }
  const trigger: Trigger = { ...how.trigger, ...(table.origin ? { origin: { id: table.origin.id, part } } : {}) }
  return { ...table, columns, triggers: [...(table.triggers ?? []), trigger] }
}
