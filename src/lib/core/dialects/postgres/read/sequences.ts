// Sequences, and how numbers are counted: manual, CREATE SEQUENCE, ALTER SEQUENCE.
import { freeAddress, type Counting, type Options, type Sequence } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { countingOf } from '../relations'
import type { Row } from '../rows'
import type { Reading } from './reading'
import { takeType } from './types'

/** What is said of a sequence, as the server keeps it once it is worked out. */
export interface SaidCounting {
  type?: string
  increment?: string
  min?: string | undefined
  max?: string | undefined
  start?: string
  cache?: string
  cycle?: boolean
  ownedBy?: Sequence['ownedBy'] | 'none'
  name?: string
}

const LIMITS: Readonly<Record<string, readonly [least: string, most: string]>> = {
  smallint: ['-32768', '32767'],
  integer: ['-2147483648', '2147483647'],
  bigint: ['-9223372036854775808', '9223372036854775807']
}

const number = (cursor: Cursor): string => {
  const sign = cursor.takeOne('-', '+') === '-' ? '-' : ''
  if (!/^\d+$/.test(cursor.word())) throw new NotUnderstood(`A whole number is expected ${cursor.here()}.`)
  return sign + cursor.next()
}

/** Takes one clause of a sequence; false where none stands here. */
export function takeCounting(cursor: Cursor, to: SaidCounting, reading: Reading): boolean {
  if (cursor.take('as')) to.type = takeType(cursor, reading).type.name
  else if (cursor.take('increment')) {
    cursor.take('by')
    to.increment = number(cursor)
  } else if (cursor.take('minvalue')) to.min = number(cursor)
  else if (cursor.take('maxvalue')) to.max = number(cursor)
  else if (cursor.take('no', 'minvalue')) to.min = undefined
  else if (cursor.take('no', 'maxvalue')) to.max = undefined
  else if (cursor.take('no', 'cycle')) to.cycle = false
  else if (cursor.take('cycle')) to.cycle = true
  else if (cursor.take('start')) {
    cursor.take('with')
    to.start = number(cursor)
  } else if (cursor.take('restart')) {
    // Where it stands is no part of what it is.
    cursor.take('with')
    if (/^[-+\d]/.test(cursor.word())) number(cursor)
  } else if (cursor.take('cache')) to.cache = number(cursor)
  else if (cursor.take('sequence', 'name')) to.name = cursor.path().at(-1) ?? ''
  else if (cursor.take('owned', 'by')) {
    const path = cursor.path()
    if (path.length === 1 && path[0]?.toLowerCase() === 'none') to.ownedBy = 'none'
    else {
      const table = reading.table(path.slice(0, -1))
      to.ownedBy = { schema: table.schema, table: table.name, column: path.at(-1) ?? '' }
    }
  } else return false
  return true
}

/** What is not as the server would count by itself. */
export function counted(said: SaidCounting): Omit<Counting, 'name'> {
  return countingOf(whole(said))
}

function whole({ type = 'bigint', increment = '1', min, max, start, cache = '1', cycle = false }: SaidCounting): Row {
  const down = increment.startsWith('-')
  const [least = '', most = ''] = LIMITS[type] ?? []
  const [low, high] = [min ?? (down ? least : '1'), max ?? (down ? '-1' : most)]
  return { type, increment, min: low, max: high, start: start ?? (down ? high : low), cache, cycle }
}

const settings = (
  { schema, name }: Sequence,
  said: SaidCounting,
  options: Options | undefined,
  rest: Partial<Sequence>
) => ({
  ...rest,
  schema,
  name,
  ...(said.type === undefined || said.type === 'bigint' ? {} : { type: said.type }),
  ...counted(said),
  ...(options ? { options } : {}),
  ...(said.ownedBy === undefined || said.ownedBy === 'none' ? {} : { ownedBy: said.ownedBy })
})

export function createSequence(cursor: Cursor, reading: Reading, options?: Options): void {
  const gently = cursor.take('if', 'not', 'exists')
  const place = reading.home(cursor.path())
  if (gently && reading.isTaken(place.schema, place.name)) return
  const said: SaidCounting = {}
  while (!cursor.done)
    if (!takeCounting(cursor, said, reading))
      throw new NotUnderstood(`Nothing of a sequence is said by “${cursor.word()}”.`)
  reading.create('sequence', settings(place, said, options, {}))
}

/** What is said of a sequence once more goes on top of what it was. */
export function alterSequence(sequence: Sequence, cursor: Cursor, reading: Reading): void {
  const { type, start, increment, min, max, cache, cycle, ownedBy, options, ...rest } = sequence
  const was: SaidCounting = {
    ...(type === undefined ? {} : { type }),
    ...(start === undefined ? {} : { start }),
    ...(increment === undefined ? {} : { increment }),
    ...(min === undefined ? {} : { min }),
    ...(max === undefined ? {} : { max }),
    ...(cache === undefined ? {} : { cache }),
    ...(cycle === undefined ? {} : { cycle }),
    ...(ownedBy === undefined ? {} : { ownedBy })
  }
  // Where it starts was settled when it was made.
  const said: SaidCounting = { ...was, start: String(whole(was)['start']) }
  while (!cursor.done)
    if (!takeCounting(cursor, said, reading))
      throw new NotUnderstood(`Nothing of a sequence is said by “${cursor.word()}”.`)
  reading.drop(freeAddress('sequence', sequence))
  reading.create('sequence', settings(sequence, said, options, rest))
}
