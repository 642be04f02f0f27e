// What is typed where a type, a default or a limit stands: its meaning, or a sentence that says why it has none.
import { ownText, parseDefault, whyNeverWhole } from '../derive'
import { spokenType, type NeutralType, type SpokenType } from '../types'

export type Typed<T> = { readonly value: T } | { readonly error: string }

export function typedType(text: string): Typed<SpokenType> {
  const read = spokenType(text)
  if (!read.ok) return { error: read.notices[0]?.message ?? '' }
  const [why] = ownText(read.value.type).flatMap((own) => whyNeverWhole(own) ?? [])
  return why === undefined ? { value: read.value } : { error: `No engine takes that type as it stands. ${why}` }
}

/** Nothing typed is no default. */
export function typedDefault(text: string, type: NeutralType): Typed<string | undefined> {
  if (text === '') return { value: undefined }
  const read = parseDefault(text, type)
  if (!read.ok) return { error: read.notices[0]?.message ?? '' }
  const why = read.value.kind === 'expression' ? whyNeverWhole(read.value.text) : undefined
  return why === undefined ? { value: text } : { error: `No engine takes that expression as it stands. ${why}` }
}
