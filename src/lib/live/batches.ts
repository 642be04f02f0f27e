// Every row of an answer, batch by batch: what is more than can be shown goes to a file without being held as a whole.
import { ROWS_SHOWN, type LiveDatabase, type QueryResult } from './database'

/** Rows that come one by one for as long as they are asked for. */
export interface RowSource {
  readonly columns: () => readonly string[]
  readonly rows: AsyncIterator<readonly unknown[]>
  /** Gives up what was not read, and what it was read by. */
  readonly end: () => Promise<void>
}

/** The next rows of a source, as many as are shown at once; `more` unless it has come to its end. */
export async function nextRows(source: RowSource): Promise<QueryResult> {
  const rows: (readonly unknown[])[] = []
  while (rows.length < ROWS_SHOWN) {
    const { value, done } = await source.rows.next()
    if (done) return { columns: source.columns(), rows, affected: 0 }
    rows.push(value)
  }
  return { columns: source.columns(), rows, affected: 0, more: true }
}

/** `rows` and `endRows` of a database, by what begins to read the answer to a statement. One answer at a time. */
export function inBatches(
  begin: (sql: string) => Promise<RowSource>
): Required<Pick<LiveDatabase, 'rows' | 'endRows'>> {
  let source: RowSource | undefined
  const endRows = async () => {
    const last = source
    source = undefined
    await last?.end()
  }
  return {
    rows: async (sql) => {
      if (sql !== undefined) {
        await endRows()
        source = await begin(sql)
      }
      if (!source) throw new Error('No answer is being read.')
      try {
        const batch = await nextRows(source)
        if (!batch.more) await endRows()
        return batch
      } catch (error) {
        await endRows().catch(() => undefined)
        throw error
      }
    },
    endRows
  }
}
