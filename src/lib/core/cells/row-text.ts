// A column, or a field, as it is said in one line: `name`, `name: type`, with `required` and `key` behind it.
import { Editing, type Design } from '../design'
import { cellText, commit, inKey, NEW_ROW, newFieldRow, rowsOf, type ColumnName, type Committed } from './cells'
import { dropRows } from './many'

/** What an entity's row says, as it can be typed again. */
export function rowText(design: Design, entityId: string, rowId: string): string {
  const entity = design.entities[entityId]
  const row = entity && rowsOf(design, entity).find(({ id }) => id === rowId)
  if (!entity || !row) return ''
  const said = (column: ColumnName) => cellText(design, entity, row, column)
  const filled = said('filled') === 'required' ? ' required' : ''
  return `${said('name')}: ${said('type')}${inKey(entity, row) ? ' key' : filled}`
}

/** A row becomes what the line says of it. */
export const changedRow = (design: Design, entity: string, row: string, text: string): Committed =>
  said(design, entity, row, text, 'all of it')

/** `within`: the attribute that it is to be a field of; `before`: the row that it is to stand before. */
export function addedColumn(
  design: Design,
  entity: string,
  text: string,
  { within, before }: { readonly within?: string | undefined; readonly before?: string | undefined } = {}
): Committed {
  const done = said(design, entity, within === undefined ? NEW_ROW : newFieldRow(within), text, 'what it says')
  if (!('edit' in done) || done.row === undefined || before === undefined) return done
  const editing = new Editing(design)
  editing.edit(done.edit)
  const moved = dropRows(editing.now, entity, new Set([done.row]), before)
  return { ...done, edit: { kind: 'all', edits: [done.edit, moved] } }
}

/** The words behind the type, taken off the end. */
function parted(text: string): { name: string; type: string; required: boolean; key: boolean } {
  let rest = text.trim()
  const words = new Set<string>()
  for (;;) {
    const found = /^(.*\S)\s+(required|key)$/i.exec(rest)
    if (!found?.[1] || !found[2]) break
    words.add(found[2].toLowerCase())
    rest = found[1]
  }
  const colon = rest.indexOf(':')
  const [name, type] = colon < 0 ? [rest, ''] : [rest.slice(0, colon).trim(), rest.slice(colon + 1).trim()]
  return { name, type, required: words.has('required'), key: words.has('key') }
}

/** One cell after the other; what is not said stays as it is, or, where `all of it` is said, is not so. */
function said(design: Design, entityId: string, rowId: string, text: string, how: 'what it says' | 'all of it') {
  const { name, type, required, key } = parted(text)
  const editing = new Editing(design)
  const edits: (Committed & { readonly edit: unknown })[] = []
  let row = rowId
  const put = (column: ColumnName, words: string): Committed => {
    const entity = editing.now.entities[entityId]
    const found = entity && rowsOf(editing.now, entity).find(({ id }) => id === row)
    if (!entity || !found) return { error: 'There is no place for it here.' }
    const done = commit(editing.now, entity, found, column, words)
    if ('edit' in done) {
      editing.edit(done.edit)
      edits.push(done)
      row = done.row ?? row
    }
    return done
  }
  const isIn = () => {
    const entity = editing.now.entities[entityId]
    const found = entity && rowsOf(editing.now, entity).find(({ id }) => id === row)
    return entity && found ? { key: inKey(entity, found), filled: cellText(editing.now, entity, found, 'filled') } : {}
  }
  let done = put('name', name)
  if ('error' in done || (row === rowId && row.startsWith(NEW_ROW))) return done
  if (type !== '') done = put('type', type)
  if (!('error' in done) && (key || how === 'all of it') && isIn().key !== undefined && isIn().key !== key)
    done = put('key', key ? 'key' : '')
  const { key: isKey, filled } = isIn()
  if (!('error' in done) && !isKey && filled && (required || how === 'all of it'))
    done = put('filled', required ? 'required' : 'may be empty')
  if ('error' in done) return done
  const words = edits.findLast((one) => 'said' in one && one.said !== undefined)
  if (edits.length === 0) return { same: true } as const
  return {
    edit: { kind: 'all', edits: edits.map(({ edit }) => edit) },
    row,
    ...(words && 'said' in words ? { said: words.said } : {})
  } as Committed
}
