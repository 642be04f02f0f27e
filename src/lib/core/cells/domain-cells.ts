// What typing into a field of a domain means: an edit, or a sentence that says why not.
import { newDomain, type Design, type Domain, type Edit } from '../design'
import { parseType } from '../types'
import { whyNeverWhole } from '../derive'
import { typedType } from './typed'
import { typedValue, withValues, type ValuedField } from './valued'

export type Field = ValuedField | 'name' | 'rule'

export type Changed = { readonly edit: Edit } | { readonly error: string }

/** Domains and entities are typed in one place: no two of them have one name. */
export function whyNotCalled(design: Design, id: string, name: string): string | undefined {
  if (name === '') return 'A domain needs a name.'
  const same = (other: { readonly id: string; readonly name: string }) =>
    other.id !== id && other.name.toLowerCase() === name.toLowerCase()
  if (Object.values(design.domains).some(same)) return `There is a domain “${name}” already.`
  if (Object.values(design.entities).some(same))
    return `There is an entity “${name}”: typed as a type, it makes a link.`
  return parseType(name).ok ? `“${name}” is a type by itself.` : undefined
}

export function changeDomain(design: Design, domain: Domain, field: Field, typed: string): Changed {
  const text = typed.trim()
  const set = (values: object): Changed => ({
    edit: { kind: 'object.set', collection: 'domains', object: withValues(domain, values) }
  })
  if (field === 'name') {
    const error = whyNotCalled(design, domain.id, text)
    return error === undefined ? set({ name: text }) : { error }
  }
  if (field === 'rule') {
    const error = whyNoRule(text)
    return error === undefined ? set({ rule: text === '' ? undefined : text }) : { error }
  }
  const read = typedValue(domain, field, text)
  return 'error' in read ? read : set(read.value)
}

function whyNoRule(text: string): string | undefined {
  if (text === '') return undefined
  const why = whyNeverWhole(text)
  if (why !== undefined) return why
  return /\bvalue\b/i.test(text) ? undefined : 'Say what must hold of “value”, as in: value > 0.'
}

export function addDomain(design: Design, name: string, type: string): Changed {
  const error = whyNotCalled(design, '', name.trim())
  if (error !== undefined) return { error }
  const read = typedType(type.trim())
  return 'error' in read
    ? read
    : { edit: { kind: 'object.set', collection: 'domains', object: newDomain(name.trim(), { type: read.value.type }) } }
}

/** A short word more, or another meaning of one. */
export function addShortWord(design: Design, short: string, long: string): Changed {
  const [a, b] = [short.trim().toLowerCase(), long.trim().toLowerCase()]
  const odd = [a, b].find((word) => !/^[\p{Ll}\p{Lo}\p{N}]+$/u.test(word))
  if (odd !== undefined) return { error: odd === '' ? 'Say both words.' : `“${odd}” is more than one word.` }
  if (a === b) return { error: 'Both words are the same.' }
  return abbreviated(design, { ...design.settings.abbreviations, [a]: b })
}

export function removeShortWord(design: Design, short: string): Changed {
  const { [short]: _gone, ...rest } = design.settings.abbreviations ?? {}
  return abbreviated(design, rest)
}

function abbreviated(design: Design, abbreviations: Readonly<Record<string, string>>): Changed {
  const { abbreviations: _before, ...settings } = design.settings
  const some = Object.keys(abbreviations).length > 0
  return {
    edit: { kind: 'design.set', set: { settings: some ? { ...settings, abbreviations } : settings } }
  }
}
