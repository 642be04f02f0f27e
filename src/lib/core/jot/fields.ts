// A column or a field from its line, with the fields that stand further in below it.
import { fieldsOf, LEADING, newId, type Attribute, type Entity } from '../design'
import { sameValue } from '../catalog'
import { holdsFields, type NeutralType } from '../types'
import { guessedType } from './guess'
import type { Line } from './lines'
import { matched } from './match'
import { called } from './opening'
import { outside, unquoted } from './pieces'
import type { Reading } from './reading'
import type { Says } from './says'
import { followed, valuesOf } from './values'

/** A line of a name, and what stands behind its colon. */
export interface Named {
  readonly line: Line
  readonly name: string
  readonly dbName: string | undefined
  readonly tail: string
  /** Where the tail begins. */
  readonly from: number
  /** It is not understood. */
  readonly broken?: true
}

const OBJECT: NeutralType = { kind: 'object' }

/** Whether the lines below a line are fields: it says that it holds such, or nothing that is understood. */
export function holdsLines(reading: Reading, line: Line, before: Entity | undefined): boolean {
  const colon = outside(line.text, ':')
  if (line.inside.length === 0 || colon < 0) return false
  const { type, entity } = reading.says(line.text.slice(colon + 1))
  if (type || entity) return type !== undefined && holdsFields(type)
  const [name = ''] = called(line.text.slice(0, colon))
  const old = before?.attributes.find((one) => one.name.toLowerCase() === name.toLowerCase())
  return !old || holdsFields(old.type)
}

/** The old attribute of each line. */
export const matchedAttributes = (
  reading: Reading,
  lines: readonly Named[],
  old: readonly Attribute[]
): Map<Named, Attribute> =>
  matched(lines, old, (line, attribute) => {
    const [now, was] = [line.name.toLowerCase(), attribute.name.toLowerCase()]
    // One is typed letter by letter, and by now this far; what is no line yet may be any.
    if (now.startsWith(was) || was.startsWith(now)) return 0.9
    if (line.broken) return now.includes(was) ? 0.9 : 0.5
    const { type } = reading.says(line.tail)
    return type !== undefined && sameValue(type, attribute.type) ? 0.6 : 0
  })

export function attributeOf(
  reading: Reading,
  { line, name, dbName }: Named,
  says: Says,
  old: Attribute | undefined,
  required: boolean
): Attribute {
  const failed = says.odd.length > 0
  const inside = says.type === undefined && line.inside.length > 0
  const type = says.type ?? (failed || inside ? old?.type : undefined) ?? (inside ? OBJECT : guessedType(name))
  const fields = holdsFields(type) ? readFields(reading, name, line.inside, old) : { list: [] }
  const means = says.means ?? fields.means
  const id = old?.id ?? newId('att')
  if (!old) reading.fresh.add(id)
  const attribute: Attribute = {
    id,
    name,
    type,
    required,
    ...(dbName === undefined ? {} : { dbName }),
    ...(says.domain ? followed(says.domain) : {}),
    ...(says.leadsTo ? { leadsTo: says.leadsTo.id } : {}),
    ...valuesOf(says),
    ...(says.sample === undefined ? {} : { sample: says.sample }),
    ...(means === undefined ? {} : { means }),
    // Whoever says what it is has no need of a guess.
    ...(old?.guess && old.required === required && sameValue(old.type, type) ? { guess: old.guess } : {}),
    ...(fields.list.length > 0 ? { fields: fields.list } : {})
  }
  reading.lines.set(attribute.id, line.number)
  return attribute
}

function readFields(
  reading: Reading,
  holder: string,
  lines: readonly Line[],
  old: Attribute | undefined
): { list: Attribute[]; means?: string } {
  let means: string | undefined
  const named = lines.flatMap((line): Named[] => {
    const colon = outside(line.text, ':')
    if (/^means\s/i.test(line.text) && !/^means\s*:/i.test(line.text)) {
      means = unquoted(line.text.slice(5))
      return []
    }
    if (colon < 0 && /[(),=]/.test(line.text)) {
      reading.say('jot-line', line, 0, `“${line.text}” is no field of ${holder}: a field is written name: type.`)
      return [{ line, name: line.text, dbName: undefined, tail: '', from: 0, broken: true }]
    }
    const [, bare = '', words = ''] = /^(.*?)((?:\s+required)*)$/i.exec(line.text) ?? []
    if (colon < 0) return [{ line, name: unquoted(bare), dbName: undefined, tail: words, from: bare.length }]
    const [name = '', dbName] = called(line.text.slice(0, colon))
    return [{ line, name, dbName, tail: line.text.slice(colon + 1), from: colon + 1 }]
  })
  const known = matchedAttributes(reading, named, old ? fieldsOf(old) : [])
  const seen = new Set<string>()
  const list = named.flatMap((one): Attribute[] => {
    const { line, name, tail, from } = one
    const before = known.get(one)
    if (one.broken) return before ? [before] : []
    if (seen.has(name.toLowerCase())) {
      reading.say('jot-twice', line, 0, `${holder} has a field “${name}” already.`)
      return []
    }
    seen.add(name.toLowerCase())
    const says = reading.says(tail)
    reading.odd(says, line, from)
    if (says.entity && says.link !== 'one-to-many') {
      reading.say('jot-word', line, from, `Of many, a field holds a list: write list of ${says.entity.name}.`)
      return before ? [before] : []
    }
    if (says.computed !== undefined)
      reading.say('jot-word', line, from, `Only columns of an entity are worked out from others: ${name} is a field.`)
    if (says.key || says.unique || says.index)
      reading.say(
        'jot-word',
        line,
        from,
        `Only columns of an entity are keys, unique or in an index: ${name} is a field.`
      )
    for (const deeper of holdsLines(reading, line, undefined) ? [] : line.inside)
      reading.say('jot-indent', deeper, 0, `Nothing can stand in this line: ${name} has no fields.`, 'warning')
    const led = says.entity ? { ...says, type: LEADING, leadsTo: says.entity } : says
    return [attributeOf(reading, one, led, before, says.required)]
  })
  return { list, ...(means === undefined ? {} : { means }) }
}
