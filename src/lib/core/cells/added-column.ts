// A column, or a field, as it is said in one go: `name`, or `name: type`.
import { edit, type Design } from '../design'
import { commit, NEW_ROW, newFieldRow, rowsOf, type Committed } from './cells'

/** `within`: the attribute that it is to be a field of. */
export function addedColumn(design: Design, entity: string, text: string, within?: string): Committed {
  const colon = text.indexOf(':')
  const [name, type] = colon < 0 ? [text, ''] : [text.slice(0, colon), text.slice(colon + 1)]
  const row = within === undefined ? NEW_ROW : newFieldRow(within)
  const named = said(design, entity, row, 'name', name.trim())
  if (!('edit' in named) || named.row === undefined || type.trim() === '') return named
  const typed = said(edit(design, named.edit), entity, named.row, 'type', type.trim())
  if ('error' in typed) return typed
  const edits = 'edit' in typed ? [named.edit, typed.edit] : [named.edit]
  return { edit: { kind: 'all', edits }, row: ('row' in typed ? typed.row : undefined) ?? named.row }
}

function said(design: Design, id: string, row: string, column: 'name' | 'type', text: string): Committed {
  const entity = design.entities[id]
  const found = entity && rowsOf(design, entity).find((one) => one.id === row)
  return entity && found ? commit(design, entity, found, column, text) : { error: 'There is no place for it here.' }
}
