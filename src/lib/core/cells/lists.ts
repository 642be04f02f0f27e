// Lists of an entity's rows as people type them (`visit, line no down`).
import { logical } from '../derive'
import { commonsOf, IDENTIFIER, type Design, type Entity } from '../design'
import { cellText, isNewRow, rowsOf } from './cells'
import type { Typed } from './typed'

export interface Part {
  readonly id: string
  readonly descending: boolean
}

/** What the rows of an entity are called, by id: what stands in the sheet, and the identifier where there is one. */
export function rowNames(design: Design, entity: Entity): ReadonlyMap<string, string> {
  const rows = rowsOf(design, entity).filter(
    ({ id, link, depth }) => !isNewRow(id) && depth === 0 && link?.kind !== 'many-to-many'
  )
  const given = logical(design)
    .entity(entity.id)
    ?.columns.find(({ path }) => path === IDENTIFIER)
  return new Map([
    ...(given ? [[IDENTIFIER, given.name] as const] : []),
    ...rows.map((row) => [row.id, cellText(design, entity, row, 'name')] as const),
    ...commonsOf(design, entity).map(({ id, name }) => [id, name] as const)
  ])
}

export function printList(design: Design, entity: Entity, parts: readonly (string | Part)[]): string {
  const names = rowNames(design, entity)
  return parts
    .map((part) => {
      const { id, descending } = typeof part === 'string' ? { id: part, descending: false } : part
      return (names.get(id) ?? '?') + (descending ? ' down' : '')
    })
    .join(', ')
}

/** Reads a list of columns; where `ordered`, `down` after one says that its greatest value comes first. */
export function typedList(design: Design, entity: Entity, text: string, ordered: boolean): Typed<readonly Part[]> {
  const names = rowNames(design, entity)
  const ids = new Map([...names].map(([id, name]) => [name.toLowerCase(), id]))
  const parts: Part[] = []
  for (const typed of text.split(',')) {
    const word = typed.trim().replace(/\s+/g, ' ')
    if (word === '') continue
    const whole = ids.get(word.toLowerCase())
    const [, name = word] = (ordered && /^(.+) (?:down|desc(?:ending)?)$/i.exec(word)) || []
    const id = whole ?? ids.get(name.toLowerCase())
    if (id === undefined)
      return {
        error: `${entity.name} has no column “${name}”. It has ${[...names.values()].join(', ') || 'none yet'}.`
      }
    if (parts.some((part) => part.id === id)) return { error: `“${name}” is there twice.` }
    parts.push({ id, descending: whole === undefined && name !== word })
  }
  return { value: parts }
}
