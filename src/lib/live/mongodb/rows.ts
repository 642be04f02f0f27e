// What people type and what is answered, in the words of any live database.
import { EJSON, type Document } from 'bson'
import type { Catalog } from '../../core/catalog'
import { dialect } from '../../core/dialects'
import type { QueryResult } from '../database'
import { commandOf } from './spoken'

export interface Answer {
  readonly documents: readonly Document[]
  readonly affected: number
}

/** What a person typed, as the command that it is. */
export const asSent = (statement: string): string => EJSON.stringify(commandOf(statement))

/** A value that JSON has no word for, in the shell's words, so that it can be asked for. */
function inWords(value: unknown): unknown {
  const { $oid, $date, $numberDecimal } = (value ?? {}) as Readonly<Record<string, unknown>>
  if (typeof $oid === 'string') return `ObjectId("${$oid}")`
  if (typeof $date === 'string') return `ISODate("${$date}")`
  return typeof $numberDecimal === 'string' ? $numberDecimal : value
}

/** Documents as rows: a column for each name that one of them has, in the order in which they come. */
export function rowsOf({ documents, affected }: Answer, most = Infinity): QueryResult {
  const columns = [...new Set(documents.flatMap((document) => Object.keys(document)))]
  const shown = documents.slice(0, most).map((document) => EJSON.serialize(document, { relaxed: true }) as Document)
  return {
    columns,
    rows: shown.map((document) => columns.map((name) => inWords(document[name] ?? null))),
    affected,
    ...(documents.length > 0 ? { documents: true as const } : {}),
    ...(documents.length > most ? { more: true as const } : {})
  }
}

/** What a database holds, by the commands that tell it. */
export async function catalogBy(ask: (statement: string) => Promise<Answer>): Promise<Catalog> {
  const queries = dialect('mongodb')?.introspect
  if (!queries) throw new Error('MongoDB has catalogue commands')
  return queries.read(async (statement) => {
    const { columns, rows } = rowsOf(await ask(statement))
    return rows.map((row) =>
      Object.fromEntries(columns.flatMap((name, i) => (row[i] === null ? [] : [[name, row[i]]])))
    )
  })
}
