// A column, as a table's statement or ADD COLUMN says it: manual, CREATE TABLE.
import { addressOf, type Column, type Counting, type DataType, type Relation, type Sequence } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { takeConstraint, takeWhen, type Draft } from './constraints'
import type { Reading } from './reading'
import { counted, takeCounting, type SaidCounting } from './sequences'
import { tableText } from './texts'
import { fullType, takeType } from './types'

interface SaidColumn {
  readonly column: Column
  readonly constraints: readonly Draft[]
  /** The sequence that numbers it. */
  readonly sequence?: Sequence
}

/** Before these words ends what a default or a collation says. */
const STOPS = new Set(
  'constraint not null check default generated unique primary references collate deferrable initially compression storage'.split(
    ' '
  )
)

/** A collation as the server prints it; nothing for the usual one. */
export function takeCollation(cursor: Cursor, reading: Reading): string | undefined {
  const path = cursor.path()
  const name = path.at(-1) ?? ''
  const schema = path.at(-2)
  if (name === 'default') return undefined
  const { quote } = reading.write
  return schema === undefined || schema === 'pg_catalog' || schema === 'public'
    ? quote(name)
    : `${quote(schema)}.${quote(name)}`
}

interface Said {
  column: Column
  constraints: Draft[]
  options: Record<string, string>
  sequence?: Sequence
}

/** Takes a column with all that is said of it; `names`: sequences that the statement makes before. */
export function takeColumn(cursor: Cursor, home: Relation, reading: Reading, names: ReadonlySet<string>): SaidColumn {
  const name = cursor.name()
  if (cursor.done) throw new NotUnderstood(`Of what type ${name} is, is not said.`)
  const { type, serial, refs } = takeType(cursor, reading)
  const said: Said = {
    column: { name, type, nullable: serial === undefined, ...(refs ? { refs } : {}) },
    constraints: [],
    options: {}
  }
  if (serial) {
    const sequence = reading.relationName(home.schema, home.name, name, 'seq', names)
    const { quote } = reading.write
    const place = (home.schema === 'public' ? '' : `${quote(home.schema)}.`) + quote(sequence)
    said.sequence = {
      schema: home.schema,
      name: sequence,
      ...(type.name === 'bigint' ? {} : { type: type.name }),
      ownedBy: { schema: home.schema, table: home.name, column: name }
    }
    const to = addressOf('sequence', home.schema, sequence)
    const preset = `nextval('${place.replaceAll("'", "''")}'::regclass)`
    said.column = { ...said.column, default: preset, refs: [{ to }] }
  }
  takeClauses(cursor, said, home, reading, names)
  const { column, constraints, options, sequence } = said
  return {
    column: Object.keys(options).length ? { ...column, options } : column,
    constraints,
    ...(sequence ? { sequence } : {})
  }
}

/** What stands behind a column's type, or WITH OPTIONS. */
export function takeClauses(
  cursor: Cursor,
  said: Said,
  home: Relation,
  reading: Reading,
  names: ReadonlySet<string>
): void {
  const { name } = said.column
  const set = (values: Partial<Column>) => void (said.column = { ...said.column, ...values })
  while (!cursor.done) {
    const own = cursor.take('constraint') ? cursor.name() : undefined
    if (cursor.take('not', 'null')) {
      cursor.take('no', 'inherit')
      if (takeWhen(cursor).valid) set({ nullable: false })
      if (own !== undefined && reading.version >= 18 && own !== `${home.name}_${name}_not_null`)
        said.options['not null'] = own
    } else if (cursor.take('null')) set({ nullable: true })
    else if (cursor.take('default')) setDefault(cursor.until(STOPS), said, reading)
    else if (cursor.take('collate')) {
      const collation = takeCollation(cursor, reading)
      if (collation !== undefined) set({ collation })
    } else if (cursor.take('storage')) {
      const storage = cursor.next().toLowerCase()
      if (storage !== 'default') said.options['storage'] = storage
    } else if (cursor.take('compression')) {
      const compression = cursor.name()
      if (compression !== 'default') said.options['compression'] = compression
    } else if (cursor.take('generated')) takeGenerated(cursor, said, home, reading, names)
    else if (cursor.is('deferrable') || cursor.is('initially') || cursor.is('not', 'deferrable')) takeWhen(cursor)
    else if (cursor.is('unique') || cursor.is('primary') || cursor.is('check') || cursor.is('references')) {
      if (cursor.is('primary')) set({ nullable: false })
      said.constraints.push(takeConstraint(cursor, own, home, reading, name))
    } else throw new NotUnderstood(`Nothing of a column is said by “${cursor.word()}”.`)
  }
}

function setDefault(text: string, said: Said, reading: Reading) {
  const { text: value, refs } = tableText(text, reading)
  const preset = presetOf(value, said.column.type)
  if (preset === undefined) return
  said.column = { ...said.column, default: preset, ...(refs ? { refs: [...(said.column.refs ?? []), ...refs] } : {}) }
}

const TRUE = /^(t|tr|tru|true|y|ye|yes|on|1)$/i
const FALSE = /^(f|fa|fal|fals|false|n|no|of|off|0)$/i

/**
 * A constant as the server keeps it: a text becomes what it is read as, and no value is none, but where its length must be
 * kept (`get_const_expr` of the server's source).
 */
export function presetOf(text: string, type: DataType): string | undefined {
  if (/^null$/i.test(text)) return type.args ? `NULL::${fullType(type, (name) => name)}` : undefined
  const value = /^'([^']*)'$/.exec(text)?.[1]?.trim()
  if (value === undefined) return text
  if (type.name === 'boolean') return TRUE.test(value) ? 'true' : FALSE.test(value) ? 'false' : text
  if (!WHOLE.has(type.name) || !/^[-+]?\d+$/.test(value)) return text
  const number = String(BigInt(value.replace('+', '')))
  return type.name === 'integer' && !number.startsWith('-') ? number : `'${number}'::${type.name}`
}
const WHOLE = new Set(['smallint', 'integer', 'bigint'])

function takeGenerated(cursor: Cursor, said: Said, home: Relation, reading: Reading, names: ReadonlySet<string>) {
  const always = cursor.take('always')
  if (!always) cursor.expect('by', 'default')
  cursor.expect('as')
  if (cursor.take('identity')) {
    const identity = always ? 'always' : 'by default'
    said.column = {
      ...said.column,
      nullable: false,
      identity,
      counting: takeIdentity(cursor, said.column, home, reading, names)
    }
    return
  }
  if (cursor.word() !== '(')
    throw new NotUnderstood(`What ${said.column.name} is worked out from is expected ${cursor.here()}.`)
  const { text, refs } = tableText(cursor.inside(), reading)
  const stored = cursor.take('stored')
  if (!stored) cursor.take('virtual')
  said.column = {
    ...said.column,
    generated: text,
    ...(stored ? {} : { virtual: true as const }),
    ...(refs ? { refs: [...(said.column.refs ?? []), ...refs] } : {})
  }
}

/** How an identity column's numbers are given out; its sequence goes with it. */
export function takeIdentity(
  cursor: Cursor,
  column: Column,
  home: Relation,
  reading: Reading,
  names: ReadonlySet<string>
): Counting {
  const said: SaidCounting = { type: column.type.name }
  if (cursor.word() === '(') {
    const group = cursor.group()
    while (!group.done)
      if (!takeCounting(group, said, reading))
        throw new NotUnderstood(`Nothing of a sequence is said by “${group.word()}”.`)
  }
  const name = said.name ?? reading.relationName(home.schema, home.name, column.name, 'seq', names)
  return { ...counted(said), name }
}
