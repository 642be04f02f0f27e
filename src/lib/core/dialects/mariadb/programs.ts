// What stands by its own text: views, triggers, routines and events ("Information Schema Tables" of each), and sequences. Who made
// them is not kept: they are of whoever makes them again.
import {
  addressOf,
  type Options,
  type Routine,
  type Sequence,
  type Trigger,
  type UnreadObject,
  type View
} from '../../catalog'
import { significant, tokenize } from '../../sql'
import { mariadbLexis } from './lexis'
import { literal } from './words'

export type Row = Readonly<Record<string, unknown>>
const str = (row: Row, key: string): string => String(row[key] ?? '')
const quote = (name: string): string => `\`${name.replaceAll('`', '``')}\``

export const PROGRAMS = {
  triggers: `SELECT trigger_name AS name, event_object_table AS owner, action_timing AS moment, event_manipulation AS event,
       action_statement AS text, sql_mode AS mode, action_order AS place
     FROM information_schema.triggers WHERE trigger_schema = database() ORDER BY event_object_table, action_timing, event_manipulation, action_order`,
  routines: `SELECT routine_name AS name, specific_name AS called, lower(routine_type) AS form, dtd_identifier AS gives, routine_definition AS text,
       is_deterministic AS sure, sql_data_access AS access, security_type AS security, routine_comment AS comment, sql_mode AS mode,
       character_set_name AS charset, collation_name AS collation
     FROM information_schema.routines WHERE routine_schema = database() ORDER BY routine_type, routine_name`,
  parameters: `SELECT specific_name AS owner, lower(routine_type) AS form, parameter_mode AS way, parameter_name AS name, dtd_identifier AS type,
       character_set_name AS charset, collation_name AS collation
     FROM information_schema.parameters WHERE specific_schema = database() AND ordinal_position > 0 ORDER BY specific_name, ordinal_position`,
  events: `SELECT event_name AS name, event_type AS type, execute_at AS moment, interval_value AS value, interval_field AS field, starts AS starts,
       ends AS ends, on_completion AS completion, status AS status, event_comment AS comment, event_definition AS text, sql_mode AS mode
     FROM information_schema.events WHERE event_schema = database() ORDER BY event_name`
} as const

/** A text without the database's own name before what is in it, wherever it stands. */
export function atHome(text: string, database: string): string {
  if (!text.includes(database)) return text
  const tokens = tokenize(text, mariadbLexis)
  const isHome = (i: number) => tokens[i]?.text === quote(database) && tokens[i + 1]?.text === '.'
  return tokens
    .filter((_, i) => !isHome(i) && !(i > 0 && isHome(i - 1)))
    .map((token) => token.text)
    .join('')
}

/** Modes under which the same words mean something else than in our sessions ("SQL Mode"). */
const OTHERWISE = ['ANSI_QUOTES', 'PIPES_AS_CONCAT', 'NO_BACKSLASH_ESCAPES', 'ORACLE', 'HIGH_NOT_PRECEDENCE']

/** What of a program cannot be held, in words that stand behind its kind; nothing where all of it can. */
function whyNot(row: Row): string | undefined {
  if (str(row, 'text') === '') return 'whose text is not shown to this user'
  const mode = OTHERWISE.find((one) => str(row, 'mode').split(',').includes(one))
  return mode === undefined ? undefined : `of the mode ${mode}`
}

interface Held<T> {
  readonly held: readonly T[]
  readonly unread: readonly UnreadObject[]
}

function each<T>(rows: readonly Row[], kind: string, make: (row: Row) => T): Held<T> {
  const held: T[] = []
  const unread: UnreadObject[] = []
  for (const row of rows) {
    const why = whyNot(row)
    if (why === undefined) held.push(make(row))
    else
      unread.push({
        kind: `${kind} ${why}`,
        name: str(row, 'name'),
        ...(kind === 'trigger' ? { of: [addressOf('table', 'main', str(row, 'owner'))] } : {})
      })
  }
  return { held, unread }
}

export const viewsOf = (rows: readonly Row[], database: string): Held<View> =>
  each(rows, 'view', (row) => {
    const options: Options = {
      ...(['', 'UNDEFINED'].includes(str(row, 'algorithm')) ? {} : { algorithm: str(row, 'algorithm').toLowerCase() }),
      ...(str(row, 'security') === 'INVOKER' ? { security: 'invoker' } : {}),
      ...(['', 'NONE'].includes(str(row, 'checked')) ? {} : { check: str(row, 'checked').toLowerCase() })
    }
    return {
      schema: 'main',
      name: str(row, 'name'),
      query: atHome(str(row, 'text'), database),
      ...(Object.keys(options).length > 0 ? { options } : {})
    }
  })

/** Triggers with their tables. Of several at one moment each says which it follows ("Trigger Overview"), and stands on that one. */
export function triggersOf(rows: readonly Row[]): Held<{ readonly table: string; readonly trigger: Trigger }> {
  const before = new Map<string, string>()
  return each(rows, 'trigger', (row) => {
    const [name, owner] = [str(row, 'name'), str(row, 'owner')]
    const moment = `${str(row, 'moment')} ${str(row, 'event')} ON ${quote(owner)}`
    const follows = before.get(moment)
    before.set(moment, name)
    const text = `${follows === undefined ? '' : `FOLLOWS ${quote(follows)} `}${str(row, 'text').trim()}`
    return {
      table: owner,
      trigger: {
        name,
        definition: `CREATE TRIGGER ${quote(name)} ${moment} FOR EACH ROW ${text}`,
        ...(follows === undefined ? {} : { refs: [{ to: addressOf('trigger', 'main', owner, follows) }] })
      }
    }
  })
}

/** A type as it stands in a routine, with how its text is kept. */
const typed = (row: Row, type: string): string =>
  row['charset'] == null || str(row, 'collation') === ''
    ? type
    : `${type} CHARSET ${str(row, 'charset')} COLLATE ${str(row, 'collation')}`

export function routinesOf(rows: readonly Row[], parameters: readonly Row[]): Held<Routine> {
  const own = new Map<string, Row[]>()
  const keyOf = (form: string, name: string) => `${form} ${name}`
  for (const row of parameters) {
    const key = keyOf(str(row, 'form'), str(row, 'owner'))
    own.set(key, [...(own.get(key) ?? []), row])
  }
  return each(rows, 'routine', (row) => {
    const [form, name] = [str(row, 'form'), str(row, 'name')]
    const list = (own.get(keyOf(form, str(row, 'called'))) ?? []).map((one) =>
      [form === 'procedure' && str(one, 'way'), quote(str(one, 'name')), typed(one, str(one, 'type'))]
        .filter(Boolean)
        .join(' ')
    )
    const said = [
      `CREATE ${form.toUpperCase()} ${quote(name)}(${list.join(', ')})`,
      form === 'function' && `RETURNS ${typed(row, str(row, 'gives'))}`,
      str(row, 'sure') === 'YES' && 'DETERMINISTIC',
      str(row, 'access') !== 'CONTAINS SQL' && str(row, 'access'),
      str(row, 'security') === 'INVOKER' && 'SQL SECURITY INVOKER',
      str(row, 'comment') !== '' && `COMMENT ${literal(str(row, 'comment'))}`
    ].filter(Boolean)
    return { schema: 'main', form, name, definition: `${said.join(' ')}\n${str(row, 'text').trim()}` }
  })
}

export const eventsOf = (rows: readonly Row[]): Held<Routine> =>
  each(rows, 'event', (row) => {
    const value = str(row, 'value').replace(/^'|'$/g, '')
    const moment = (what: string, key: string) => row[key] != null && `${what} '${str(row, key)}'`
    const status = { DISABLED: 'DISABLE', SLAVESIDE_DISABLED: 'DISABLE ON SLAVE' }[str(row, 'status')]
    const said = [
      `CREATE EVENT ${quote(str(row, 'name'))} ON SCHEDULE`,
      str(row, 'type') === 'RECURRING'
        ? `EVERY ${/^\d+$/.test(value) ? value : literal(value)} ${str(row, 'field')}`
        : moment('AT', 'moment'),
      moment('STARTS', 'starts'),
      moment('ENDS', 'ends'),
      str(row, 'completion') === 'PRESERVE' && 'ON COMPLETION PRESERVE',
      status,
      str(row, 'comment') !== '' && `COMMENT ${literal(str(row, 'comment'))}`
    ].filter(Boolean)
    return {
      schema: 'main',
      form: 'event',
      name: str(row, 'name'),
      definition: `${said.join(' ')} DO ${str(row, 'text').trim()}`
    }
  })

/** "Sequence Overview": a sequence is a table of one row that tells how it counts. */
export const sequenceQuestion = (name: string): string =>
  `SELECT start_value AS start, increment AS step, minimum_value AS least, maximum_value AS most, cache_size AS cache, cycle_option AS cycle FROM ${quote(name)}`

export function sequenceOf(name: string, row: Row): Sequence {
  const [step, least, most] = [str(row, 'step'), str(row, 'least'), str(row, 'most')]
  const down = step.startsWith('-')
  const usual = down ? ['-9223372036854775807', '-1'] : ['1', '9223372036854775806']
  return {
    schema: 'main',
    name,
    ...(str(row, 'start') === (down ? most : least) ? {} : { start: str(row, 'start') }),
    ...(step === '1' ? {} : { increment: step }),
    ...(least === usual[0] ? {} : { min: least }),
    ...(most === usual[1] ? {} : { max: most }),
    ...(str(row, 'cache') === '1000' ? {} : { cache: str(row, 'cache') }),
    ...(str(row, 'cycle') === '1' ? { cycle: true as const } : {})
  }
}

/** Whether a statement is a program whose statements end in semicolons of their own. */
export const hasBody = (sql: string): boolean => significant(sql, mariadbLexis).some((token) => token.text === ';')
