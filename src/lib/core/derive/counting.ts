// Where the numbers of an identifier begin, and how they go on.
import type { Column, Counting } from '../catalog'
import type { Entity } from '../design'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import type { LogicalColumn } from './logical'

/** How a column is numbered. Errors: `identifier-start` where it begins beyond its type; warnings: `not-kept`. */
export function numbered(
  { name, type, origin }: LogicalColumn,
  { start, step }: NonNullable<Entity['identifier']> = {},
  { profile: { features, label } }: Dialect,
  notices: Notice[]
): Pick<Column, 'identity' | 'counting'> {
  const identity = 'by default' as const
  if (start === undefined && step === undefined) return { identity }
  const most = { small: 2 ** 15, integer: 2 ** 31 }[type.kind as 'small' | 'integer'] ?? Number.MAX_SAFE_INTEGER
  if (start !== undefined && (start < -most || start >= most)) {
    notices.push({
      code: 'identifier-start',
      severity: 'error',
      where: origin.id,
      message: `${name} cannot begin at ${start}: ${type.kind} ends before that.`
    })
    return { identity }
  }
  if (features.counts === 'whole') return { identity, counting: countingOf(start, step) }
  const begins = features.counts === 'as made' && start !== undefined && start > 0
  if (!begins || (step !== undefined && step !== 1))
    notices.push({
      code: 'not-kept',
      severity: 'warning',
      where: origin.id,
      message: `${label} is not told ${begins ? `how ${name} goes on: each is one more` : `where ${name} begins and how it goes on: it begins at 1`}.`
    })
  return { identity, ...(begins && start !== 1 ? { counting: { start: String(start) } } : {}) }
}

/**
 * Counting as the standard has it (ISO/IEC 9075-2, "sequence generator definition"): it begins at its least number going up and
 * at its greatest going down, 1 and -1 where nothing is said; what goes beyond them must say its end instead.
 */
function countingOf(start: number | undefined, step = 1): Counting {
  const usual = step > 0 ? 1 : -1
  const beyond = start !== undefined && (step > 0 ? start < usual : start > usual)
  return {
    ...(step === 1 ? {} : { increment: String(step) }),
    ...(start === undefined || start === usual
      ? {}
      : beyond
        ? { [step > 0 ? 'min' : 'max']: String(start) }
        : { start: String(start) })
  }
}
