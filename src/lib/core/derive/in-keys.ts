// What an engine takes into a key or an index only in part, told where a target does not say it otherwise.
import { findTable, type Catalog, type Index, type Table } from '../catalog'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'

/** Before a target's own ways: where it says otherwise, that is so. */
export const inKeys = (catalog: Catalog, { inKeys: fit }: Dialect): Catalog =>
  fit ? { ...catalog, tables: catalog.tables.map((table) => fit(table)) } : catalog

/** What is so in `made` because a key needs it, and not as it was `wanted`. */
export function limitedInKeys(wanted: Catalog, fitted: Catalog, made: Catalog, dialect: Dialect): Notice[] {
  if (wanted === fitted) return []
  return wanted.tables.flatMap((table) => {
    const fit = findTable(fitted, table.schema, table.name)
    const held = findTable(made, table.schema, table.name)
    return fit && held ? [...columns(table, fit, held, dialect), ...indexes(table, fit, held, dialect)] : []
  })
}

function columns(table: Table, fitted: Table, held: Table, { types, write, profile }: Dialect): Notice[] {
  return table.columns.flatMap((column, i): Notice[] => {
    const type = fitted.columns[i]?.type
    const now = held.columns.find(({ name }) => name === column.name)?.type
    if (!type || !now || type === column.type || !types.same(now, type)) return []
    return [
      {
        code: 'limited-in-key',
        severity: 'warning',
        message: `${table.name}.${column.name} is ${write.type(type)}: ${profile.label} takes nothing without a limit into a key.`,
        ...(column.origin ? { where: column.origin.id } : {})
      }
    ]
  })
}

const lengths = ({ parts }: Index) => parts.map(({ length }) => length).join()

function indexes(table: Table, fitted: Table, held: Table, { profile }: Dialect): Notice[] {
  const gone = table.indexes.filter(({ name }) => !fitted.indexes.some((index) => index.name === name))
  const left = gone.flatMap(({ name, origin }): Notice[] =>
    held.indexes.some((index) => index.name === name)
      ? []
      : [
          {
            code: 'not-kept',
            severity: 'warning',
            message: `${name} is left out: ${profile.label} takes nothing so long into an index.`,
            ...(origin ? { where: origin.id } : {})
          }
        ]
  )
  const cut = table.indexes.flatMap((index): Notice[] => {
    const fit = fitted.indexes.find(({ name }) => name === index.name)
    const now = held.indexes.find(({ name }) => name === index.name)
    if (!fit || !now || lengths(fit) === lengths(index) || lengths(now) !== lengths(fit)) return []
    const parts = fit.parts.flatMap(({ column, length }, at) =>
      length === index.parts[at]?.length ? [] : [`the first ${length ?? 0} of ${column ?? ''}`]
    )
    return [
      {
        code: 'cut-in-index',
        severity: 'info',
        message: `${index.name} is of ${parts.join(' and ')}: ${profile.label} takes no more into an index.`,
        ...(index.origin ? { where: index.origin.id } : {})
      }
    ]
  })
  return [...left, ...cut]
}
