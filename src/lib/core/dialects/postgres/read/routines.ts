// Functions, procedures and aggregates, printed as the server prints them: `pg_get_functiondef` (manual, 9.27.3 System Catalog
// Information Functions), of whose source (src/backend/utils/adt/ruleutils.c) the order of the clauses is.
import { addressOf, namesOf, type Address, type Ref, type Routine } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import type { Reading } from './reading'
import { fullText } from './texts'
import { fullType, takeType, type SaidType } from './types'

export interface Argument {
  readonly mode: '' | 'IN' | 'OUT' | 'INOUT' | 'VARIADIC' | 'TABLE'
  readonly name: string | undefined
  readonly type: SaidType
  readonly preset?: string
}

const MODES: readonly (readonly [readonly string[], Argument['mode']])[] = [
  [['in', 'out'], 'INOUT'],
  [['inout'], 'INOUT'],
  [['in'], 'IN'],
  [['out'], 'OUT'],
  [['variadic'], 'VARIADIC']
]

const takeMode = (part: Cursor): Argument['mode'] => MODES.find(([words]) => part.take(...words))?.[1] ?? ''

/** Words that a type of two words begins with: no argument has such a name before its type. */
const TYPES = new Set('double character char national bit timestamp time interval setof'.split(' '))

export function takeArgument(part: Cursor, reading: Reading): Argument {
  let mode = takeMode(part)
  const ahead = part.copy()
  ahead.path()
  // A name stands before a type: another word follows it that is not what a type goes on with.
  const named =
    !TYPES.has(part.word()) &&
    (ahead.isName || ahead.word().startsWith('"')) &&
    !ahead.is('default') &&
    !ahead.is('array')
  const name = named ? part.name() : undefined
  if (mode === '') mode = takeMode(part)
  const type = takeType(part, reading)
  if (part.take('default') || part.take('=')) return { mode, name, type, preset: part.rest() }
  part.finish()
  return { mode, name, type }
}

const isInput = ({ mode }: Argument) => mode !== 'OUT' && mode !== 'TABLE'

/** A constant is printed with its type. */
function presetText(preset: string, type: string, reading: Reading): string {
  const cursor = reading.cursor(preset)
  const isText = preset.startsWith("'")
  const isNull = cursor.is('null')
  const sign = /^-\d/.test(preset)
  cursor.next()
  if (sign) cursor.next()
  if (!cursor.done) return fullText(preset, reading).text
  return isText ? `${preset}::${type}` : isNull ? `NULL::${type}` : sign ? `'${preset}'::${type}` : preset
}

/** Names and types as the server prints a routine's. */
export class Printed {
  constructor(
    private readonly reading: Reading,
    private readonly procedure: boolean
  ) {}

  type = ({ type }: SaidType): string => fullType(type, this.reading.write.quote)

  argument = (argument: Argument, presets: boolean): string => {
    const { mode, name, type, preset } = argument
    const shown =
      mode === '' || mode === 'IN'
        ? this.procedure && this.reading.version >= 14
          ? 'IN'
          : ''
        : mode === 'TABLE'
          ? ''
          : mode
    const words = [shown, name === undefined ? '' : this.reading.write.quote(name), this.type(type)].filter(
      (word) => word !== ''
    )
    const text = words.join(' ')
    return presets && preset !== undefined
      ? `${text} DEFAULT ${presetText(preset, this.type(type), this.reading)}`
      : text
  }

  list = (all: readonly Argument[], presets: boolean): string =>
    all
      .filter(({ mode }) => mode !== 'TABLE')
      .map((argument) => this.argument(argument, presets))
      .join(', ')
}

/** What is said behind a function's arguments, by its words. */
interface Clauses {
  returns?: string
  language: string
  volatility: string
  strict: boolean
  definer: boolean
  leakproof: boolean
  window: boolean
  parallel: string
  cost?: string
  rows?: string
  support?: string
  transform?: string
  settings: string[]
  body?: string
  binary?: string
  atomic?: string
}

/** After CREATE [OR REPLACE] FUNCTION or PROCEDURE. */
export function createRoutine(
  cursor: Cursor,
  form: 'function' | 'procedure',
  replace: boolean,
  reading: Reading
): void {
  const { schema, name } = reading.home(cursor.path())
  const printed = new Printed(reading, form === 'procedure')
  const args = cursor
    .group()
    .parts()
    .map((part) => takeArgument(part, reading))
  const refs = new Map<string, Ref>()
  const note = ({ refs: found = [] }: SaidType) => {
    for (const ref of found) refs.set(JSON.stringify(ref.to), ref)
  }
  for (const { type } of args) note(type)
  const said = takeClauses(cursor, args, printed, reading, note)
  const { quote } = reading.write
  const full = `${quote(schema)}.${quote(name)}`
  const outs = args.filter((argument) => argument.mode === 'OUT' || argument.mode === 'INOUT')
  const [only] = outs
  const returns =
    said.returns ??
    (form === 'procedure'
      ? undefined
      : outs.length === 1 && only
        ? printed.type(only.type)
        : outs.length
          ? 'record'
          : 'void')
  const own = `${quote(name)}(${printed.list(args, false)})`
  const settled = returns?.startsWith('TABLE')
    ? `TABLE(${args
        .filter(({ mode }) => mode === 'TABLE')
        .map((a) => printed.argument(a, false))
        .join(', ')})`
    : returns
  const routine: Routine = {
    schema,
    name: own,
    form,
    definition: definitionOf(said, `${full}(${printed.list(args, true)})`, form, settled),
    signature: printed.list(args, true) + (settled === undefined ? '' : ` → ${settled}`),
    ...(refs.size ? { refs: [...refs.values()] } : {})
  }
  const old = reading.standing.free('routine', schema, own) ?? sameInputs(args, schema, name, printed, reading)
  if (!old) return reading.create('routine', routine)
  if (!replace) throw new NotUnderstood(`There is a ${form} ${own} already.`)
  const { comment, rights, owner } = old
  reading.drop(addressOf('routine', schema, old.name))
  reading.create('routine', {
    ...routine,
    ...(comment === undefined ? {} : { comment }),
    ...(rights ? { rights } : {}),
    ...(owner === undefined ? {} : { owner })
  })
}

/** The function that this one is another form of: names of arguments make no other. */
function sameInputs(
  args: readonly Argument[],
  schema: string,
  name: string,
  printed: Printed,
  reading: Reading
): Routine | undefined {
  const types = args.filter(isInput).map(({ type }) => printed.type(type))
  const found = matching(reading.routines([schema, name]), types, reading)
  return found && reading.standing.free('routine', schema, namesOf(found).name)
}

function definitionOf(said: Clauses, head: string, form: string, returns: string | undefined): string {
  const { language, window, volatility, parallel, strict, definer, leakproof, cost, rows, support, settings } = said
  const words = [
    window ? ' WINDOW' : '',
    volatility === '' ? '' : ` ${volatility}`,
    parallel === '' ? '' : ` PARALLEL ${parallel}`,
    strict ? ' STRICT' : '',
    definer ? ' SECURITY DEFINER' : '',
    leakproof ? ' LEAKPROOF' : '',
    cost === undefined || Number(cost) === (/^(c|internal)$/.test(language) ? 1 : 100) ? '' : ` COST ${cost}`,
    rows === undefined || Number(rows) === 1000 ? '' : ` ROWS ${rows}`,
    support === undefined ? '' : ` SUPPORT ${support}`
  ].join('')
  const lines = [
    `CREATE OR REPLACE ${form.toUpperCase()} ${head}`,
    ...(returns === undefined ? [] : [` RETURNS ${returns}`]),
    ...(said.transform === undefined ? [] : [` TRANSFORM ${said.transform}`]),
    ` LANGUAGE ${language}`,
    ...(words === '' ? [] : [words]),
    ...settings
  ]
  if (said.atomic !== undefined) return [...lines, said.atomic].join('\n')
  let mark = `$${form}$`
  while (said.body?.includes(mark.slice(0, -1))) mark = `${mark.slice(0, -1)}x$`
  const body = `${said.binary === undefined ? '' : `'${said.binary.replaceAll("'", "''")}', `}${mark}${said.body ?? ''}${mark}`
  return [...lines, `AS ${body}`].join('\n')
}

function takeClauses(
  cursor: Cursor,
  args: Argument[],
  printed: Printed,
  reading: Reading,
  note: (type: SaidType) => void
): Clauses {
  const said: Clauses = {
    language: 'sql',
    volatility: '',
    strict: false,
    definer: false,
    leakproof: false,
    window: false,
    parallel: '',
    settings: []
  }
  while (!cursor.done) {
    if (cursor.take('returns', 'null', 'on', 'null', 'input') || cursor.take('strict')) said.strict = true
    else if (cursor.take('called', 'on', 'null', 'input')) said.strict = false
    else if (cursor.take('returns', 'table')) {
      args.push(
        ...cursor
          .group()
          .parts()
          .map((part): Argument => {
            const argument = takeArgument(part, reading)
            note(argument.type)
            return { ...argument, mode: 'TABLE' }
          })
      )
      said.returns = 'TABLE'
    } else if (cursor.take('returns')) {
      const set = cursor.is('setof')
      const type = takeType(cursor, reading)
      note(type)
      said.returns = `${set ? 'SETOF ' : ''}${printed.type(type)}`
    } else if (cursor.take('language')) said.language = reading.write.quote(cursor.nameOrText().toLowerCase())
    else if (cursor.take('immutable')) said.volatility = 'IMMUTABLE'
    else if (cursor.take('stable')) said.volatility = 'STABLE'
    else if (cursor.take('volatile')) said.volatility = ''
    else if (cursor.take('window')) said.window = true
    else if (cursor.take('not', 'leakproof')) said.leakproof = false
    else if (cursor.take('leakproof')) said.leakproof = true
    else if (cursor.take('external')) continue
    else if (cursor.take('security')) said.definer = cursor.next().toLowerCase() === 'definer'
    else if (cursor.take('parallel')) {
      const how = cursor.name().toUpperCase()
      said.parallel = how === 'UNSAFE' ? '' : how
    } else if (cursor.take('cost')) said.cost = cursor.next()
    else if (cursor.take('rows')) said.rows = cursor.next()
    else if (cursor.take('support')) said.support = cursor.path().join('.')
    else if (cursor.take('transform')) said.transform = cursor.until(STOPS)
    else if (cursor.take('set')) said.settings.push(takeSetting(cursor))
    else if (cursor.take('as')) {
      const [first, second] = [takeText(cursor), cursor.take(',') ? takeText(cursor) : undefined]
      if (second === undefined) said.body = first
      else [said.binary, said.body] = [first, second]
    } else if (cursor.is('begin', 'atomic') || cursor.is('return')) {
      said.atomic = fullText(cursor.rest(), reading).text
      while (!cursor.done) cursor.next()
    } else if (cursor.take('with')) {
      // `WITH (isStrict)`, as it was before version 7.3.
      for (const part of cursor.group().parts()) {
        const word = part.word()
        if (word === 'isstrict') said.strict = true
        if (word === 'iscachable') said.volatility = 'IMMUTABLE'
      }
    } else throw new NotUnderstood(`Nothing of a function is said by “${cursor.word()}”.`)
  }
  return said
}

const STOPS = new Set(
  'language immutable stable volatile window strict security parallel cost rows set as begin return'.split(' ')
)
/** A text that a setting's list is made of is printed piece by piece. */
const LISTS = new Set(['search_path', 'temp_tablespaces', 'session_preload_libraries', 'local_preload_libraries'])
/** Settings whose names are kept in capitals, too: `pg_settings`. */
const CAPITALS: Readonly<Record<string, string>> = {
  datestyle: '"DateStyle"',
  intervalstyle: '"IntervalStyle"',
  timezone: '"TimeZone"'
}

function takeSetting(cursor: Cursor): string {
  const name = cursor.path().join('.')
  if (cursor.take('from', 'current')) throw new NotUnderstood(`What ${name} is by then, only the engine knows.`)
  if (!cursor.take('=')) cursor.take('to')
  const values: string[] = []
  do {
    const sign = cursor.take('-') ? '-' : ''
    values.push(sign + (cursor.isName ? cursor.name() : settingText(cursor)))
  } while (cursor.take(','))
  const literal = (text: string) => `'${text.replaceAll("'", "''")}'`
  return ` SET ${CAPITALS[name] ?? name} TO ${LISTS.has(name) ? values.map(literal).join(', ') : literal(values.join(', '))}`
}

const settingText = (cursor: Cursor): string => (cursor.word().startsWith("'") ? takeText(cursor) : cursor.next())

/** What a text constant says: manual, 4.1.2 Constants. */
export function takeText(cursor: Cursor): string {
  const text = cursor.next()
  const dollar = /^\$[^$]*\$/.exec(text)?.[0]
  if (dollar !== undefined) return text.slice(dollar.length, text.endsWith(dollar) ? -dollar.length : undefined)
  if (/^e'/i.test(text)) return unescaped(text.slice(2, -1))
  if (!text.startsWith("'")) throw new NotUnderstood(`A text is expected before “${text.slice(0, 40)}”.`)
  return text.slice(1, -1).replaceAll("''", "'")
}

/** Manual, 4.1.2.2 String Constants with C-Style Escapes. */
const unescaped = (text: string): string =>
  text.replace(
    /\\(?:([bfnrt])|([0-7]{1,3})|x([0-9a-f]{1,2})|u([0-9a-f]{4})|U([0-9a-f]{8})|([\s\S]))|''/gi,
    (all, c?: string, o?: string, x?: string, u?: string, w?: string, rest?: string) => {
      if (all === "''") return "'"
      if (c !== undefined) return { b: '\b', f: '\f', n: '\n', r: '\r', t: '\t' }[c.toLowerCase()] ?? c
      const code = o !== undefined ? parseInt(o, 8) : parseInt(x ?? u ?? w ?? '', 16)
      return rest ?? (code <= 0x10ffff ? String.fromCodePoint(code) : '')
    }
  )

/** A function by its name and, where they are said, the types of what it is called with. */
export function routineNamed(cursor: Cursor, reading: Reading): [address: Address | undefined, name: string] {
  const path = cursor.path()
  const all = reading.routines(path)
  if (cursor.word() !== '(') return [all.length === 1 ? all[0] : undefined, path.join('.')]
  const group = cursor.group()
  const name = `${path.join('.')}(${group.rest()})`
  if (group.is('*')) return [matching(all, [], reading), name]
  const printed = new Printed(reading, false)
  const args = group.parts().map((part) => takeArgument(part, reading))
  return [
    matching(
      all,
      args.filter(isInput).map(({ type }) => printed.type(type)),
      reading
    ),
    name
  ]
}

function matching(all: readonly Address[], types: readonly string[], reading: Reading): Address | undefined {
  return all.find((address) => {
    const { name } = namesOf(address)
    const printed = new Printed(reading, false)
    const args = reading
      .cursor(name.slice(bareLength(name)))
      .group()
      .parts()
      .map((part) => takeArgument(part, reading))
      .filter(isInput)
    return args.length === types.length && args.every(({ type }, i) => printed.type(type) === types[i])
  })
}

/** How long the name is before its parentheses. */
const bareLength = (name: string): number =>
  name.startsWith('"') ? (/^"(?:[^"]|"")*"/.exec(name)?.[0].length ?? 0) : name.indexOf('(')
