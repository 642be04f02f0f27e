// A script as the text of a file, or as a file for each object in an order that runs.
import { namesOf, type Address } from '../catalog'
import type { ScriptSettings } from '../design'
import { printStatement, type Dialect } from '../dialects'
import type { Statement } from './script'

export interface ScriptFile {
  readonly name: string
  readonly text: string
}

type Printing = Pick<ScriptSettings, 'separator' | 'before' | 'after' | 'form'>

/** What a file of a script is called in the end. */
export const endingOf = ({ profile: { features } }: Dialect, { form }: Printing = {}): string =>
  features.commands ? (form ?? features.commands) : 'sql'

/** Statements with their ends, and what stands before and after them. */
export function printFile(
  statements: readonly { readonly sql: string }[],
  dialect: Dialect,
  { separator, before, after, form }: Printing = {}
): string {
  // Nothing stands around a list: it is for a program.
  if (form === 'json' && dialect.profile.features.commands)
    return `[\n${statements.map(({ sql }) => sql).join(',\n')}\n]\n`
  const printed = statements.map(({ sql }) =>
    // A shell takes calls one by one, whatever stands between them.
    separator === undefined || dialect.profile.features.commands ? printStatement(sql, dialect) : `${sql}\n${separator}`
  )
  const parts = [before?.trimEnd(), ...printed, after?.trimEnd()].filter((part) => part !== undefined && part !== '')
  return parts.map((part) => `${part}\n`).join('\n')
}

/** What is made together is in one file: a table with its keys, comments and indexes; then what joins tables, by table. */
function groupOf({ kind, path }: Address): string {
  const name = namesOf({ kind, path })
  const own = [name.schema, name.table].filter((word) => word !== '').join('.')
  if (kind === 'foreignKey') return `${own} foreign keys`
  if (kind === 'trigger' || kind === 'policy' || kind === 'rule') return `${own} ${kind}s`
  return own
}

/**
 * Each group of statements as a file of its own, numbered in an order that runs. A file stands where its first statement
 * would; an index of an expression, which may call what comes later, is no part of its table's.
 */
export function scriptFiles(
  statements: readonly Statement[],
  dialect: Dialect,
  printing: Printing = {}
): readonly ScriptFile[] {
  const groups = new Map<string, Statement[]>()
  for (const statement of statements) {
    const { about, sql } = statement
    const late = about?.kind === 'index' && /\(\s*\(/.test(sql)
    const key = about === undefined ? 'opening' : `${groupOf(about)}${late ? ' indexes' : ''}`
    const group = groups.get(key)
    if (group) group.push(statement)
    else groups.set(key, [statement])
  }
  const digits = Math.max(3, String(groups.size * 10).length)
  return [...groups].map(([key, own], i) => ({
    name: `${String((i + 1) * 10).padStart(digits, '0')} ${fileName(key)}.${endingOf(dialect, printing)}`,
    text: printFile(own, dialect, printing)
  }))
}

/** Without what a file's name cannot have on some system. */
const fileName = (name: string) => name.replace(/[\\/:*?"<>|\u0000-\u001f]/g, '-').slice(0, 120)

/** What a script will do, counted: `{ 'make table': 18, 'make index': 4 }`. */
export function summaryOf(statements: readonly Statement[]): ReadonlyMap<string, number> {
  const counts = new Map<string, number>()
  for (const { sql, about } of statements) {
    const [verb = ''] = /^\w+/.exec(sql) ?? []
    const word = { CREATE: 'make', DROP: 'remove', ALTER: 'change', COMMENT: 'describe' }[verb.toUpperCase()]
    if (about === undefined || word === undefined) continue
    // A foreign key is added to a table that is there.
    const doing = word === 'change' && (about.kind === 'foreignKey' || about.kind === 'unique') ? 'make' : word
    const key = `${doing} ${about.kind}`
    counts.set(key, (counts.get(key) ?? 0) + 1)
  }
  return counts
}
