// A command as it stands in a script for the engine's shell: `db.runCommand({ … })`, its values in the shell's words.
import type { Command } from './commands'
import type { Json } from './schema'

/** Longer than this, what stands in brackets gets lines of its own. */
const WIDTH = 100

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

function literal(value: Json, indent: string): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value)
  const list = Array.isArray(value)
  const entries = Object.entries(value) as [string, Json][]
  if (entries.length === 0) return list ? '[]' : '{}'
  const [first] = entries
  const made = !list && entries.length === 1 && first ? constructed(...first) : undefined
  if (made !== undefined) return made
  const deeper = `${indent}  `
  const part = ([key, inner]: [string, Json], at: string) =>
    list ? literal(inner, at) : `${isName(key) ? key : JSON.stringify(key)}: ${literal(inner, at)}`
  const [open, close] = list ? ['[', ']'] : ['{ ', ' }']
  const short = `${open}${entries.map((entry) => part(entry, indent)).join(', ')}${close}`
  if (short.length + indent.length <= WIDTH && !short.includes('\n')) return short
  const lines = entries.map((entry) => `${deeper}${part(entry, deeper)}`).join(',\n')
  return `${open.trim()}\n${lines}\n${indent}${close.trim()}`
}

export function shellText(statement: string): string {
  const command = JSON.parse(statement) as Command
  const { renameCollection, to } = command
  // The command itself has the database's name in it, and another database to be sent to.
  if (renameCollection !== undefined)
    return `db.getCollection(${JSON.stringify(renameCollection)}).renameCollection(${JSON.stringify(to)});`
  return `db.runCommand(${literal(command, '')});`
}
