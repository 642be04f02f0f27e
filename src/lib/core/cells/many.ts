// Many rows of the sheet at once, of one entity or of several: one value for all, moved, removed, copied.
import { attributeIn, Editing, fieldsOf, rowIds, siblingsOf, type Design, type Edit, type Entity } from '../design'
import { holdsFields } from '../types'
import { cellText, COLUMNS, commit, isNewRow, NEW_ROW, rowsOf, type ColumnName } from './cells'

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
  const row = entity && !isNewRow(place.row) && rowsOf(design, entity).find(({ id }) => id === place.row)
  return row ? { entity, row } : undefined
}

/** Takes rows out: columns, and links. */
export const removeRows = (design: Design, places: readonly RowPlace[]): Edit => ({
  kind: 'all',
  edits: places.flatMap(({ entity, row }): Edit[] => {
    if (design.links[row]) return [{ kind: 'object.remove', collection: 'links', id: row }]
    return isNewRow(row) ? [] : [{ kind: 'attribute.remove', entity, id: row }]
  })
})

/** Rows that stand beside each other: the columns and links of an entity, or the fields of an attribute. */
interface Group {
  readonly entity: Entity
  readonly within?: string
  readonly ids: readonly string[]
}

/** The group that a row is of. */
function groupOf(design: Design, { entity: id, row }: RowPlace): Group | undefined {
  const entity = design.entities[id]
  const found = entity && siblingsOf(entity, row)
  if (!entity) return undefined
  return found?.within
    ? { entity, within: found.within.id, ids: found.among.map((one) => one.id) }
    : { entity, ids: rowIds(design, entity) }
}

/** Rows one place up or down among those beside them, in their order; those at the end stay. */
export function moveRows(design: Design, places: readonly RowPlace[], by: 1 | -1): Edit {
  const groups = new Map<string, { group: Group; chosen: Set<string> }>()
  for (const place of places) {
    const group = groupOf(design, place)
    if (!group) continue
    const key = `${group.entity.id} ${group.within ?? ''}`
    const known = groups.get(key) ?? { group, chosen: new Set<string>() }
    groups.set(key, known)
    known.chosen.add(place.row)
  }
  const edits = [...groups.values()].flatMap(({ group, chosen }): Edit[] => {
    const order = by < 0 ? [...group.ids] : [...group.ids].reverse()
    for (let i = 1; i < order.length; i++) {
      const [above = '', own = ''] = [order[i - 1], order[i]]
      if (chosen.has(own) && !chosen.has(above)) [order[i - 1], order[i]] = [own, above]
    }
    return inOrder(group, by < 0 ? order : order.reverse())
  })
  return { kind: 'all', edits }
}

/** Rows before another row of their entity, among what that one stands in; at its end when `before` is none of its rows. */
export function dropRows(design: Design, entity: string, rows: ReadonlySet<string>, before: string): Edit {
  const there = design.entities[entity]
  if (!there || rows.has(before)) return { kind: 'all', edits: [] }
  const into = isNewRow(before) && before !== NEW_ROW ? before.slice(NEW_ROW.length) : undefined
  const to = into === undefined ? groupOf(design, { entity, row: before }) : fieldGroup(there, into)
  const moved = allRows(design, there).filter((id) => rows.has(id))
  if (!to) return { kind: 'all', edits: [] }
  if (moved.every((id) => to.ids.includes(id))) {
    const rest = to.ids.filter((id) => !rows.has(id))
    const at = rest.indexOf(before)
    const order = at < 0 ? [...rest, ...moved] : [...rest.slice(0, at), ...moved, ...rest.slice(at)]
    return { kind: 'all', edits: inOrder(to, order) }
  }
  const within = to.within === undefined ? {} : { within: to.within }
  const place = isNewRow(before) ? {} : { before }
  return { kind: 'all', edits: moved.map((id): Edit => ({ kind: 'row.move', entity, id, ...within, ...place })) }
}

/** Into what stands above and holds fields, or out of what it is a field of; nothing where that cannot be. */
export function shiftRow(design: Design, { entity: id, row }: RowPlace, by: 1 | -1): Edit | undefined {
  const entity = design.entities[id]
  const group = groupOf(design, { entity: id, row })
  if (!entity || !group || !attributeIn(entity, row)) return undefined
  if (by > 0) {
    const above = group.ids.slice(0, group.ids.indexOf(row)).map((other) => attributeIn(entity, other))
    const holder = above.findLast((one) => one && holdsFields(one.type))
    return holder && { kind: 'row.move', entity: id, id: row, within: holder.id }
  }
  if (group.within === undefined) return undefined
  const outer = groupOf(design, { entity: id, row: group.within })
  const next = outer?.ids[outer.ids.indexOf(group.within) + 1]
  const within = outer?.within === undefined ? {} : { within: outer.within }
  return { kind: 'row.move', entity: id, id: row, ...within, ...(next === undefined ? {} : { before: next }) }
}

const fieldGroup = (entity: Entity, within: string): Group | undefined => {
  const holder = attributeIn(entity, within)
  return holder && { entity, within, ids: fieldsOf(holder).map(({ id }) => id) }
}

const allRows = (design: Design, entity: Entity) => rowsOf(design, entity).map(({ id }) => id)

function inOrder({ entity, within, ids }: Group, order: readonly string[]): Edit[] {
  if (order.join() === ids.join()) return []
  if (within === undefined) return [{ kind: 'entity.set', id: entity.id, set: { order: [...order] } }]
  const fields = order.flatMap((id) => attributeIn(entity, id) ?? [])
  return [{ kind: 'attribute.set', entity: entity.id, id: within, set: { fields } }]
}

/** Rows as a spreadsheet takes them, from the name on, along `columns`: fields stand further in. They can be pasted back, in any entity. */
export function copied(design: Design, places: readonly RowPlace[], columns: readonly ColumnName[] = COLUMNS): string {
  const cells = columns.slice(columns.indexOf('name'))
  const found = places.flatMap((place) => rowAt(design, place) ?? [])
  const least = Math.min(...found.map(({ row }) => row.depth))
  return found
    .map(
      ({ entity, row }) =>
        '  '.repeat(row.depth - least) + cells.map((column) => cellText(design, entity, row, column)).join('\t')
    )
    .join('\n')
}
