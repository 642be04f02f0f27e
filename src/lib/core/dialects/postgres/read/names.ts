// The names that the server makes by itself, as it makes them: `makeObjectName` and `ChooseRelationName` of its source
// (src/backend/commands/indexcmds.c); the manual tells of them in "CREATE TABLE", under Notes of each constraint.

/** NAMEDATALEN - 1; manual, 4.1.1. */
const LIMIT = 63

const encoder = new TextEncoder()
const size = (text: string) => (/^[\0-\x7f]*$/.test(text) ? text.length : encoder.encode(text).length)

/** The beginning of a text that takes no more than so many bytes of UTF-8. */
function clip(text: string, bytes: number): string {
  if (size(text) <= bytes) return text
  let [result, room] = ['', bytes]
  for (const letter of text) {
    room -= size(letter)
    if (room < 0) break
    result += letter
  }
  return result
}

/** A name as the server takes it: what is too long is cut off. */
export const asName = (name: string): string => (name.length * 3 <= LIMIT ? name : clip(name, LIMIT))

/** `berth_code_key`: where it is too long, the longer of the two names gives way. */
function madeName(first: string, second: string, label: string): string {
  const room = LIMIT - size(label) - 1 - (second === '' ? 0 : 1)
  let [a, b] = [size(first), size(second)]
  while (a + b > room) {
    if (a > b) a--
    else b--
  }
  return [clip(first, a), ...(second === '' ? [] : [clip(second, b)]), label].join('_')
}

/** The same with the first number that makes it one of its own. */
export function freeName(first: string, second: string, label: string, taken: (name: string) => boolean): string {
  for (let pass = 0; ; pass++) {
    const name = madeName(first, second, pass === 0 ? label : `${label}${pass}`)
    if (!taken(name)) return name
  }
}

/** Names joined, as far as a name reaches. */
export const joined = (columns: readonly string[]): string => {
  let text = ''
  for (const column of columns) {
    text += text === '' ? column : `_${column}`
    if (size(text) >= LIMIT) break
  }
  return clip(text, LIMIT)
}
