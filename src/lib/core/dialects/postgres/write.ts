// What PostgreSQL has beyond the standard's words for tables: manual, CREATE TABLE and CREATE INDEX.
import type { Check, Column, Counting, ForeignKey, Index, Key, Options, Table } from '../../catalog'
import { isPlain } from '../../types'
import type { EngineProfile, Writer } from '../dialect'
import { standardWriter } from '../standard'
import { postgresOptions } from './options'

/** Options that are no storage parameters: each has words of its own. */
const OWN: ReadonlySet<string> = new Set(
  postgresOptions.flatMap(({ name, on, every }) => (every || on.includes('column') ? [] : [name]))
)

/** Storage parameters, as they stand in parentheses. */
export const parameterList = (options: Options | undefined): string =>
  Object.entries(options ?? {})
    .filter(([name]) => !OWN.has(name))
    .map(([name, value]) => `${name}=${/^[\w.+-]+$/.test(value) ? value : `'${value.replaceAll("'", "''")}'`}`)
    .join(', ')

export const withParameters = (options: Options | undefined): string => {
  const list = parameterList(options)
  return list === '' ? '' : ` WITH (${list})`
}

/** "CREATE SEQUENCE": only what is not as the engine does it. */
export const countingClauses = ({ start, increment, min, max, cache, cycle }: Omit<Counting, 'name'>): string[] => [
  ...(start === undefined ? [] : [`START WITH ${start}`]),
  ...(increment === undefined ? [] : [`INCREMENT BY ${increment}`]),
  ...(min === undefined ? [] : [`MINVALUE ${min}`]),
  ...(max === undefined ? [] : [`MAXVALUE ${max}`]),
  ...(cache === undefined ? [] : [`CACHE ${cache}`]),
  ...(cycle ? ['CYCLE'] : [])
]

const is = (options: Options | undefined, name: string) => options?.[name] === 'yes'

export function postgresWriter(profile: EngineProfile): Writer {
  const { quote, table: place } = standardWriter(profile)
  const period = (columns: readonly string[], word: string) =>
    `(${columns.map((name, i) => (i === columns.length - 1 ? word.replace('$', quote(name)) : quote(name))).join(', ')})`
  const counting = ({ counting: own }: Column): string => {
    if (!own) return ''
    const clauses = [...(own.name === undefined ? [] : [`SEQUENCE NAME ${quote(own.name)}`]), ...countingClauses(own)]
    return ` (${clauses.join(' ')})`
  }
  const unchecked = ({ options }: ForeignKey | Check): string | undefined => {
    const words = [
      is(options, 'no inherit') && 'NO INHERIT',
      is(options, 'not enforced') && 'NOT ENFORCED',
      is(options, 'not valid') && 'NOT VALID'
    ].filter((word) => word)
    return words.length ? words.join(' ') : undefined
  }
  const around = (t: Table) => {
    const { options = {} } = t
    const parents = (t.inherits ?? []).map((parent) => place(parent.schema, parent.name)).join(', ')
    return {
      before: options['persistence'] === 'unlogged' ? 'UNLOGGED ' : '',
      after:
        (parents === '' ? '' : `\nINHERITS (${parents})`) +
        (options['partition by'] === undefined ? '' : `\nPARTITION BY ${options['partition by']}`) +
        (options['access method'] === undefined ? '' : `\nUSING ${quote(options['access method'])}`) +
        (parameterList(options) === '' ? '' : `\nWITH (${parameterList(options)})`) +
        (options['tablespace'] === undefined ? '' : `\nTABLESPACE ${quote(options['tablespace'])}`)
    }
  }
  const habits = {
    required: ({ options }: Column) => {
      const name = options?.['not null']
      return name === undefined ? undefined : `CONSTRAINT ${quote(name)} NOT NULL`
    },
    stored: ({ options }: Column) =>
      options?.['compression'] === undefined ? undefined : `COMPRESSION ${options['compression']}`,
    counting,
    keyColumns: (key: Key) =>
      is(key.options, 'without overlaps') ? period(key.columns, '$ WITHOUT OVERLAPS') : undefined,
    keyOptions: ({ options }: Key) =>
      withParameters(options).trim() +
      (options?.['tablespace'] ? ` USING INDEX TABLESPACE ${quote(options['tablespace'])}` : ''),
    periodColumns: ({ options }: ForeignKey, columns: readonly string[]) =>
      is(options, 'with period') ? period(columns, 'PERIOD $') : undefined,
    setsOnly: ({ options }: ForeignKey) =>
      options?.['set only'] === undefined
        ? ''
        : ` (${(JSON.parse(options['set only']) as string[]).map(quote).join(', ')})`,
    unchecked,
    indexOptions: ({ options }: Index) =>
      withParameters(options) + (options?.['tablespace'] ? ` TABLESPACE ${quote(options['tablespace'])}` : ''),
    around
  }
  const writer = standardWriter(profile, habits)
  return {
    ...writer,
    // Manual, table 9.49.
    shaped: (column, shape) => `jsonb_typeof(${quote(column)}) = '${shape === 'list' ? 'array' : 'object'}'`,
    value: (value, type) =>
      value.kind === 'text' && type.kind === 'list' && isPlain(type.of)
        ? writer.value({ ...value, text: arrayText(value.text) }, type)
        : writer.value(value, type),
    createTable: (t) => {
      const own: Table = {
        ...t,
        // What comes from its parents is said by naming them.
        columns: t.columns.filter((column) => !column.inherited || t.partition !== undefined || !t.inherits),
        checks: t.checks.filter((check) => !check.inherited || !t.inherits)
      }
      const type = t.options?.['of type']
      if (type === undefined) return writer.createTable(own)
      const typed = {
        ...own,
        columns: own.columns.filter((c) => c.default !== undefined || !c.nullable || c.generated !== undefined)
      }
      return writer
        .createTable({
          ...typed,
          columns: typed.columns.map((column) => ({ ...column, type: { name: 'WITH OPTIONS' } }))
        })
        .replace(/(TABLE \S+) \(\)/, '$1')
        .replace(place(t.schema, t.name), `${place(t.schema, t.name)} OF ${type}`)
    }
  }
}

/** A list as JSON has it in the words of an array (manual, section 8.15.2); any other text as it is. */
function arrayText(text: string): string {
  const list: unknown = text.trim().startsWith('[') ? JSON.parse(text) : undefined
  if (!Array.isArray(list)) return text
  const one = (value: unknown) =>
    value === null
      ? 'NULL'
      : typeof value === 'string'
        ? `"${value.replace(/[\\"]/g, '\\$&')}"`
        : typeof value === 'object'
          ? `"${JSON.stringify(value).replace(/[\\"]/g, '\\$&')}"`
          : String(value)
  return `{${list.map(one).join(',')}}`
}
