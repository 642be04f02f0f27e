import { findTable, type Catalog, type ForeignKey, type ReferentialAction, type Table } from '../../catalog'
import type { Dialect, Quoting } from '../dialect'
import { quoted } from '../standard'
import { firebirdAlterer } from './alter'
import { firebirdCarrier } from './carry'
import { withCheckRefs } from './check-refs'
import { firebirdKeepUp } from './keep-up'
import { inKeys } from './in-keys'
import { firebirdQueries } from './introspect'
import { firebirdDatabase } from './new-database'
import { firebirdOptions } from './options'
import { firebirdProfile } from './profile'
import { readFirebirdScript } from './read'
import { firebirdTypes } from './types'
import { firebirdWriter } from './write'

export function firebird(version: string, quoting?: Quoting): Dialect {
  const profile = quoted(firebirdProfile(version), quoting)
  const write = firebirdWriter(profile)
  const alter = firebirdAlterer(write, version)
  const types = firebirdTypes(version)
  return {
    profile,
    types,
    write,
    alter,
    carry: firebirdCarrier(write, alter),
    options: firebirdOptions,
    readScript: (script) => readFirebirdScript(script, write.lexis, types),
    keepUp: firebirdKeepUp(write),
    introspect: firebirdQueries,
    newDatabase: firebirdDatabase(version),
    inKeys,
    settle: (catalog: Catalog) =>
      withCheckRefs({ ...catalog, tables: catalog.tables.map((table) => settle(table, catalog, version)) }, write.lexis)
  }
}

/**
 * A table as the engine holds it: constraints have no comments and are never put off; a set of columns is a key once, and
 * a foreign key names them in the key's order; an index has one direction and is over columns or one expression; rows are numbered by default until 4.0, where a
 * partial index waits for 5.0.
 */
function settle(table: Table, catalog: Catalog, version: string): Table {
  const plain = <T extends { readonly comment?: string }>({ comment: _, ...rest }: T) => rest
  const { primaryKey } = table
  const setOf = (columns: readonly string[]) => [...columns].sort().join('\0')
  const keys = new Set(primaryKey ? [setOf(primaryKey.columns)] : [])
  const uniques = table.uniques.filter((key) => {
    const set = setOf(key.columns)
    return !keys.has(set) && keys.add(set)
  })
  const action = (wanted: ReferentialAction) => (wanted === 'restrict' ? 'no action' : wanted)
  return {
    ...table,
    columns: table.columns.map((column) =>
      column.identity && version === '3.0' ? { ...column, identity: 'by default' } : column
    ),
    ...(primaryKey ? { primaryKey: plain(primaryKey) } : {}),
    uniques: uniques.map(plain),
    checks: table.checks.map(plain),
    foreignKeys: table.foreignKeys.map((fk) => ({
      ...inOrderOfKey(plain(fk), findTable(catalog, fk.references.schema, fk.references.table)),
      onDelete: action(fk.onDelete),
      onUpdate: action(fk.onUpdate),
      deferrable: 'no'
    })),
    indexes: table.indexes.map(({ include: _include, method: _method, where, ...index }) => {
      const [first] = index.parts
      const descending = first?.descending ?? false
      const computed = index.parts.find((part) => part.expression !== undefined)
      return {
        ...index,
        parts: computed?.expression
          ? [{ expression: computed.expression, descending }]
          : index.parts.map((part) => ({ column: part.column ?? '', descending })),
        ...(where !== undefined && version === '5.0' ? { where } : {})
      }
    })
  }
}

function inOrderOfKey(fk: ForeignKey, parent: Table | undefined): ForeignKey {
  const keys = [...(parent?.primaryKey ? [parent.primaryKey] : []), ...(parent?.uniques ?? [])]
  const { columns } = fk.references
  const key = keys.find((k) => k.columns.length === columns.length && k.columns.every((c) => columns.includes(c)))
  if (!key) return fk
  const own = key.columns.map((c) => fk.columns[columns.indexOf(c)] ?? '')
  return { ...fk, columns: own, references: { ...fk.references, columns: key.columns } }
}
