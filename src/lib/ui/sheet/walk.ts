// Where one gets from a cell of the sheet: to another cell, or out.
import { isNewRow, type Cell } from '../../core/cells'
import { columns as sheetColumns } from './columns.svelte'
import type { Line } from './lines'

export type RowLine = Line & { kind: 'row' }

/** The cell so many rows and columns away; the same one where there is none. The empty row is entered at its name. */
export function neighbour(lines: readonly RowLine[], cell: Cell, rows: number, columns: number): Cell {
  const at = lines.findIndex((line) => line.entity.id === cell.entity && line.row.id === cell.row)
  const order = sheetColumns.shown
  let column = order.indexOf(cell.column) + columns
  let row = at + rows
  if (column >= order.length) [column, row] = [1, row + 1]
  if (column < 0) [column, row] = [order.length - 1, row - 1]
  // Along the cells, the grid has an end; up and down, one stays at it.
  if (columns !== 0 && (row < 0 || row >= lines.length)) return cell
  const line = lines[Math.max(0, Math.min(lines.length - 1, row))]
  if (!line) return cell
  const empty = isNewRow(line.row.id) && row !== at
  return { entity: line.entity.id, row: line.row.id, column: empty ? 'name' : (order[column] ?? 'name') }
}

/** Out of the grid: to what comes after it on the page, or before it. */
export function leaveGrid(grid: HTMLElement | undefined, forward: boolean) {
  if (!grid) return
  const all = document.querySelectorAll<HTMLElement>(
    'a[href], button:not(:disabled), input, select, textarea, [tabindex="0"]'
  )
  const wanted = forward ? Node.DOCUMENT_POSITION_FOLLOWING : Node.DOCUMENT_POSITION_PRECEDING
  const others = [...all].filter(
    (node) => !grid.contains(node) && grid.compareDocumentPosition(node) & wanted && node.offsetParent !== null
  )
  ;(forward ? others[0] : others.at(-1))?.focus()
}
