// A desktop office database as a catalogue: its types in neutral words, its relationships as foreign keys. The file says of no
// column that it is a key, or must be there: what counts by itself is a key, and what relationships lead to.
import type { Catalog, ForeignKey, Table, UnreadObject } from '../catalog'
import type { Dialect } from '../dialects'
import type { NeutralType } from '../types'
import { catalogOfRows } from './rows'

export interface OfficeColumn {
  readonly name: string
  /** As `mdb-reader` calls them. */
  readonly type: string
  /** In bytes. */
  readonly size: number
  readonly precision?: number
  readonly scale?: number
  readonly autoLong: boolean
}

/** A row of the file's own table MSysRelationships: one column of a relationship (its columns from memory). */
export interface OfficeRelation {
  readonly szRelationship: string
  /** The table and column that refer, and those that are referred to. */
  readonly szObject: string
  readonly szColumn: string
  readonly szReferencedObject: string
  readonly szReferencedColumn: string
  /** Where in the relationship the column stands, from 0. */
  readonly icolumn: number
  readonly grbit: number
}

export interface OfficeFile {
  readonly bytesPerCharacter: number
  readonly tables: readonly {
    readonly name: string
    readonly columns: readonly OfficeColumn[]
    /** Texts of the columns that are not `complex`. */
    readonly rows: readonly (readonly string[])[]
  }[]
  readonly relations: readonly OfficeRelation[]
  /** What is there and is not read. */
  readonly left: readonly UnreadObject[]
}

/** Attributes of a relationship: DAO reference, "RelationAttributeEnum enumeration". */
const DONT_ENFORCE = 2
const UPDATE_CASCADE = 256
const DELETE_CASCADE = 4096

export function catalogOfOffice({ tables, relations, left, bytesPerCharacter }: OfficeFile, dialect: Dialect): Catalog {
  const plain = tables.map(({ name, columns, rows }) => {
    const kept = columns.filter(({ type }) => type !== 'complex')
    return {
      name,
      rows: [kept.map((column) => column.name), ...rows],
      types: kept.map((column) => typeOf(column, bytesPerCharacter))
    }
  })
  const links = linksIn(relations)
  const catalog = catalogOfRows(plain, dialect)
  return {
    ...catalog,
    tables: catalog.tables.map((table, i): Table => {
      const auto = tables[i]?.columns.find(({ autoLong }) => autoLong)?.name
      // A truth value is one of two.
      const never = new Set(
        tables[i]?.columns.flatMap(({ name, type }) => (type === 'boolean' || name === auto ? [name] : []))
      )
      const { first, others } = keysOf(table, auto, links)
      const { primaryKey: _, ...rest } = table
      return {
        ...rest,
        columns: table.columns.map((column) => {
          const there = first?.includes(column.name) || never.has(column.name)
          const told = { ...column, nullable: !there }
          return column.name === auto ? { ...told, identity: 'by default' } : told
        }),
        ...(first ? { primaryKey: { name: `pk_${table.name}`, columns: first } } : {}),
        uniques: others.map((columns) => ({ name: `uq_${table.name}_${columns.join('_')}`, columns })),
        foreignKeys: links.filter(({ from }) => from === table.name).map((link) => foreignKeyOf(link, table.schema))
      }
    }),
    unread: [
      ...left,
      ...tables.flatMap(({ name, columns }) =>
        columns.flatMap((column) =>
          column.type === 'complex' ? [{ kind: 'list or attachment', name: `${name}.${column.name}` }] : []
        )
      )
    ]
  }
}

/** What relationships lead to is a key, by the engine's rule; what counts by itself is the first, where it is there. */
function keysOf(table: Table, auto: string | undefined, links: readonly Relationship[]) {
  const told = links.flatMap(({ to, columns }) => (to === table.name ? [columns.map((column) => column.to)] : []))
  const all = [...new Map(told.map((key) => [JSON.stringify([...key].sort()), key])).values()]
  const isAuto = (key: readonly string[]) => key.length === 1 && key[0] === auto
  const first = auto === undefined ? (all[0] ?? table.primaryKey?.columns) : [auto]
  return { first, others: all.filter((key) => key !== first && !isAuto(key)) }
}

const foreignKeyOf = ({ name, to, columns, grbit }: Relationship, schema: string): ForeignKey => ({
  name,
  columns: columns.map((column) => column.from),
  references: { schema, table: to, columns: columns.map((column) => column.to) },
  onDelete: grbit & DELETE_CASCADE ? 'cascade' : 'no action',
  onUpdate: grbit & UPDATE_CASCADE ? 'cascade' : 'no action',
  deferrable: 'no'
})

interface Relationship {
  readonly name: string
  readonly from: string
  readonly to: string
  readonly grbit: number
  readonly columns: readonly { readonly from: string; readonly to: string }[]
}

/** Those that the engine enforces: the others only say how tables are usually joined. */
function linksIn(rows: readonly OfficeRelation[]): Relationship[] {
  const byName = new Map<string, OfficeRelation[]>()
  for (const row of rows)
    if (!(row.grbit & DONT_ENFORCE)) byName.set(row.szRelationship, [...(byName.get(row.szRelationship) ?? []), row])
  return [...byName].flatMap(([name, list]) => {
    const [first, ...rest] = [...list].sort((a, b) => a.icolumn - b.icolumn)
    return first
      ? [
          {
            name,
            from: first.szObject,
            to: first.szReferencedObject,
            grbit: first.grbit,
            columns: [first, ...rest].map((row) => ({ from: row.szColumn, to: row.szReferencedColumn }))
          }
        ]
      : []
  })
}

/** Types by the names that `mdb-reader` has for them; sizes as in DAO reference, "DataTypeEnum enumeration". */
function typeOf({ type, size, precision, scale }: OfficeColumn, bytesPerCharacter: number): NeutralType {
  switch (type) {
    case 'boolean':
      return { kind: 'boolean' }
    // A byte has no sign.
    case 'byte':
    case 'integer':
      return { kind: 'small' }
    case 'long':
      return { kind: 'integer' }
    case 'bigint':
      return { kind: 'big' }
    case 'currency':
      return { kind: 'decimal', precision: 19, scale: 4 }
    case 'numeric':
      return { kind: 'decimal', precision: precision || 18, scale: scale ?? 0 }
    case 'float':
    case 'double':
      return { kind: type }
    case 'datetime':
    case 'datetimextended':
      return { kind: 'timestamp' }
    case 'repid':
      return { kind: 'uuid' }
    case 'binary':
      return size > 0 ? { kind: 'binary', length: size } : { kind: 'binary' }
    case 'ole':
      return { kind: 'binary' }
    case 'text':
      return { kind: 'text', length: Math.max(1, Math.floor(size / bytesPerCharacter)) }
    default:
      return { kind: 'text' }
  }
}
