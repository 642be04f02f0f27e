// What typing into a field of a domain, or of a column that every entity has, means: values for it, or a sentence that says why not.
import type { Domain } from '../design'
import { typedDefault, typedType, type Typed } from './typed'

/** What can be said of a column's values, wherever that stands. */
export type Valued = Pick<Domain, 'type' | 'default' | 'min' | 'max' | 'letters' | 'means'>
export type ValuedField = keyof Valued

/** Values to set; one of nothing takes away what was there. */
export function typedValue(
  of: Valued,
  field: ValuedField,
  typed: string
): Typed<{ readonly [K in ValuedField]?: unknown }> {
  const text = typed.trim()
  switch (field) {
    case 'type': {
      const read = typedType(text)
      if ('error' in read) return read
      // A default of the old type may be none of the new one.
      const kept = of.default !== undefined && 'value' in typedDefault(of.default, read.value.type)
      return { value: { type: read.value.type, ...(kept ? {} : { default: undefined }) } }
    }
    case 'default': {
      const read = typedDefault(text, of.type)
      return 'error' in read ? read : { value: { default: read.value } }
    }
    case 'min':
    case 'max': {
      const number = Number(text)
      if (text !== '' && !/^-?\d+(\.\d+)?$/.test(text)) return { error: `“${text}” is not a number.` }
      return { value: { [field]: text === '' ? undefined : number } }
    }
    case 'letters': {
      const letters = text.toLowerCase()
      if (letters === '') return { value: { letters: undefined } }
      if (letters !== 'upper' && letters !== 'lower') return { error: 'Letters are upper or lower, or as they come.' }
      if (of.type.kind !== 'text' && of.type.kind !== 'char') return { error: 'Only text has letters.' }
      return { value: { letters } }
    }
    case 'means':
      return { value: { means: text === '' ? undefined : text } }
  }
}

/** With some values set, and without those that are set to nothing. */
export const withValues = <T extends object>(object: T, values: object): T =>
  Object.fromEntries(Object.entries({ ...object, ...values }).filter(([, value]) => value !== undefined)) as T
