// What a view's text says of the design: `{id}` stands for an entity's table, a row's column or another view, `{id part}` for
// a column that comes about by rule, and `{?name}` for something that is no longer there.

export interface TextReference {
  /** All of it, braces included, and where it stands. */
  readonly text: string
  readonly at: number
  readonly id: string
  /** Which of the things made from the object; the object's own table, column or view when not said. */
  readonly part?: string
}

/** Quoted text and comments hold nothing but themselves. */
const PIECES = /'(?:[^']|'')*'|--[^\n]*|\/\*[\s\S]*?\*\/|\{(\?)?([^{}]+)\}/g

/** The references in a text, in their order; those that are lost have an empty id, and their name as a part. */
export function referencesIn(text: string): TextReference[] {
  return [...text.matchAll(PIECES)].flatMap(({ 0: all, 1: lost, 2: inside, index }): TextReference[] => {
    if (inside === undefined) return []
    if (lost !== undefined) return [{ text: all, at: index, id: '', part: inside }]
    const space = inside.indexOf(' ')
    return space < 0
      ? [{ text: all, at: index, id: inside }]
      : [{ text: all, at: index, id: inside.slice(0, space), part: inside.slice(space + 1) }]
  })
}

/** The text with each reference replaced; one that `give` says nothing of stays as it is. */
export function replaceReferences(text: string, give: (reference: TextReference) => string | undefined): string {
  let result = ''
  let from = 0
  for (const reference of referencesIn(text)) {
    const given = give(reference)
    if (given === undefined) continue
    result += text.slice(from, reference.at) + given
    from = reference.at + reference.text.length
  }
  return result + text.slice(from)
}

export const printReference = (id: string, part?: string): string =>
  part === undefined ? `{${id}}` : `{${id} ${part}}`
