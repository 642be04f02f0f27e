// What stands by itself beside tables and views: domains, generators, exceptions, procedures, functions and packages ("System Tables" of
// the language reference). Sources are kept there as they were written; what stands before them is written anew.
import {
  readType,
  type Ref,
  type Right,
  type Routine,
  type Sequence,
  type TypeObject,
  type UnreadObject
} from '../../catalog'
import { literal } from '../standard'
import type { RunQuery } from '../dialect'
import { grouped, inside, num, presetOf, quote, str, words, type Row } from './rows'
import { databaseTriggers } from './database-triggers'
import { FIELD, typeOf } from './fields'
import { BODY, packages } from './packages'

/** What is said of an object from outside, and what it stands on. */
export interface Beside {
  refsOf(kind: number, name: string): { readonly refs?: readonly Ref[] }
  rightsOf(kind: number, name: string): { readonly rights?: readonly Right[] }
}

export interface Programs {
  readonly types: readonly TypeObject[]
  readonly sequences: readonly Sequence[]
  readonly routines: readonly Routine[]
  readonly unread: readonly UnreadObject[]
}

/** "RDB$DEPENDENCIES", the numbers that stand for kinds of objects. */
export const KIND = {
  view: 1,
  trigger: 2,
  procedure: 5,
  exception: 7,
  field: 9,
  generator: 14,
  function: 15,
  package: 18,
  packageBody: 19
}

/** The forms of what stands by its text, as one may stand on another. */
export const FORMS: readonly string[] = ['exception', 'function', 'procedure', 'package', BODY, 'trigger']

const DOMAINS = `SELECT trim(f.RDB$FIELD_NAME) AS name, ${FIELD}, f.RDB$DEFAULT_SOURCE AS preset, f.RDB$VALIDATION_SOURCE AS rule,
    coalesce(f.RDB$NULL_FLAG, 0) AS required, trim(o.RDB$COLLATION_NAME) AS coll, f.RDB$DESCRIPTION AS words
  FROM RDB$FIELDS f
  LEFT JOIN RDB$CHARACTER_SETS c ON c.RDB$CHARACTER_SET_ID = f.RDB$CHARACTER_SET_ID
  LEFT JOIN RDB$COLLATIONS o ON o.RDB$CHARACTER_SET_ID = f.RDB$CHARACTER_SET_ID AND o.RDB$COLLATION_ID = f.RDB$COLLATION_ID
  WHERE coalesce(f.RDB$SYSTEM_FLAG, 0) = 0 AND f.RDB$FIELD_NAME NOT STARTING WITH 'RDB$' ORDER BY 1`

const SEQUENCES = `SELECT trim(RDB$GENERATOR_NAME) AS name, RDB$INITIAL_VALUE AS first, RDB$GENERATOR_INCREMENT AS step, RDB$DESCRIPTION AS words
  FROM RDB$GENERATORS WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 ORDER BY 1`

const EXCEPTIONS = `SELECT trim(RDB$EXCEPTION_NAME) AS name, RDB$MESSAGE AS text, RDB$DESCRIPTION AS words
  FROM RDB$EXCEPTIONS WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 ORDER BY 1`

const PROCEDURES = `SELECT trim(RDB$PROCEDURE_NAME) AS name, RDB$PROCEDURE_SOURCE AS source, trim(RDB$ENGINE_NAME) AS engine, RDB$DESCRIPTION AS words
  FROM RDB$PROCEDURES WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 AND RDB$PACKAGE_NAME IS NULL ORDER BY 1`

const FUNCTIONS = `SELECT trim(RDB$FUNCTION_NAME) AS name, RDB$FUNCTION_SOURCE AS source, coalesce(RDB$LEGACY_FLAG, 0) AS legacy,
    trim(RDB$ENGINE_NAME) AS engine, coalesce(RDB$DETERMINISTIC_FLAG, 0) AS sure, RDB$DESCRIPTION AS words
  FROM RDB$FUNCTIONS WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 AND RDB$PACKAGE_NAME IS NULL ORDER BY 1`

/** What a procedure or function is called with: of a domain, of a column's type, or of a type of its own. */
const parameters = (table: string, owner: string, place: string, way: string, own: string, mechanism: string) =>
  `SELECT trim(p.${owner}) AS owner, p.${place} AS place, ${way} AS way, trim(p.${own}) AS name, trim(p.RDB$FIELD_SOURCE) AS source,
     p.${mechanism} AS how, trim(p.RDB$RELATION_NAME) AS relation, trim(p.RDB$FIELD_NAME) AS part,
     coalesce(p.RDB$NULL_FLAG, 0) AS required, p.RDB$DEFAULT_SOURCE AS preset, ${FIELD}
   FROM ${table} p JOIN RDB$FIELDS f ON f.RDB$FIELD_NAME = p.RDB$FIELD_SOURCE
   LEFT JOIN RDB$CHARACTER_SETS c ON c.RDB$CHARACTER_SET_ID = f.RDB$CHARACTER_SET_ID
   WHERE p.RDB$PACKAGE_NAME IS NULL AND coalesce(p.RDB$SYSTEM_FLAG, 0) = 0 ORDER BY 1, 3, 2`
const OF_PROCEDURES = parameters(
  'RDB$PROCEDURE_PARAMETERS',
  'RDB$PROCEDURE_NAME',
  'RDB$PARAMETER_NUMBER',
  'p.RDB$PARAMETER_TYPE',
  'RDB$PARAMETER_NAME',
  'RDB$PARAMETER_MECHANISM'
)
const OF_FUNCTIONS = parameters(
  'RDB$FUNCTION_ARGUMENTS',
  'RDB$FUNCTION_NAME',
  'RDB$ARGUMENT_POSITION',
  'iif(p.RDB$ARGUMENT_NAME IS NULL, 1, 0)',
  'RDB$ARGUMENT_NAME',
  'RDB$ARGUMENT_MECHANISM'
)

function parameter(row: Row, charset: string): string {
  const own = str(row, 'source')
  const isTypeOf = num(row, 'how') === 1
  const type =
    str(row, 'relation') !== ''
      ? `TYPE OF COLUMN ${quote(str(row, 'relation'))}.${quote(str(row, 'part'))}`
      : own.startsWith('RDB$')
        ? typeOf(row, charset).toUpperCase()
        : `${isTypeOf ? 'TYPE OF ' : ''}${quote(own)}`
  const preset = presetOf(row)
  return [
    str(row, 'name') !== '' && quote(str(row, 'name')),
    type,
    num(row, 'required') === 1 && 'NOT NULL',
    preset !== '' && `= ${preset}`
  ]
    .filter(Boolean)
    .join(' ')
}

const said = (row: Row): { comment?: string } => (words(row) === '' ? {} : { comment: words(row) })

export async function programs(
  query: RunQuery,
  { charset, old }: { readonly charset: string; readonly old: boolean },
  { refsOf, rightsOf }: Beside
): Promise<Programs> {
  const unread: UnreadObject[] = []
  const types = (await query(DOMAINS)).map((row): TypeObject => {
    const [preset, rule] = [presetOf(row), str(row, 'rule')]
    const collation = row['coll'] && str(row, 'coll') !== str(row, 'usual') ? str(row, 'coll') : undefined
    return {
      schema: 'main',
      name: str(row, 'name'),
      form: 'domain',
      base: readType(typeOf(row, charset)),
      ...(collation === undefined ? {} : { collation }),
      ...(num(row, 'required') === 1 ? { nullable: false } : {}),
      ...(preset === '' ? {} : { default: preset }),
      ...(rule === '' ? {} : { checks: [{ name: RULE, expression: inside(rule.replace(/^check/i, '')) }] }),
      ...said(row)
    }
  })
  // "CREATE SEQUENCE": what is not said begins at 0 in 3.0, at 1 from 4.0 on.
  const first = old ? '0' : '1'
  const sequences = (await query(SEQUENCES)).map((row): Sequence => ({
    schema: 'main',
    name: str(row, 'name'),
    ...(str(row, 'first') === first ? {} : { start: str(row, 'first') }),
    ...(str(row, 'step') === '1' ? {} : { increment: str(row, 'step') }),
    ...said(row),
    ...rightsOf(KIND.generator, str(row, 'name'))
  }))
  const routine = (form: keyof typeof KIND, row: Row, definition: string): Routine => {
    const name = str(row, 'name')
    return {
      schema: 'main',
      form,
      name,
      definition,
      ...refsOf(KIND[form], name),
      ...said(row),
      ...rightsOf(KIND[form], name)
    }
  }
  const exceptions = (await query(EXCEPTIONS)).map((row) =>
    routine('exception', row, `CREATE EXCEPTION ${quote(str(row, 'name'))} ${literal(String(row['text'] ?? ''))}`)
  )
  const ofProcedures = grouped(await query(OF_PROCEDURES), 'owner')
  const ofFunctions = grouped(await query(OF_FUNCTIONS), 'owner')
  const list = (rows: readonly Row[], way: number) =>
    rows.filter((row) => num(row, 'way') === way).map((row) => parameter(row, charset))
  const inBrackets = (all: readonly string[]) => (all.length > 0 ? ` (${all.join(', ')})` : '')
  const procedures = (await query(PROCEDURES)).flatMap((row): Routine[] => {
    const name = str(row, 'name')
    if (str(row, 'engine') !== '' || str(row, 'source') === '') {
      unread.push({ kind: 'procedure from outside', name })
      return []
    }
    const [takes, gives] = [list(ofProcedures(name), 0), list(ofProcedures(name), 1)]
    const returns = gives.length > 0 ? `\nRETURNS${inBrackets(gives)}` : ''
    return [
      routine(
        'procedure',
        row,
        `CREATE PROCEDURE ${quote(name)}${inBrackets(takes)}${returns}\nAS\n${bodyOf(row, 'source')}`
      )
    ]
  })
  const functions = (await query(FUNCTIONS)).flatMap((row): Routine[] => {
    const name = str(row, 'name')
    if (num(row, 'legacy') === 1 || str(row, 'engine') !== '' || str(row, 'source') === '') {
      unread.push({ kind: 'function from outside', name })
      return []
    }
    const [takes, [gives = '']] = [list(ofFunctions(name), 0), list(ofFunctions(name), 1)]
    const sure = num(row, 'sure') === 1 ? ' DETERMINISTIC' : ''
    return [
      routine(
        'function',
        row,
        `CREATE FUNCTION ${quote(name)}${inBrackets(takes)}\nRETURNS ${gives}${sure}\nAS\n${bodyOf(row, 'source')}`
      )
    ]
  })
  const packaged = await packages(query, (kind, name) => ({
    ...refsOf(KIND[kind], name),
    ...rightsOf(KIND[kind], name)
  }))
  const triggers = await databaseTriggers(query, (name) => refsOf(KIND.trigger, name))
  const all = [...exceptions, ...functions, ...procedures, ...packaged, ...triggers]
  return { types, sequences, routines: all, unread }
}

/** A domain has one rule, which has no name. */
export const RULE = 'RULE'

const bodyOf = (row: Row, key: string): string => String(row[key] ?? '').trim()
