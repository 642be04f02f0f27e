// What of a text does not outlast another character set: characters that there are none of, and what becomes too long for its type.
// "Character Set and Collation Overview"; "TEXT" and its kinds, whose limits are in bytes; of MySQL 12.9 "Unicode Support".
import { findTable, withProperty, type Catalog, type Column, type Options, type Table } from '../../catalog'
import { COLLATION } from './words'

/** A collation is called after its character set; nothing where it is that of the database. */
export const charsetOf = (collation: string | undefined): string | undefined =>
  collation === undefined || collation === 'DEFAULT' ? undefined : collation.split('_')[0]

/** The character sets that have all of Unicode. */
const WHOLE = /^(utf8mb4|utf16|utf16le|utf32)$/
/** What is compared by its bytes stays so. */
export function inUnicode(collation: string, usual: string): string {
  if (WHOLE.test(charsetOf(collation) ?? '')) return collation
  return collation.endsWith('_bin') || collation === 'binary' ? 'utf8mb4_bin' : usual
}

/** In bytes; a longtext holds more than any statement may have. */
const MOST: Readonly<Record<string, number>> = { tinytext: 255, text: 65_535, mediumtext: 16_777_215 }

/** The condition of which rows a column's text does not stay as it is; nothing where it stays in all. `quoted` is its name. */
export function lostIn({ type, generated }: Column, quoted: string, charset: string): string | undefined {
  if (generated !== undefined) return undefined
  const most = MOST[type.name]
  const conditions = [
    // Another one there and back.
    ...(WHOLE.test(charset)
      ? []
      : [`hex(convert(convert(${quoted} USING ${charset}) USING utf8mb4)) <> hex(convert(${quoted} USING utf8mb4))`]),
    ...(most === undefined ? [] : [`length(convert(${quoted} USING ${charset})) > ${most}`])
  ]
  return conditions.length > 0 ? conditions.join(' OR ') : undefined
}

/**
 * A table that says the collation of its database shows none, nor does a column that says its table's: "SHOW CREATE TABLE". What shows
 * another one is to have what is wanted, by its name.
 */
export function withoutUsual(wanted: Catalog, live: Catalog): Catalog {
  const { collation: usual } = live
  if (usual === undefined) return wanted
  return {
    ...wanted,
    tables: wanted.tables.map((table): Table => {
      const there = findTable(live, table.schema, table.name)
      if (!there) return table
      const { [COLLATION]: own, ...options } = table.options ?? {}
      const said = own ?? usual
      const showsNone = new Set(there.columns.flatMap((c) => (c.collation === undefined ? [c.name] : [])))
      const isUsual = (c: Column) => c.collation === said && showsNone.has(c.name)
      const columns = table.columns.some(isUsual)
        ? table.columns.map((c) => (isUsual(c) ? withProperty<Column>(c, 'collation', undefined) : c))
        : table.columns
      if (own !== usual || there.options?.[COLLATION] !== undefined)
        return columns === table.columns ? table : { ...table, columns }
      const left: Options | undefined = Object.keys(options).length > 0 ? options : undefined
      return { ...withProperty<Table>(table, 'options', left), columns }
    })
  }
}
