// Many rows of the sheet at once, of one entity or of several: one value for all, moved, removed, copied.
import { Editing, rowIds, type Design, type Edit } from '../design'
import { cellText, COLUMNS, commit, NEW_ROW, rowsOf, type ColumnName } from './cells'

/** A row of the sheet. */
export interface RowPlace {
  readonly entity: string
  readonly row: string
}

export interface ManyDone {
  /** One edit for all rows that took it. */
  readonly edit: Edit
  /** The rows now: a value may make another row of one, a link of a column say. */
  readonly rows: readonly RowPlace[]
  /** What was not taken, each in a sentence. */
  readonly refused: readonly string[]
  /** How what was typed was understood, where in other words. */
  readonly said?: string
}

/** The same text in one column of many rows. */
export function commitMany(design: Design, places: readonly RowPlace[], column: ColumnName, text: string): ManyDone {
  const editing = new Editing(design)
  const edits: Edit[] = []
  const refused: string[] = []
  let said: string | undefined
  const rows = places.map((place): RowPlace => {
    const found = rowAt(editing.now, place)
    if (!found) return place
    const { entity, row } = found
    const done = commit(editing.now, entity, row, column, text)
    if ('error' in done) refused.push(`${entity.name}, ${cellText(editing.now, entity, row, 'name')}: ${done.error}`)
    if (!('edit' in done)) return place
    edits.push(done.edit)
    editing.edit(done.edit)
    said ??= done.said
    return { ...place, row: done.row ?? place.row }
  })
  return { edit: { kind: 'all', edits }, rows, refused, ...(said === undefined ? {} : { said }) }
}

function rowAt(design: Design, place: RowPlace) {
  const entity = design.entities[place.entity]
  const row = entity && place.row !== NEW_ROW && rowsOf(design, entity).find(({ id }) => id === place.row)
  return row ? { entity, row } : undefined
}

/** Takes rows out: columns, and links. */
export const removeRows = (design: Design, places: readonly RowPlace[]): Edit => ({
  kind: 'all',
  edits: places.flatMap(({ entity, row }): Edit[] => {
    if (design.links[row]) return [{ kind: 'object.remove', collection: 'links', id: row }]
    return row === NEW_ROW ? [] : [{ kind: 'attribute.remove', entity, id: row }]
  })
})

/** Each entity's rows one place up or down, in their order; those at the end stay. */
export function moveRows(design: Design, places: readonly RowPlace[], by: 1 | -1): Edit {
  const edits = byEntity(places).flatMap(([id, chosen]): Edit[] => {
    const entity = design.entities[id]
    if (!entity) return []
    const before = rowIds(design, entity)
    const order = by < 0 ? [...before] : [...before].reverse()
    for (let i = 1; i < order.length; i++) {
      const [above = '', own = ''] = [order[i - 1], order[i]]
      if (chosen.has(own) && !chosen.has(above)) [order[i - 1], order[i]] = [own, above]
    }
    return inOrder(id, before, by < 0 ? order : order.reverse())
  })
  return { kind: 'all', edits }
}

/** The rows of one entity before another row of it; at its end when `before` is none of its rows. */
export function dropRows(design: Design, entity: string, rows: ReadonlySet<string>, before: string): Edit {
  const there = design.entities[entity]
  if (!there || rows.has(before)) return { kind: 'all', edits: [] }
  const now = rowIds(design, there)
  const rest = now.filter((id) => !rows.has(id))
  const at = rest.indexOf(before)
  const moved = now.filter((id) => rows.has(id))
  const order = at < 0 ? [...rest, ...moved] : [...rest.slice(0, at), ...moved, ...rest.slice(at)]
  return { kind: 'all', edits: inOrder(entity, now, order) }
}

const inOrder = (id: string, before: readonly string[], order: readonly string[]): Edit[] =>
  order.join() === before.join() ? [] : [{ kind: 'entity.set', id, set: { order: [...order] } }]

function byEntity(places: readonly RowPlace[]): [string, Set<string>][] {
  const groups = new Map<string, Set<string>>()
  for (const { entity, row } of places) {
    const group = groups.get(entity)
    if (group) group.add(row)
    else groups.set(entity, new Set([row]))
  }
  return [...groups]
}

/** Rows as a spreadsheet takes them, from the name on, along `columns`: they can be pasted back as rows, in any entity. */
export const copied = (design: Design, places: readonly RowPlace[], columns: readonly ColumnName[] = COLUMNS): string =>
  places
    .flatMap((place) => {
      const found = rowAt(design, place)
      const cells = columns.slice(columns.indexOf('name'))
      return found ? [cells.map((column) => cellText(design, found.entity, found.row, column)).join('\t')] : []
    })
    .join('\n')
