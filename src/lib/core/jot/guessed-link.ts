// A column that is called as an entity and its key, `vessel id`, of which nothing else is said, leads to that entity.
import type { Design, Entity } from '../design'
import type { Line } from './lines'
import { called } from './opening'
import { inner, listed, outside, unquoted } from './pieces'
import type { Reading } from './reading'

/** The entity that a column of this name leads to; nothing where it leads to none, or was a column before. */
export function guessedParent(reading: Reading, name: string, own: Entity): Entity | undefined {
  const before = reading.was(own.id)
  const words = name.toLowerCase()
  if (before?.attributes.some((one) => one.name.toLowerCase() === words)) return undefined
  for (let at = words.lastIndexOf(' '); at > 0; at = words.lastIndexOf(' ', at - 1)) {
    const parent = reading.known.entity(words.slice(0, at))
    if (!parent || parent.id === own.id) continue
    // It leads there still when what it is called by gets another name.
    const was = reading.base.entities[parent.id]
    const keys = [reading.keyName(parent), was && keyNameOf(reading.base, was)]
    if (keys.some((key) => key?.toLowerCase() === words.slice(at + 1))) return parent
  }
  return undefined
}

/** Whether a name still says that a column leads to an entity. */
export const isGuessOf = (design: Design, name: string, parent: Entity): boolean =>
  name.toLowerCase() === `${parent.name} ${keyNameOf(design, parent) ?? ''}`.toLowerCase()

/** What the key of an entity is called, where it is of one column. */
export function keyNameOf(design: Design, entity: Entity): string | undefined {
  if (Object.values(design.subtypes).some(({ subtypes }) => subtypes.includes(entity.id))) return undefined
  const [only, another] = entity.primaryKey
  if (another !== undefined) return undefined
  return only === undefined ? (entity.identifier?.name ?? 'id') : entity.attributes.find(({ id }) => id === only)?.name
}

/** The same, from the lines of an entity. */
export function keyNameIn(reading: Reading, lines: readonly Line[]): string | undefined {
  let identifier = 'id'
  let clause: string[] | undefined
  const keys: (string | undefined)[] = []
  for (const { text } of lines) {
    if (/^key\s*\(/i.test(text)) clause = listed(inner(text.slice(text.indexOf('('), text.lastIndexOf(')') + 1)))
    else if (/^key\s+is\s/i.test(text)) [identifier = 'id'] = called(listed(text.replace(/^key\s+is\s+/i, ''))[0] ?? '')
    else if (/^part\s+of\s/i.test(text)) keys.push(undefined)
    else {
      const colon = outside(text, ':')
      const says = colon < 0 ? undefined : reading.says(text.slice(colon + 1))
      if (says?.key) keys.push(says.entity ? undefined : called(text.slice(0, colon))[0])
      else if (colon < 0 && /\skey\b/i.test(text)) keys.push(text.replace(/\s+(required|unique|key|index)\b/gi, ''))
    }
  }
  const [only, ...others] = clause ?? keys
  if (others.length > 0) return undefined
  return (clause ?? keys).length === 0 ? identifier : only === undefined ? undefined : unquoted(only)
}
