// New designs made of patterns.
import { fieldsOf, NEW_ROW, paste, typedList } from '../cells'
import { Editing, newDesign, newEntity, type Design, type Edit } from '../design'
import { PATTERNS, type Pattern } from './patterns'

export { PATTERNS, type Pattern }

/** A design of its own, as if somebody had typed the pattern into the sheet. Throws where the pattern is none. */
export function startFrom({ name, entities }: Pattern, called = name): Design {
  const editing = new Editing(newDesign(called))
  const made = new Map(Object.entries(entities).map(([entity, { means }]) => [entity, newEntity(entity, { means })]))
  for (const entity of made.values()) editing.edit({ kind: 'object.set', collection: 'entities', object: entity })
  for (const [entityName, { rows, key }] of Object.entries(entities)) {
    const id = made.get(entityName)?.id ?? ''
    const fields = fieldsOf(`${rows.replace(/\s*\|\s*/g, '\t')}\n\n`) ?? [rows.split('|').map((field) => field.trim())]
    const { edits, refused } = paste(editing.done(), { entity: id, row: NEW_ROW, column: 'name' }, fields)
    if (refused.length > 0) throw new Error(`${entityName}: ${refused.join(' ')}`)
    for (const edit of edits) editing.edit(edit)
    for (const edit of keyOf(editing.done(), id, key)) editing.edit(edit)
  }
  return editing.done()
}

/** The columns of the key, in the pattern's order; links are part of it already. */
function keyOf(design: Design, id: string, key: string | undefined): Edit[] {
  const entity = design.entities[id]
  if (!entity || key === undefined) return []
  const read = typedList(design, entity, key, false)
  if ('error' in read) throw new Error(read.error)
  return [{ kind: 'entity.set', id, set: { primaryKey: read.value.map((part) => part.id) } }]
}
