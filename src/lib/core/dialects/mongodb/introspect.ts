// Asks a database of MongoDB what it holds ("listCollections", "listIndexes").
import type { Catalog, Index, IndexPart, Table, UnreadObject, View } from '../../catalog'
import { emptyCatalog } from '../../catalog'
import type { CatalogQueries } from '../dialect'
import { ALL_WITHIN, CREATED, INDEX_OPTIONS, VALIDATION, WILDCARD } from './commands'
import { dotted } from '../../catalog'
import { readSchema, type Json, type Schema } from './schema'
import { ROW_ID, ROW_ID_INDEX } from './settle'

type Row = Readonly<Record<string, unknown>>

export const mongodbQueries: CatalogQueries = {
  read: async (query): Promise<Catalog> => {
    const [server] = await query('{"buildInfo":1}')
    const found = [...(await query('{"listCollections":1}'))].sort((a, b) =>
      String(a['name']) < String(b['name']) ? -1 : 1
    )
    const tables: Table[] = []
    const views: View[] = []
    const unread: UnreadObject[] = []
    for (const row of found) {
      const name = String(row['name'])
      // "system.": kept by the server itself.
      if (name.startsWith('system.')) continue
      const options = asObject(row['options'])
      if (row['type'] === 'view') {
        const { viewOn, pipeline } = options
        views.push({ schema: 'main', name, query: JSON.stringify({ viewOn, pipeline }) })
        continue
      }
      const indexes = await query(JSON.stringify({ listIndexes: name }))
      tables.push(tableOf(name, options, indexes))
    }
    return {
      ...emptyCatalog('mongodb', 'main'),
      tables,
      ...(views.length > 0 ? { views } : {}),
      unread,
      ...(server ? { serverVersion: String(server['version']) } : {})
    }
  }
}

const asObject = (value: unknown): Schema =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Schema) : {}

const asText = (value: Json): string => (typeof value === 'string' ? value : JSON.stringify(value))

/** Options of commands in the words of a catalogue. */
const worded = (
  from: Row,
  names: readonly string[],
  usual: Readonly<Record<string, string>> = {}
): Record<string, string> =>
  Object.fromEntries(
    names.flatMap((name) => {
      const value = from[name] as Json | undefined
      return value === undefined || usual[name] === value ? [] : [[name, asText(value)]]
    })
  )

export function tableOf(name: string, options: Row, indexes: readonly Row[]): Table {
  const { $jsonSchema: schema, ...others } = asObject(options['validator'])
  const read = schema === undefined ? { columns: [] } : readSchema(asObject(schema))
  const own = {
    ...read.options,
    ...(Object.keys(others).length > 0 ? { validator: JSON.stringify(others) } : {}),
    ...worded(options, VALIDATION, { validationLevel: 'strict', validationAction: 'error' }),
    ...worded(options, CREATED)
  }
  const hasId = read.columns.some((column) => column.name === ROW_ID)
  const paths = new Map(read.columns.map((column) => [dotted(column.name), column.name]))
  return {
    schema: 'main',
    name,
    ...(read.comment === undefined ? {} : { comment: read.comment }),
    columns: read.columns,
    ...(hasId ? { primaryKey: { name: ROW_ID_INDEX, columns: [ROW_ID] } } : {}),
    uniques: [],
    foreignKeys: [],
    checks: [],
    indexes: indexes.filter((row) => row['name'] !== ROW_ID_INDEX).map((row) => indexOf(row, paths)),
    ...(Object.keys(own).length > 0 ? { options: own } : {})
  }
}

function indexOf(row: Row, paths: ReadonlyMap<string, string>): Index {
  const parts = Object.entries(asObject(row['key'])).map(([path, way]): IndexPart => {
    const all = path.endsWith(ALL_WITHIN) ? paths.get(path.slice(0, -ALL_WITHIN.length)) : undefined
    if (all !== undefined) return { column: all, descending: false, operators: WILDCARD }
    const known = paths.get(path)
    const said = known === undefined && !/^[\w.]+$/.test(path) ? { expression: path } : { column: known ?? path }
    return { ...said, descending: way === -1, ...(typeof way === 'string' ? { operators: way } : {}) }
  })
  const where = row['partialFilterExpression']
  const options = worded(row, INDEX_OPTIONS)
  return {
    name: String(row['name']),
    unique: row['unique'] === true,
    parts,
    ...(where === undefined ? {} : { where: JSON.stringify(where) }),
    ...(Object.keys(options).length > 0 ? { options } : {})
  }
}
