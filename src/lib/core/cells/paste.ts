// Rows of a spreadsheet pasted into the sheet: each line a row, each field a cell, from the cell they are pasted on.
import { attributeIn, edit, rowIds, siblingsOf, type Design, type Edit, type Entity } from '../design'
import { holdsFields } from '../types'
import { COLUMNS, commit, isNewRow, newFieldRow, NEW_ROW, rowsOf, type Cell, type ColumnName } from './cells'
import { outsideKey, SPREAD, spread, type Reading } from './spread'

export interface Pasted {
  readonly edits: readonly Edit[]
  /** What was not taken, each in a sentence; nothing else is left out. */
  readonly refused: readonly string[]
  /** The row that was written last. */
  readonly row: string
}

/** The rows of a copied text; nothing for a text that is one plain value. */
export function fieldsOf(text: string): readonly (readonly string[])[] | undefined {
  const lines = text.replace(/\r\n?/g, '\n').replace(/\n+$/, '').split('\n')
  if (lines.length === 1 && !text.includes('\t')) return undefined
  // How far the first stands in says whose field it is.
  return lines.map((line) => line.split('\t').map((field, i) => (i === 0 ? field.trimEnd() : field.trim())))
}

const indentOf = (field: string): number => field.length - field.trimStart().length

/**
 * Writes fields over the cells from one on, along `columns`; lines beyond the last row become new rows. A name that stands further
 * in than the one above it becomes a field of that, where it holds fields.
 */
export function paste(
  design: Design,
  cell: Cell,
  lines: readonly (readonly string[])[],
  columns: readonly ColumnName[] = COLUMNS
): Pasted {
  const edits: Edit[] = []
  const refused: string[] = []
  let now = design
  let last = cell.row
  const entityNow = () => now.entities[cell.entity]
  const from = columns.indexOf(cell.column === 'key' ? 'name' : cell.column)
  const start = entityNow()
  if (!start) return { edits, refused, row: last }
  // The row pasted on, and the columns below it; links among them are passed over.
  const beside = siblingsOf(start, cell.row)
  const all = beside?.within ? beside.among.map(({ id }) => id) : rowIds(design, start)
  const below = isNewRow(cell.row) ? [] : all.slice(all.indexOf(cell.row) + 1)
  const ids = [cell.row, ...below.filter((id) => attributeIn(start, id))]
  const fresh = isNewRow(cell.row) ? cell.row : beside?.within ? newFieldRow(beside.within.id) : NEW_ROW
  const least = Math.min(...lines.map(([first = '']) => indentOf(first)))
  /** The rows that further ones may be fields of. */
  const above: { readonly indent: number; readonly row: string }[] = []
  let taken = 0
  lines.forEach((fields, i) => {
    const indent = columns[from] === 'name' ? indentOf(fields[0] ?? '') : least
    while ((above.at(-1)?.indent ?? -1) >= indent) above.pop()
    const holder = above.at(-1)
    const holding = holder && entityNow() && attributeIn(entityNow() as Entity, holder.row)
    const isField = holding !== undefined && holdsFields(holding.type)
    let row = isField ? newFieldRow(holding.id) : (ids[taken++] ?? fresh)
    fields.forEach((given, j) => {
      const text = given.trim()
      const column = columns[from + j]
      const entity = entityNow()
      const found = entity && rowsOf(now, entity).find(({ id }) => id === row)
      if (!entity || !found || text === '') return
      const done = column ? commit(now, entity, found, column, text) : { error: 'There is no column for it here.' }
      if ('error' in done) refused.push(`Line ${i + 1}, “${text}”: ${done.error}`)
      else if ('edit' in done) {
        edits.push(done.edit)
        now = edit(now, done.edit)
        row = done.row ?? row
      }
    })
    if (isNewRow(row)) return
    last = row
    above.push({ indent, row })
  })
  return { edits, refused, row: last }
}

/** The same for a table whose columns are others than the sheet's. */
export function pasteSpread(
  design: Design,
  cell: Cell,
  table: readonly (readonly string[])[],
  reading: Reading
): Pasted {
  const { lines, keys } = spread(table, reading)
  const pasted = paste(design, { ...cell, column: 'name' }, lines, SPREAD)
  const after = pasted.edits.reduce(edit, design)
  const toggles = outsideKey(after, cell.entity, keys).map((id): Edit => ({
    kind: 'key.toggle',
    entity: cell.entity,
    id
  }))
  return { ...pasted, edits: [...pasted.edits, ...toggles] }
}
