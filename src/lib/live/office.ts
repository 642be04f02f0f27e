// Desktop office databases (.mdb, .accdb), which can only be read: what a file says of its tables, and the rows in them.
import type { OfficeColumn, OfficeFile, OfficeRelation } from '../core/infer'

/** Whether a file is one: it names its engine behind its first four bytes ("HACKING" of mdbtools, "Database Definition Page"). */
export const isOffice = (start: Uint8Array): boolean =>
  /^Standard (Jet|ACE) DB\0/.test(String.fromCharCode(...start.slice(4, 20)))

/** More rows than these are not looked at: they tell what may be empty and what tells rows apart. */
const ROWS = 20_000
/** An object's type in the file's own table of objects: a query that was kept (the same). */
const QUERY = 5

/** Reads a file whole. Rejects with a sentence where it cannot be read. */
export async function readOffice(bytes: Uint8Array): Promise<OfficeFile> {
  const scope = globalThis as { Buffer?: typeof Buffer }
  scope.Buffer ??= (await import('buffer/')).Buffer as unknown as typeof Buffer
  const { default: Reader } = await import('mdb-reader')
  const reader = new Reader(scope.Buffer.from(bytes))
  const rowsOf = (table: string) =>
    reader.getTableNames({ normalTables: false, systemTables: true, linkedTables: false }).includes(table)
      ? reader.getTable(table).getData()
      : []
  const tables = reader.getTableNames().map((name) => {
    const table = reader.getTable(name)
    const columns = table.getColumns()
    // What is kept in other tables of the file, as lists and attachments are, is not read here.
    const plain = columns.filter(({ type }) => type !== 'complex').map((column) => column.name)
    const rows = table.getData({ columns: plain, rowLimit: ROWS })
    return {
      name,
      columns: columns as readonly OfficeColumn[],
      rows: rows.map((row) => plain.map((column) => valueText(row[column])))
    }
  })
  const linked = reader.getTableNames({ normalTables: false, systemTables: false, linkedTables: true })
  const queries = rowsOf('MSysObjects').flatMap(({ Type, Name }) =>
    Type === QUERY && typeof Name === 'string' && !Name.startsWith('~') ? [Name] : []
  )
  return {
    // Of the versions behind the engine's name, the first has one byte a character.
    bytesPerCharacter: bytes[0x14] === 0 ? 1 : 2,
    tables,
    relations: rowsOf('MSysRelationships') as unknown as readonly OfficeRelation[],
    left: [
      ...queries.map((name) => ({ kind: 'query', name })),
      ...linked.map((name) => ({ kind: 'linked table', name }))
    ]
  }
}

function valueText(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (value instanceof Date) return value.toISOString()
  return typeof value === 'object' ? '…' : String(value as string | number | boolean | bigint)
}
