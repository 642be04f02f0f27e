// What typing into a field of a domain means: an edit, or a sentence that says why not.
import { newDomain, type Design, type Domain, type Edit } from '../design'
import { parseType } from '../types'
import { typedDefault, typedType } from './typed'

export type Field = 'name' | 'type' | 'default' | 'min' | 'max' | 'means'

export type Changed = { readonly edit: Edit } | { readonly error: string }

/** Domains and entities are typed in one place: no two of them have one name. */
function whyNotCalled(design: Design, id: string, name: string): string | undefined {
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
  const set = (values: { readonly [K in Field]?: unknown }): Changed => {
    const next = Object.fromEntries(
      Object.entries({ ...domain, ...values }).filter(([, value]) => value !== undefined)
    ) as Domain
    return { edit: { kind: 'domain.set', domain: next } }
  }
  switch (field) {
    case 'name': {
      const error = whyNotCalled(design, domain.id, text)
      return error === undefined ? set({ name: text }) : { error }
    }
    case 'type': {
      const read = typedType(text)
      if ('error' in read) return read
      // A default of the old type may be none of the new one.
      const kept = domain.default !== undefined && 'value' in typedDefault(domain.default, read.value.type)
      return set({ type: read.value.type, ...(kept ? {} : { default: undefined }) })
    }
    case 'default': {
      const read = typedDefault(text, domain.type)
      return 'error' in read ? read : set({ default: read.value })
    }
    case 'min':
    case 'max': {
      const number = Number(text)
      if (text !== '' && !/^-?\d+(\.\d+)?$/.test(text)) return { error: `“${text}” is not a number.` }
      return set({ [field]: text === '' ? undefined : number })
    }
    case 'means':
      return set({ means: text === '' ? undefined : text })
  }
}

export function addDomain(design: Design, name: string, type: string): Changed {
  const error = whyNotCalled(design, '', name.trim())
  if (error !== undefined) return { error }
  const read = typedType(type.trim())
  return 'error' in read
    ? read
    : { edit: { kind: 'domain.set', domain: newDomain(name.trim(), { type: read.value.type }) } }
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
