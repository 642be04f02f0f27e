// Tables of rows as text: what their columns hold, told by the values themselves.
import type { Catalog, Column, Table } from '../catalog'
import type { Dialect } from '../dialects'
import type { NeutralType } from '../types'

/** A table of text: the first row has the columns' names. */
export interface TextTable {
  readonly name: string
  readonly rows: readonly (readonly string[])[]
  /** Where they are known: what the columns hold, as the first row has them. */
  readonly types?: readonly NeutralType[]
}

interface Sort {
  readonly test: RegExp
  readonly type: (values: readonly string[]) => NeutralType | undefined
}

const INTEGER = 2_147_483_647
/** The first that all values of a column are. */
const SORTS: readonly Sort[] = [
  { test: /^(true|false)$/i, type: () => ({ kind: 'boolean' }) },
  {
    // NO by itself may be Norway.
    test: /^(yes|no)$/i,
    type: (values) => (new Set(values.map((value) => value.toLowerCase())).size > 1 ? { kind: 'boolean' } : undefined)
  },
  {
    // What begins with a nought is no number, but a code.
    test: /^-?(0|[1-9]\d{0,17})$/,
    type: (values) => ({ kind: values.some((value) => Math.abs(Number(value)) > INTEGER) ? 'big' : 'integer' })
  },
  {
    test: /^-?(0|[1-9]\d*)(\.\d+)?$/,
    type: (values) => {
      const scale = Math.max(...values.map((value) => value.split('.')[1]?.length ?? 0))
      const whole = Math.max(...values.map((value) => value.replace('-', '').split('.')[0]?.length ?? 0))
      return scale + whole > 30 ? undefined : { kind: 'decimal', precision: whole + scale + 2, scale }
    }
  },
  { test: /^\d{4}-(0\d|1[0-2])-([0-2]\d|3[01])$/, type: () => ({ kind: 'date' }) },
  { test: /^([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d+)?)?$/, type: () => ({ kind: 'time' }) },
  {
    test: /^\d{4}-(0\d|1[0-2])-([0-2]\d|3[01])[T ]([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d+)?)?$/,
    type: () => ({ kind: 'timestamp' })
  },
  {
    test: /^\d{4}-(0\d|1[0-2])-([0-2]\d|3[01])[T ]([01]\d|2[0-3]):[0-5]\d(:[0-5]\d(\.\d+)?)?(Z|[+-]\d\d:?\d\d)$/,
    type: () => ({ kind: 'timestamp', zoned: true })
  },
  { test: /^[0-9a-f]{8}-([0-9a-f]{4}-){3}[0-9a-f]{12}$/i, type: () => ({ kind: 'uuid' }) }
]
/** Lengths that a text is given, the first with room to spare. */
const LENGTHS = [8, 20, 40, 80, 200, 500]

/** How long such a text may be; nothing where none is known, or it may be any. */
export function roomFor(values: readonly string[]): number | undefined {
  const longest = values.reduce((most, value) => Math.max(most, [...value].length), 0)
  return values.length === 0 ? undefined : LENGTHS.find((room) => room >= longest * 1.2)
}

/** What a column holds, by its values: those that are empty say only that it may be. */
function typeOf(values: readonly string[]): NeutralType {
  if (values.length > 0)
    for (const { test, type } of SORTS) {
      const found = values.every((value) => test.test(value)) ? type(values) : undefined
      if (found) return found
    }
  const length = roomFor(values)
  return { kind: 'text', ...(length === undefined ? {} : { length }) }
}

/**
 * Tables of text as a catalogue: a column is never empty where no row leaves it so; the first column whose values are all
 * there and all different is the key. Columns without a name are left out; rows of names alone make columns of text.
 */
export function catalogOfRows(tables: readonly TextTable[], dialect: Dialect): Catalog {
  return {
    engine: dialect.profile.id,
    defaultSchema: dialect.profile.defaultSchema,
    tables: tables.map((table) => tableOf(table, dialect)),
    unread: []
  }
}

function tableOf({ name, rows, types: said }: TextTable, { types, profile }: Dialect): Table {
  const [head = [], ...body] = rows
  const taken = new Set<string>()
  const columns: Column[] = []
  let key: string | undefined
  head.forEach((called, i) => {
    const column = called.trim()
    if (column === '' || taken.has(column)) return
    taken.add(column)
    const all = body.map((row) => (row[i] ?? '').trim())
    const values = all.filter((value) => value !== '')
    const full = body.length > 0 && values.length === body.length
    const { type } = types.fromNeutral(said?.[i] ?? typeOf(values))
    columns.push({ name: column, type, nullable: !full })
    if (key === undefined && full && body.length > 1 && new Set(values).size === values.length) key = column
  })
  return {
    schema: profile.defaultSchema,
    name,
    columns,
    ...(key === undefined ? {} : { primaryKey: { name: `pk_${name}`, columns: [key] } }),
    uniques: [],
    foreignKeys: [],
    checks: [],
    indexes: []
  }
}
