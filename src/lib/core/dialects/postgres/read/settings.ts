// What stands in parentheses behind WITH and SET: manual, "Storage Parameters" of CREATE TABLE and CREATE INDEX.
import type { Options } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'

/** Settings by name, each as the catalogue lists it; one without a value is switched on. */
export function settingsIn(group: Cursor): Record<string, string> {
  const found: Record<string, string> = {}
  for (const part of group.list()) {
    const name = part.path().join('.')
    // Rows have had no numbers of their own since version 12.
    if (name === 'oids') continue
    if (part.take('=')) found[name] = settingValue(part)
    else {
      part.finish()
      found[name] = 'true'
    }
  }
  return found
}

/** A value, without its quotes. */
function settingValue(cursor: Cursor): string {
  const text = cursor.rest()
  if (text === '') throw new NotUnderstood('A setting has no value.')
  return /^'.*'$/s.test(text)
    ? text.slice(1, -1).replaceAll("''", "'")
    : /^".*"$/.test(text)
      ? text
      : text.replace(/\s+/g, '')
}

/** With some set anew; without those that go. Nothing where none is left. */
export function withSettings(
  options: Options | undefined,
  set: Readonly<Record<string, string | undefined>>
): Options | undefined {
  const entries = Object.entries({ ...options, ...set }).filter(
    (entry): entry is [string, string] => entry[1] !== undefined
  )
  return entries.length ? Object.fromEntries(entries) : undefined
}
