// CREATE AGGREGATE, in its older form too: manual, of that name.
import { namesOf, type Routine } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { aggregateStatement } from '../others'
import type { Row } from '../rows'
import { bareRoutine, type Reading } from './reading'
import { Printed, takeArgument, takeText, type Argument } from './routines'
import { takeType } from './types'

/** After CREATE [OR REPLACE] AGGREGATE. */
export function createAggregate(cursor: Cursor, replace: boolean, reading: Reading): void {
  const { schema, name } = reading.home(cursor.path())
  const printed = new Printed(reading, false)
  const first = cursor.group()
  const old = cursor.word() !== '('
  const settings = (old ? first : cursor.group()).parts()
  const said = new Map<string, string>()
  const asType = new Set(['stype', 'mstype', 'basetype'])
  let args: Argument[] = []
  for (const part of settings) {
    const key = part.name().toLowerCase()
    if (!part.take('=')) {
      said.set(key, 'true')
      continue
    }
    if (key === 'basetype' && !/^("?any"?|'any')$/i.test(part.rest()))
      args = [{ mode: '', name: undefined, type: takeType(part, reading) }]
    else if (asType.has(key)) said.set(key, printed.type(takeType(part, reading)))
    else if (
      /^(sfunc|finalfunc|combinefunc|serialfunc|deserialfunc|msfunc|minvfunc|mfinalfunc|sfunc1|stype1)$/.test(key)
    ) {
      const path = part.path()
      const [found] = reading.routines(path)
      const { quote } = reading.write
      said.set(
        key.replace(/1$/, ''),
        found
          ? `${quote(namesOf(found).schema)}.${quote(bareRoutine(namesOf(found).name))}`
          : path
              .filter((n) => n !== 'pg_catalog')
              .map(quote)
              .join('.')
      )
    } else if (/^m?initcond1?$/.test(key)) said.set(key.replace(/1$/, ''), takeText(part))
    else said.set(key, part.rest())
  }
  if (!old) args = first.is('*') ? [] : orderedParts(first, reading)
  const text = printed.list(args, false)
  const lower = Object.fromEntries(AGGREGATE.map((key) => [key, said.get(key.toLowerCase()) ?? null]))
  const row: Row = { schema, name: `${reading.write.quote(name)}(${text})` }
  const aggregate: Row = {
    ...lower,
    arguments: text,
    kind: said.has('hypothetical') ? 'h' : 'n',
    parallel: { safe: 's', restricted: 'r' }[(said.get('parallel') ?? '').toLowerCase()] ?? 'u',
    FINALFUNC_EXTRA: said.has('finalfunc_extra'),
    MFINALFUNC_EXTRA: said.has('mfinalfunc_extra'),
    FINALFUNC_MODIFY: modifies(said.get('finalfunc_modify')),
    MFINALFUNC_MODIFY: modifies(said.get('mfinalfunc_modify')),
    SORTOP: said.get('sortop') ?? null
  }
  const routine: Routine = {
    schema,
    name: `${reading.write.quote(name)}(${text})`,
    form: 'aggregate',
    definition: aggregateStatement(row, aggregate),
    signature: `${text} → ${resultOf(said, args, printed, reading)}`
  }
  const there = reading.standing.free('routine', schema, routine.name)
  if (there && !replace) throw new NotUnderstood(`There is an aggregate ${routine.name} already.`)
  if (there) reading.replace('routine', routine)
  else reading.create('routine', routine)
}

/** What an aggregate gives: what its last function gives, or what it has come to by then. */
function resultOf(
  said: ReadonlyMap<string, string>,
  args: readonly Argument[],
  printed: Printed,
  reading: Reading
): string {
  const last = said.get('finalfunc')
  const state = said.get('stype') ?? ''
  const [found] = last === undefined ? [] : reading.routines(reading.cursor(last).path())
  const signature = found && (reading.standing.find(found) as Routine | undefined)?.signature
  const given = signature?.slice(signature.lastIndexOf(' → ') + 3)
  const [first] = args
  // Of what it is called with, where that can be any type.
  if (given === undefined || /^any/.test(given))
    return /^any/.test(state) && first ? printed.type(first.type).replace(/^anyelement$/, 'anyarray') : state
  return given
}

const AGGREGATE = (
  'SFUNC STYPE SSPACE FINALFUNC FINALFUNC_EXTRA FINALFUNC_MODIFY COMBINEFUNC SERIALFUNC DESERIALFUNC INITCOND MSFUNC MINVFUNC MSTYPE ' +
  'MSSPACE MFINALFUNC MFINALFUNC_EXTRA MFINALFUNC_MODIFY MINITCOND SORTOP'
).split(' ')

const modifies = (said: string | undefined) => ({ shareable: 's', read_write: 'w' })[(said ?? '').toLowerCase()] ?? 'r'

/** `(a int ORDER BY b int)`. */
function orderedParts(group: Cursor, reading: Reading): Argument[] {
  return group.parts().flatMap((part) => {
    const text = part.rest()
    if (/\border\s+by\b/i.test(text)) throw new NotUnderstood('Ordered-set aggregates are not read.')
    return [takeArgument(part, reading)]
  })
}
