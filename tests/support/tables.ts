// Small catalogues by hand.
import { readType, type Catalog, type Column, type Table } from '../../src/lib/core/catalog'

type WithOrigin<T> = Partial<Omit<T, 'origin'>> & { readonly origin?: string }

const marked = (origin: string | undefined, part: string) =>
  origin === undefined ? {} : { origin: { id: origin, part } }

export function column(name: string, type = 'integer', more: WithOrigin<Column> = {}): Column {
  const { origin, ...rest } = more
  return { name, type: readType(type), nullable: true, ...rest, ...marked(origin, 'column') }
}

export function table(name: string, columns: readonly Column[], more: WithOrigin<Table> = {}): Table {
  const { origin, ...rest } = more
  return {
    schema: 'public',
    name,
    columns,
    uniques: [],
    foreignKeys: [],
    checks: [],
    indexes: [],
    ...rest,
    ...marked(origin, 'table')
  }
}

export const tables = (...list: Table[]): Catalog => ({
  engine: 'postgres',
  defaultSchema: 'public',
  unread: [],
  tables: list
})

/** The same as a design says it: nothing of what it does not mention. */
export const designed = (...list: Table[]): Catalog => ({ ...tables(...list), partial: true })
