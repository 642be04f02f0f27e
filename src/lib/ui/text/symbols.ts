// What a name in a text stands for: an entity, a domain, a column or a field; and where else it stands.
import type { EditorState, Text } from '@codemirror/state'
import { attributeIn, linksAt, ownerOf, type Attribute, type Design, type Edit, type Entity } from '../../core/design'
import { nameAmong } from '../../core/jot'

export interface Symbol {
  readonly kind: 'entity' | 'domain' | 'column'
  readonly id: string
  readonly name: string
  /** Of a column, the entity that it is of. */
  readonly entity?: Entity
  readonly from: number
  readonly to: number
}

/** The objects of lines, by their numbers. */
export type Lines = ReadonlyMap<string, number>

/** The object whose own line this is. */
export function idOfLine(lines: Lines, number: number): string | undefined {
  for (const [id, line] of lines) if (line === number) return id
  return undefined
}

/** What stands at a place: the name of the line's own object, or of one that it leads to. */
export function symbolAt(state: EditorState, pos: number, design: Design, lines: Lines): Symbol | undefined {
  const line = state.doc.lineAt(pos)
  const { text } = line
  const at = pos - line.from
  const id = idOfLine(lines, line.number)
  const { entity, attribute } = ownerOf(design, id)
  const colon = text.indexOf(':')
  if (attribute && entity && (colon < 0 || at <= colon)) {
    const from = line.from + text.search(/\S/)
    return { kind: 'column', id: attribute.id, name: attribute.name, entity, from, to: from + attribute.name.length }
  }
  const named: Omit<Symbol, 'from' | 'to'>[] = [
    ...Object.values(design.entities).map(({ id: own, name }) => ({ kind: 'entity' as const, id: own, name })),
    ...Object.values(design.domains).map(({ id: own, name }) => ({ kind: 'domain' as const, id: own, name }))
  ]
  let best: Symbol | undefined
  for (const one of named)
    for (const written of new Set([one.name, nameAmong(one.name)]))
      for (let from = indexIn(text, written, 0); from >= 0; from = indexIn(text, written, from + 1)) {
        const to = from + written.length
        if (at < from || at > to || (best && best.to - best.from >= to - from)) continue
        best = { ...one, from: line.from + from, to: line.from + to }
      }
  return best
}

const isLetter = (character: string | undefined) => character !== undefined && /[\p{L}\p{N}_]/u.test(character)

/** Where a name stands by itself, in any case of its letters. */
function indexIn(text: string, name: string, from: number): number {
  const [low, wanted] = [text.toLowerCase(), name.toLowerCase()]
  for (let at = low.indexOf(wanted, from); at >= 0; at = low.indexOf(wanted, at + 1))
    if (!isLetter(low[at - 1]) && !isLetter(low[at + wanted.length])) return at
  return -1
}

/** The numbers of the lines that speak of it, its own first. */
export function usesOf(doc: Text, { kind, id, name, entity }: Symbol, design: Design, lines: Lines): number[] {
  const own = lines.get(id)
  const found = new Set(own === undefined ? [] : [own])
  if (kind === 'entity') {
    for (const link of linksAt(design, id)) if (link.parent === id) found.add(lines.get(link.id) ?? 0)
    for (const { supertype, subtypes } of Object.values(design.subtypes))
      if (supertype === id) for (const one of subtypes) found.add(lines.get(one) ?? 0)
  } else if (kind === 'domain') {
    for (const { id: column, domain } of Object.values(design.entities).flatMap((one) => flat(one.attributes)))
      if (domain === id) found.add(lines.get(column) ?? 0)
  } else if (entity) {
    const top = lines.get(entity.id) ?? 1
    for (let n = top + 1; n <= doc.lines; n++) {
      const { text } = doc.line(n)
      if (/^\S/.test(text)) break
      if (/^\s+(check|index|unique|key)\s*\(/.test(text) && indexIn(text, name, 0) >= 0) found.add(n)
    }
    for (const link of linksAt(design, entity.id)) {
      const n = lines.get(link.id)
      const says = n === undefined ? '' : doc.line(Math.min(n, doc.lines)).text
      if (n !== undefined && link.parent === entity.id && / to \(/.test(says) && indexIn(says, name, 0) >= 0)
        found.add(n)
    }
  }
  found.delete(0)
  return [...found]
}

const flat = (attributes: readonly Attribute[]): Attribute[] =>
  attributes.flatMap((one) => [one, ...(one.fields ? flat(one.fields) : [])])

/** The edit that gives it another name, or why it cannot have that. */
export function renamed(
  { kind, id, entity }: Symbol,
  wanted: string,
  design: Design
): { edit: Edit } | { error: string } {
  const name = wanted.replace(/\s+/g, ' ').trim()
  if (name === '') return { error: 'It needs a name.' }
  const taken = (others: readonly { readonly id: string; readonly name: string }[]) =>
    others.some((one) => one.id !== id && one.name.toLowerCase() === name.toLowerCase())
  if (kind === 'column') {
    const own = entity && attributeIn(entity, id)
    if (!entity || !own) return { error: 'It is not there any more.' }
    if (taken(entity.attributes)) return { error: `${entity.name} has a column “${name}” already.` }
    return { edit: { kind: 'attribute.set', entity: entity.id, id, set: { name } } }
  }
  if (taken([...Object.values(design.entities), ...Object.values(design.domains)]))
    return { error: `There is a domain or an entity “${name}” already.` }
  if (kind === 'entity') return { edit: { kind: 'entity.set', id, set: { name } } }
  const domain = design.domains[id]
  return domain
    ? { edit: { kind: 'object.set', collection: 'domains', object: { ...domain, name } } }
    : { error: 'It is not there any more.' }
}
