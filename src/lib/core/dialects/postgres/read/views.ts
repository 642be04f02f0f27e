// Views, and what stands in a table or view by its own text: manual, CREATE VIEW, CREATE MATERIALIZED VIEW, CREATE TRIGGER,
// CREATE RULE, CREATE POLICY.
import {
  addressOf,
  isView,
  namesOf,
  type Policy,
  type Ref,
  type Table,
  type Trigger,
  type View
} from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { bareRoutine, type Reading } from './reading'
import { settingsIn } from './settings'
import { mustBeSound } from './sound'
import { fullText, type SaidText } from './texts'

interface Made {
  readonly replace: boolean
  readonly materialized?: boolean
  readonly recursive?: boolean
}

/** After CREATE … VIEW. */
export function createView(
  cursor: Cursor,
  { replace, materialized = false, recursive = false }: Made,
  reading: Reading
): void {
  const gently = cursor.take('if', 'not', 'exists')
  const place = reading.home(cursor.path())
  const old = reading.standing.free('view', place.schema, place.name)
  if (gently && reading.isTaken(place.schema, place.name)) return
  if (old ? !replace : reading.isTaken(place.schema, place.name))
    throw new NotUnderstood(`There is a table or view ${place.name} in ${place.schema} already.`)
  const columns = cursor.word() === '(' ? cursor.names() : []
  const options: Record<string, string> = {}
  if (cursor.take('using')) {
    const method = cursor.name()
    if (method !== 'heap') options['access method'] = method
  }
  if (cursor.take('with')) Object.assign(options, settingsIn(cursor.group()))
  if (cursor.take('tablespace')) options['tablespace'] = cursor.name()
  cursor.expect('as')
  const said = withoutEnd(cursor.rest(), options)
  const { quote } = reading.write
  const named = recursive || columns.length === 0 ? undefined : withNames(said, columns, reading)
  const text = named ?? said
  const list = columns.map(quote).join(', ')
  const query = recursive
    ? `WITH RECURSIVE ${quote(place.name)}(${list}) AS (${text}) SELECT ${list} FROM ${quote(place.name)}`
    : text
  const { text: full, refs } = fullText(query, reading)
  const view: View = {
    ...place,
    query: full,
    ...(columns.length && !recursive && named === undefined ? { columns } : {}),
    ...(materialized ? { materialized: true as const } : {}),
    ...(Object.keys(options).length ? { options } : {}),
    ...(refs ? { refs } : {})
  }
  if (!old) return reading.create('view', view)
  const { comment, owner, rights, notes, indexes, triggers, rules } = old
  const kept = { comment, owner, rights, notes, indexes, triggers, rules }
  reading.replace('view', {
    ...Object.fromEntries(Object.entries(kept).filter(([, value]) => value !== undefined)),
    ...view
  })
}

/** The names of a view's head, each said in its query, where that lists as many: nothing where it does not. */
function withNames(query: string, columns: readonly string[], reading: Reading): string | undefined {
  const cursor = reading.cursor(query)
  if (!cursor.take('select') || cursor.is('distinct') || cursor.is('all')) return undefined
  const [items, rest] = [cursor.until(ENDS), cursor.rest()]
  const parts = reading.cursor(items).parts()
  if (parts.length !== columns.length || parts.some((part) => part.rest().endsWith('*'))) return undefined
  const { quote } = reading.write
  const names = parts.map((part, i) => {
    const tokens = part.copy().left()
    const value = part.until(AS)
    const [last, before] = [tokens.at(-1), tokens.at(-2)]
    // `count(*) n`: what stands last is a name already.
    const isNamed =
      part.done &&
      before !== undefined &&
      last?.kind === 'word' &&
      !/^end$/i.test(last.text) &&
      /[\w)"']$/.test(before.text)
    return isNamed ? undefined : `${value} AS ${quote(columns[i] ?? '')}`
  })
  return names.includes(undefined) ? undefined : `SELECT ${names.join(', ')} ${rest}`.trimEnd()
}
const ENDS = new Set([
  'from',
  'where',
  'group',
  'having',
  'window',
  'union',
  'intersect',
  'except',
  'order',
  'limit',
  'offset',
  'fetch',
  'for'
])
const AS = new Set(['as'])

/** What stands behind a view's query is an option of it. */
function withoutEnd(text: string, options: Record<string, string>): string {
  const end = /\s+with\s+(?:(local|cascaded)\s+)?(?:(check\s+option)|(no\s+data)|data)\s*$/i.exec(text)
  if (!end) return text
  if (end[2] !== undefined) options['check_option'] = (end[1] ?? 'cascaded').toLowerCase()
  else if (end[3] !== undefined) options['no data'] = 'yes'
  return text.slice(0, end.index)
}

const homeAt = (path: readonly string[], reading: Reading): Table | View => {
  const found = reading.relation(path)
  if (!found) throw new NotUnderstood(`There is no table or view ${path.join('.')} for it to be on.`)
  return found
}

/** A text with what it calls, in the words of the server's own print. */
const conditionText = (cursor: Cursor, home: Table | View, reading: Reading): SaidText => {
  const text = cursor.inside()
  mustBeSound(text, reading)
  return fullText(text, reading, isView(home) ? undefined : home)
}

/** After CREATE [OR REPLACE] [CONSTRAINT] TRIGGER; printed as `pg_get_triggerdef` does. */
export function createTrigger(cursor: Cursor, { replace }: Made, constraint: boolean, reading: Reading): void {
  const name = cursor.name()
  const { quote, table: place } = reading.write
  const when = cursor.takeOne('before', 'after') ?? (cursor.take('instead', 'of') ? 'instead of' : undefined)
  if (when === undefined) throw new NotUnderstood(`When the trigger acts is expected ${cursor.here()}.`)
  const events: string[] = []
  const columns: string[] = []
  do {
    const event = cursor.takeOne('insert', 'update', 'delete', 'truncate')?.toUpperCase()
    if (event === undefined) throw new NotUnderstood(`On what the trigger acts is expected ${cursor.here()}.`)
    if (event === 'UPDATE' && cursor.take('of')) {
      do columns.push(cursor.name())
      while (cursor.take(','))
    }
    events.push(event)
  } while (cursor.take('or'))
  cursor.expect('on')
  const home = homeAt(cursor.path(), reading)
  let from = ''
  if (cursor.take('from')) {
    const parent = homeAt(cursor.path(), reading)
    from = ` FROM ${place(parent.schema, parent.name)}`
  }
  let [deferrable, deferred] = [false, false]
  for (;;) {
    if (cursor.take('not', 'deferrable')) deferrable = false
    else if (cursor.take('deferrable')) deferrable = true
    else if (cursor.take('initially', 'deferred')) deferred = true
    else if (cursor.take('initially', 'immediate')) deferred = false
    else break
  }
  const tables: string[] = []
  if (cursor.take('referencing'))
    while (cursor.is('old') || cursor.is('new')) {
      const which = cursor.next().toUpperCase()
      cursor.takeOne('table', 'row')
      cursor.take('as')
      tables.push(`${which} TABLE AS ${quote(cursor.name())}`)
    }
  let each = 'STATEMENT'
  if (cursor.take('for')) {
    if (!cursor.take('each') && constraint) cursor.expect('each')
    each = cursor.takeOne('row', 'statement')?.toUpperCase() ?? ''
    if (each === '') throw new NotUnderstood(`“ROW” or “STATEMENT” is expected ${cursor.here()}.`)
  }
  if (constraint && (when !== 'after' || each !== 'ROW'))
    throw new NotUnderstood('A constraint trigger acts after each row.')
  if (!constraint && (deferrable || deferred || from !== ''))
    throw new NotUnderstood('Only a constraint trigger can be put off.')
  const refs = new Map<string, Ref>()
  const note = ({ refs: found = [] }: Pick<SaidText, 'refs'>) => {
    for (const ref of found) refs.set(JSON.stringify(ref.to), ref)
  }
  let condition = ''
  if (cursor.take('when')) {
    const said = conditionText(cursor, home, reading)
    note(said)
    condition = ` WHEN (${said.text})`
  }
  cursor.expect('execute')
  if (!cursor.takeOne('function', 'procedure'))
    throw new NotUnderstood(`Which function is called is expected ${cursor.here()}.`)
  const path = cursor.path()
  const [routine] = reading.routines(path)
  if (routine) note({ refs: [{ to: routine }] })
  for (const column of columns) note({ refs: [{ to: addressOf('column', home.schema, home.name, column) }] })
  const calls = routine
    ? `${quote(namesOf(routine).schema)}.${quote(bareRoutine(namesOf(routine).name))}`
    : path.map(quote).join('.')
  const args = cursor
    .group()
    .parts()
    .map((part) => {
      const text = part.next()
      part.finish()
      return text.startsWith("'") ? text : `'${text}'`
    })
  cursor.finish()
  const ordered = ['INSERT', 'DELETE', 'UPDATE', 'TRUNCATE'].filter((event) => events.includes(event))
  const said = ordered.map((event) =>
    event === 'UPDATE' && columns.length ? `UPDATE OF ${columns.map(quote).join(', ')}` : event
  )
  const trigger: Trigger = {
    name,
    definition:
      `CREATE ${constraint ? 'CONSTRAINT ' : ''}TRIGGER ${quote(name)} ${when.toUpperCase()} ${said.join(' OR ')} ON ${place(home.schema, home.name)}` +
      (constraint
        ? `${from} ${deferrable || deferred ? '' : 'NOT '}DEFERRABLE INITIALLY ${deferred ? 'DEFERRED' : 'IMMEDIATE'}`
        : '') +
      (tables.length ? ` REFERENCING ${tables.join(' ')}` : '') +
      ` FOR EACH ${each}${condition} EXECUTE FUNCTION ${calls}(${args.join(', ')})`,
    ...(refs.size ? { refs: [...refs.values()] } : {})
  }
  put(home, 'trigger', trigger, replace, reading)
}

function put(home: Table | View, kind: 'trigger' | 'rule', value: Trigger, replace: boolean, reading: Reading): void {
  const address = addressOf(kind, home.schema, home.name, value.name)
  const old = reading.standing.find(address)
  if (old && !replace) throw new NotUnderstood(`There is a ${kind} ${value.name} on ${home.name} already.`)
  if (old) reading.drop(address)
  reading.add(home, kind, value)
}

/** After CREATE [OR REPLACE] RULE. */
export function createRule(cursor: Cursor, { replace }: Made, reading: Reading): void {
  const name = cursor.name()
  const text = cursor.rest()
  cursor.expect('as')
  cursor.expect('on')
  cursor.next()
  cursor.expect('to')
  const home = homeAt(cursor.path(), reading)
  const { quote } = reading.write
  const { text: full, refs } = fullText(`CREATE RULE ${quote(name)} ${ruleTarget(text, home, reading)}`, reading)
  put(home, 'rule', { name, definition: full, ...(refs ? { refs } : {}) }, replace, reading)
}

/** The table of a rule, named in full; what is done beside what was asked says so. */
function ruleTarget(text: string, home: Table | View, reading: Reading): string {
  const to = reading.cursor(text)
  to.expect('as')
  to.expect('on')
  const event = to.next().toUpperCase()
  to.expect('to')
  to.path()
  const where = to.rest()
  return `AS ON ${event} TO ${reading.write.table(home.schema, home.name)} ${where}`
}

const COMMANDS = ['all', 'select', 'insert', 'update', 'delete'] as const

/** After CREATE POLICY. */
export function createPolicy(cursor: Cursor, reading: Reading): void {
  const name = cursor.name()
  cursor.expect('on')
  const home = homeAt(cursor.path(), reading)
  const restrictive = cursor.take('as') && cursor.next().toLowerCase() === 'restrictive'
  const command = (cursor.take('for') && cursor.takeOne(...COMMANDS)) || 'all'
  const roles: string[] = []
  if (cursor.take('to'))
    do roles.push(roleName(cursor, reading))
    while (cursor.take(','))
  const refs = new Map<string, Ref>()
  const condition = () => {
    const { text, refs: found = [] } = conditionText(cursor, home, reading)
    for (const ref of found) refs.set(JSON.stringify(ref.to), ref)
    return `(${text})`
  }
  const using = cursor.take('using') ? ` USING ${condition()}` : ''
  const check = cursor.take('with', 'check') ? ` WITH CHECK ${condition()}` : ''
  cursor.finish()
  const policy: Policy = {
    name,
    definition: `${restrictive ? 'AS RESTRICTIVE ' : ''}FOR ${command.toUpperCase()} TO ${roles.length ? roles.join(', ') : 'PUBLIC'}${using}${check}`,
    ...(refs.size ? { refs: [...refs.values()] } : {})
  }
  const address = addressOf('policy', home.schema, home.name, name)
  if (reading.standing.find(address)) throw new NotUnderstood(`There is a policy ${name} on ${home.name} already.`)
  reading.add(home, 'policy', policy)
}

/** A role as the server prints it. */
function roleName(cursor: Cursor, reading: Reading): string {
  const isWord = !cursor.word().startsWith('"')
  const name = cursor.name()
  return isWord && /^(public|current_user|session_user|current_role)$/.test(name)
    ? name.toUpperCase()
    : reading.write.quote(name)
}
