// What stands beside tables or on them by its text, from rows of the system catalogues.
import type {
  ColumnNote,
  DefaultRights,
  Extension,
  Policy,
  Routine,
  Rule,
  Schema,
  Sequence,
  Trigger,
  TypeObject,
  View
} from '../../catalog'
import { significant } from '../../sql'
import { postgresLexis } from './profile'
import type { RefsOf } from './refs'
import { together } from './refs'
import { countingOf, indexOf, type CommentOf } from './relations'
import {
  flag,
  inner,
  isTrue,
  list,
  optional,
  optionsOf,
  parameters,
  rightsOf,
  rowsOf,
  sayings,
  some,
  str,
  type Row
} from './rows'
import { typeOf as dataTypeOf } from './types'

export const schemaOf = (row: Row): Schema => {
  const comment = optional(row, 'comment')
  // What the schema `public` says of itself in every new database.
  const usual = str(row, 'name') === 'public' && comment === 'standard public schema'
  return {
    name: str(row, 'name'),
    ...some('owner', optional(row, 'owner')),
    ...rightsOf(row),
    ...some('comment', usual ? undefined : comment)
  }
}

export const extensionOf = (row: Row): Extension => {
  const comment = optional(row, 'comment')
  return {
    name: str(row, 'name'),
    schema: str(row, 'schema'),
    ...some('comment', comment === optional(row, 'usual') ? undefined : comment)
  }
}

const FORMS: Readonly<Record<string, TypeObject['form']>> = { e: 'enum', d: 'domain', c: 'composite', r: 'range' }

export function typeOf(row: Row, refsOf: RefsOf): TypeObject {
  const form = FORMS[str(row, 'kind')] ?? 'enum'
  const range = inner(row, 'range')
  const checks = rowsOf(row, 'checks').map((check) => ({
    name: str(check, 'name'),
    expression: str(check, 'expression'),
    ...optionsOf({ 'not valid': isTrue(check, 'valid') ? undefined : 'yes' }),
    ...some('comment', optional(check, 'comment'))
  }))
  const fields = rowsOf(row, 'fields').map((field) => ({
    name: str(field, 'name'),
    type: dataTypeOf(str(field, 'type'), optional(field, 'type_schema')),
    ...some('collation', optional(field, 'collation')),
    ...some('comment', optional(field, 'comment'))
  }))
  return {
    schema: str(row, 'schema'),
    name: str(row, 'name'),
    form,
    ...sayings(row),
    ...(form === 'enum' ? { values: list(row, 'labels') } : {}),
    ...(form === 'domain'
      ? {
          base: dataTypeOf(str(row, 'base'), optional(row, 'base_schema')),
          ...some('collation', optional(row, 'collation')),
          ...(isTrue(row, 'required') ? { nullable: false as const } : {}),
          ...some('default', optional(row, 'expression')),
          ...(checks.length ? { checks } : {})
        }
      : {}),
    ...(form === 'composite' ? { fields } : {}),
    ...(range ? optionsOf(Object.fromEntries(Object.keys(range).map((key) => [key, optional(range, key)]))) : {}),
    ...together(refsOf('pg_type', row['oid']), refsOf('pg_class', optional(row, 'relation')))
  }
}

export function sequenceOf(row: Row): Sequence {
  const owner = inner(row, 'owned_by')
  const type = str(row, 'type')
  return {
    schema: str(row, 'schema'),
    name: str(row, 'name'),
    ...sayings(row),
    ...(type === 'bigint' ? {} : { type }),
    ...countingOf(row),
    ...(owner
      ? { ownedBy: { schema: str(owner, 'schema'), table: str(owner, 'table'), column: str(owner, 'column') } }
      : {}),
    ...optionsOf({ persistence: row['persistence'] === 'u' ? 'unlogged' : undefined })
  }
}

export function viewOf(
  row: Row,
  parts: {
    readonly indexes: readonly Row[]
    readonly commentOf: CommentOf
    readonly triggers: readonly Trigger[]
    readonly rules: readonly Rule[]
    readonly refsOf: RefsOf
  }
): View {
  const { indexes, triggers, rules, refsOf, commentOf } = parts
  const notes = rowsOf(row, 'notes').map((note): ColumnNote => ({
    name: str(note, 'name'),
    ...some('comment', optional(note, 'comment')),
    ...some('default', optional(note, 'default')),
    ...rightsOf(note)
  }))
  const materialized = row['kind'] === 'm'
  return {
    schema: str(row, 'schema'),
    name: str(row, 'name'),
    ...sayings(row),
    query: asItWas(str(row, 'query').trim().replace(/;$/, '')),
    ...flag('materialized', materialized),
    ...(notes.length ? { notes } : {}),
    ...(indexes.length ? { indexes: indexes.map((index) => indexOf(index, refsOf, commentOf)) } : {}),
    ...(triggers.length ? { triggers } : {}),
    ...(rules.length ? { rules } : {}),
    ...optionsOf({
      tablespace: optional(row, 'tablespace'),
      'access method': optional(row, 'method'),
      'no data': materialized && row['filled'] === false ? 'yes' : undefined,
      ...parameters(list(row, 'options'))
    }),
    ...refsOf('pg_rewrite', row['rewrite'])
  }
}

/**
 * `EXTRACT(YEAR FROM x)` is printed of what was asked for as `EXTRACT('YEAR' FROM x)`, and read as `year`: only in quotes
 * does a word keep its case (manual, 4.1.1, and 9.9.1).
 */
function asItWas(text: string): string {
  if (!/extract\(\w*[A-Z]/.test(text) && !/EXTRACT\(\w*[A-Z]/.test(text)) return text
  const tokens = significant(text, LEXIS)
  let result = ''
  let from = 0
  tokens.forEach((token, i) => {
    const word = tokens[i + 2]
    if (!/^extract$/i.test(token.text) || tokens[i + 1]?.text !== '(' || word?.kind !== 'word') return
    if (!/[A-Z]/.test(word.text) || !/^from$/i.test(tokens[i + 3]?.text ?? '')) return
    result += `${text.slice(from, word.at)}'${word.text}'`
    from = word.at + word.text.length
  })
  return result + text.slice(from)
}
const LEXIS = { ...postgresLexis, fold: (name: string) => name }

/** "pg_trigger, tgenabled" and "pg_rewrite, ev_enabled". */
const ENABLED: Readonly<Record<string, string>> = { D: 'no', R: 'replica', A: 'always' }

export const triggerOf = (row: Row, refsOf: RefsOf): Trigger => ({
  name: str(row, 'name'),
  definition: str(row, 'definition'),
  ...some('enabled', ENABLED[str(row, 'enabled')]),
  ...some('comment', optional(row, 'comment')),
  ...refsOf('pg_trigger', row['oid'])
})

export const ruleOf = (row: Row, refsOf: RefsOf): Rule => ({
  name: str(row, 'name'),
  definition: asItWas(str(row, 'definition').trim().replace(/;$/, '')),
  ...some('enabled', ENABLED[str(row, 'enabled')]),
  ...some('comment', optional(row, 'comment')),
  ...refsOf('pg_rewrite', row['oid'])
})

const COMMANDS: Readonly<Record<string, string>> = { '*': 'ALL', r: 'SELECT', a: 'INSERT', w: 'UPDATE', d: 'DELETE' }

export function policyOf(row: Row, refsOf: RefsOf): Policy {
  const [using, checks] = [optional(row, 'using'), optional(row, 'checks')]
  const parts = [
    isTrue(row, 'permissive') ? '' : 'AS RESTRICTIVE',
    `FOR ${COMMANDS[str(row, 'command')] ?? 'ALL'} TO ${str(row, 'roles')}`,
    using === undefined ? '' : `USING (${using})`,
    checks === undefined ? '' : `WITH CHECK (${checks})`
  ]
  return {
    name: str(row, 'name'),
    definition: parts.filter((part) => part !== '').join(' '),
    ...some('comment', optional(row, 'comment')),
    ...refsOf('pg_policy', row['oid'])
  }
}

const ROUTINES: Readonly<Record<string, string>> = { f: 'function', p: 'procedure', a: 'aggregate', w: 'function' }

export function routineOf(row: Row, refsOf: RefsOf): Routine {
  const aggregate = inner(row, 'aggregate')
  return {
    schema: str(row, 'schema'),
    name: str(row, 'name'),
    form: ROUTINES[str(row, 'kind')] ?? 'function',
    ...sayings(row),
    definition: aggregate ? aggregateStatement(row, aggregate) : str(row, 'definition').trim(),
    signature: str(row, 'signature'),
    ...refsOf('pg_proc', row['oid'])
  }
}

/** Words whose value is a text. */
const QUOTED: ReadonlySet<string> = new Set(['INITCOND', 'MINITCOND'])
/** "pg_aggregate, aggfinalmodify"; the usual way needs no word. */
const MODIFIES: Readonly<Record<string, string>> = { s: 'SHAREABLE', w: 'READ_WRITE' }

/** Manual, CREATE AGGREGATE; there is no function that prints the statement. */
export function aggregateStatement(row: Row, aggregate: Row): string {
  const set = str(aggregate, 'kind') !== 'n'
  const quote = (name: string) => (/^[a-z_][a-z0-9_]*$/.test(name) ? name : `"${name.replaceAll('"', '""')}"`)
  const name = str(row, 'name')
  const args = str(aggregate, 'arguments')
  const clauses = Object.keys(aggregate).flatMap((key): string[] => {
    const value = optional(aggregate, key)
    if (key !== key.toUpperCase() || value === undefined || value === 'false') return []
    if (value === 'true') return [key]
    if (key.endsWith('_MODIFY')) {
      const usual = set ? 'w' : 'r'
      const word = value === 'r' ? 'READ_ONLY' : (MODIFIES[value] ?? '')
      const has = aggregate[key === 'FINALFUNC_MODIFY' ? 'FINALFUNC' : 'MFINALFUNC'] !== null
      return value === usual || !has ? [] : [`${key} = ${word}`]
    }
    if (key === 'SORTOP') return [`SORTOP = OPERATOR(${value})`]
    return [`${key} = ${QUOTED.has(key) ? `'${value.replaceAll("'", "''")}'` : value}`]
  })
  if (str(aggregate, 'kind') === 'h') clauses.push('HYPOTHETICAL')
  const parallel = { s: 'SAFE', r: 'RESTRICTED' }[str(aggregate, 'parallel')]
  if (parallel) clauses.push(`PARALLEL = ${parallel}`)
  const own = name.slice(0, name.indexOf('('))
  return `CREATE AGGREGATE ${quote(str(row, 'schema'))}.${own}(${args === '' ? '*' : args}) (\n  ${clauses.join(',\n  ')}\n)`
}

/** "pg_default_acl, defaclobjtype". */
const DEFAULTS: Readonly<Record<string, string>> = {
  r: 'TABLES',
  S: 'SEQUENCES',
  f: 'FUNCTIONS',
  T: 'TYPES',
  n: 'SCHEMAS'
}

export function defaultRightsOf(row: Row): DefaultRights {
  const [role, schema, of] = [str(row, 'role'), optional(row, 'schema'), DEFAULTS[str(row, 'of')] ?? 'TABLES']
  return {
    name: [role, ...(schema === undefined ? [] : [schema]), of].join(' '),
    role,
    ...some('schema', schema),
    of,
    rights: rightsOf(row).rights ?? []
  }
}
