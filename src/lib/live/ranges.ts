// A statement on many rows, sent range by range: what waits for one waits no longer, and what was cut off is not begun anew.
import type { InRanges } from '../core/dialects'
import type { LiveDatabase, StatementOutcome } from './database'

/** How far a statement has come: the end of its last range, as its dialect writes it, and the rows changed up to there. */
export interface Reached {
  readonly upTo: string
  readonly affected: number
}

interface Going {
  readonly from: Reached | undefined
  /** Told, and waited for, after each range but the last. */
  readonly onRange: (reached: Reached, time: number) => Promise<void>
  /** Asked between ranges. */
  readonly cancelled: () => boolean
}

/** What became of it in all; nothing where it was asked to stop on the way. Rows are counted with those of before. */
export async function sendInRanges(
  ranges: InRanges,
  live: LiveDatabase,
  { from, onRange, cancelled }: Going
): Promise<StatementOutcome | undefined> {
  let [after, affected, time] = [from?.upTo, from?.affected ?? 0, 0]
  for (;;) {
    const [row] = (await live.query(ranges.end(after), { readOnly: true })).rows
    const end = row && ranges.endIn(row)
    // An end that does not lie behind the last one leads nowhere: what is left is one range.
    const upTo = end === after ? undefined : end
    const [outcome] = await live.run([ranges.within(after, upTo)], { later: upTo !== undefined })
    time += outcome?.time ?? 0
    if (!outcome?.ok) return outcome
    affected += outcome.affected
    if (upTo === undefined) return { ok: true, time, affected }
    after = upTo
    await onRange({ upTo, affected }, time)
    if (cancelled()) return undefined
  }
}
