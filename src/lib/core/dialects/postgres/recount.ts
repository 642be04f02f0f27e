// How a column that the engine numbers counts from now on: manual, ALTER TABLE and CREATE SEQUENCE.
import type { Column, Counting, Table } from '../../catalog'
import type { StepDraft, Writer } from '../dialect'
import { altered, hazard } from '../standard'

const isDown = ({ increment }: Counting) => increment?.startsWith('-') === true
/** Where it begins, where nothing is said: at its least number going up, at its greatest going down. */
const startOf = (counting: Counting) =>
  counting.start ?? (isDown(counting) ? (counting.max ?? '-1') : (counting.min ?? '1'))

/** What the new limits are, where they leave out numbers that the old ones have; the number in between is brought inside. */
function brought(was: Counting, now: Counting): string | undefined {
  const low = (counting: Counting) => counting.min ?? (isDown(counting) ? undefined : '1')
  const high = (counting: Counting) => counting.max ?? (isDown(counting) ? '-1' : undefined)
  const [least, most] = [low(now), high(now)]
  const raised = least !== undefined && least !== low(was) && `greatest($, ${least})`
  const lowered = most !== undefined && most !== high(was) && `least($, ${most})`
  if (!raised && !lowered) return undefined
  return [raised, lowered].reduce<string>((value, limit) => (limit ? limit.replace('$', value) : value), 'last_value')
}

export function recount({ quote, table: place }: Writer, table: Table, from: Column, to: Column): StepDraft[] {
  const [was, now] = [from.counting ?? {}, to.counting ?? {}]
  const turned = isDown(was) !== isDown(now)
  const set = <K extends keyof Counting>(key: K, clause: string, also = false) =>
    was[key] === now[key] && !also ? [] : [`SET ${clause}`]
  const limit = (key: 'min' | 'max') => {
    const word = `${key.toUpperCase()}VALUE`
    return set(key, now[key] === undefined ? `NO ${word}` : `${word} ${now[key]}`, turned)
  }
  const clauses = [
    ...(startOf(was) === startOf(now) && !turned ? [] : [`SET START WITH ${startOf(now)}`]),
    ...set('increment', `INCREMENT BY ${now.increment ?? '1'}`),
    ...set('cache', `CACHE ${now.cache ?? '1'}`),
    ...limit('min'),
    ...limit('max'),
    ...set('cycle', now.cycle ? 'CYCLE' : 'NO CYCLE'),
    // No number that was given out going one way is between the limits of the other.
    ...(turned ? ['RESTART'] : [])
  ]
  const renamed = was.name !== undefined && now.name !== undefined && was.name !== now.name
  const name = now.name ?? was.name
  const counting: Counting = name === undefined ? now : { ...now, name }
  const sequence = place(table.schema, name ?? `${table.name}_${from.name}_seq`)
  const value = turned ? undefined : brought(was, now)
  const statements = [
    ...(renamed ? [`ALTER SEQUENCE ${place(table.schema, was.name ?? '')} RENAME TO ${quote(now.name ?? '')}`] : []),
    ...(value === undefined
      ? []
      : [
          `SELECT setval('${sequence.replaceAll("'", "''")}', ${value}, is_called AND last_value = ${value}) FROM ${sequence}`
        ]),
    ...(clauses.length
      ? [`ALTER TABLE ${place(table.schema, table.name)} ALTER COLUMN ${quote(from.name)} ${clauses.join(' ')}`]
      : [])
  ]
  const effect = altered(table, 'column', from.name, 'counting', from.counting, counting)
  const undone =
    value === undefined && !turned
      ? []
      : [hazard('cannot be undone', 'the way back does not bring the number back that it has come to')]
  return statements.map((statement, i) => ({
    statement,
    why: `how ${from.name} is numbered`,
    effects: i === statements.length - 1 ? [effect] : [],
    about: effect.address,
    hazards: undone
  }))
}
