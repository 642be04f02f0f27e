// A command as it stands in a script for the engine's shell: `db.runCommand({ … })`, its values in the shell's words.
import { commandIn } from './commands'
import type { Json } from './schema'

/** Longer than this, what stands in brackets gets lines of its own. */
const WIDTH = 84

const isName = (key: string): boolean => /^[A-Za-z_$][\w$]*$/.test(key)

/** Values that JSON has no word for ("MongoDB Extended JSON (v2)"), as constructors of the shell ("Data Types in mongosh"). */
function constructed(key: string, value: Json): string | undefined {
  const text = JSON.stringify(value)
  switch (key) {
    case '$oid':
      return `ObjectId(${text})`
    case '$date':
      return `ISODate(${text})`
    case '$numberLong':
      return `Long(${text})`
    case '$numberDecimal':
      return `Decimal128(${text})`
    case '$numberInt':
      return `Int32(${text})`
    case '$numberDouble':
      return `Double(${text})`
    default:
      return undefined
  }
}

type Entry = readonly [key: string, value: Json]
const entriesOf = (value: object): Entry[] => Object.entries(value) as [string, Json][]
const named = (key: string, text: string): string => `${isName(key) ? key : JSON.stringify(key)}: ${text}`

/** On one line. */
function flat(value: Json): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value)
  if (isList(value)) return `[${value.map(flat).join(', ')}]`
  const entries = entriesOf(value)
  const [first] = entries
  if (!first) return '{}'
  const made = entries.length === 1 ? constructed(...first) : undefined
  return made ?? `{ ${entries.map(([key, inner]) => named(key, flat(inner))).join(', ')} }`
}
const isList = (value: Json): value is readonly Json[] => Array.isArray(value)

/** On as few lines as are easily read. */
function literal(value: Json, indent: string): string {
  const short = flat(value)
  if (short.length <= WIDTH || typeof value !== 'object' || value === null) return short
  const deeper = `${indent}  `
  const parts = isList(value)
    ? value.map((one) => literal(one, deeper))
    : entriesOf(value).map(([key, inner]) => named(key, literal(inner, deeper)))
  const [open, close] = isList(value) ? '[]' : '{}'
  return `${open}\n${parts.map((part) => deeper + part).join(',\n')}\n${indent}${close}`
}

/** What is no command as JSON is somebody's own statement, and stands as it is. */
export function shellText(statement: string): string {
  const command = commandIn(statement)
  if (!command) return `${statement.trim().replace(/;$/, '')};`
  const { renameCollection, to } = command
  // The command itself has the database's name in it, and another database to be sent to.
  if (renameCollection !== undefined)
    return `db.getCollection(${JSON.stringify(renameCollection)}).renameCollection(${JSON.stringify(to)});`
  return `db.runCommand(${literal(command, '')});`
}
