// All rows of an answer to a file, fetched again batch by batch: what is shown is only their beginning.
import type { LiveDatabase } from '../../live'
import { csvLines, saveBlob } from '../../storage'

export class RowExport {
  running = $state(false)
  /** Rows written so far. */
  count = $state(0)
  error = $state('')
  saved = $state(false)
  private stopped = false

  /** Fetches and saves; says nothing when it was stopped. */
  async save(live: LiveDatabase, sql: string, name: string) {
    this.running = true
    this.stopped = false
    this.count = 0
    this.error = ''
    this.saved = false
    const parts: Blob[] = []
    try {
      let batch = await live.rows(sql)
      // Documents are one a line.
      const isDocuments = batch.columns.length === 1 && batch.columns[0] === 'document'
      if (!isDocuments) parts.push(lines([batch.columns]))
      for (;;) {
        parts.push(isDocuments ? new Blob(batch.rows.map(([one]) => `${String(one)}\n`)) : lines(batch.rows))
        this.count += batch.rows.length
        if (this.stopped || !batch.more) break
        batch = await live.rows()
      }
      if (this.stopped) await live.endRows()
      else if (isDocuments)
        saveBlob(name.replace(/\.csv$/, '.ndjson'), new Blob(parts, { type: 'application/x-ndjson' }))
      else saveBlob(name, new Blob(parts, { type: 'text/csv' }))
      this.saved = !this.stopped
    } catch (error) {
      this.error = error instanceof Error ? error.message : String(error)
    } finally {
      this.running = false
    }
  }

  stop() {
    this.stopped = true
  }
}

/** As a blob of its own, which a browser may keep on the disk. */
const lines = (rows: readonly (readonly unknown[])[]) => new Blob(csvLines(rows))
