// Distances and states in words: the same ones everywhere.
import type { Change } from '../../core/catalog'
import type { Difference, Who } from '../../core/compare'
import type { Design, Target } from '../../core/design'
import { ENGINES } from '../../core/dialects'
import type { TargetStatus } from './desk.svelte'

export type Disc = 'full' | 'half' | 'empty' | 'crossed'

/** How far a target is from the design. `disc` is the shape beside the words. */
export function distance(status: TargetStatus | undefined): { words: string; disc: Disc } {
  switch (status?.state) {
    case undefined:
    case 'not looked':
      return { words: 'not looked at yet', disc: 'empty' }
    case 'looking':
      return { words: 'looking …', disc: 'empty' }
    case 'no database':
      return { words: 'no database', disc: 'empty' }
    case 'unreachable':
      return { words: 'cannot be reached', disc: 'crossed' }
    case 'held back':
      return { words: 'a transaction is open', disc: 'crossed' }
    case 'not signed in':
      return { words: 'sign in to look', disc: 'empty' }
    case 'looked': {
      const counts = countByWho(status.compared?.differences ?? [])
      const words = whoWords.flatMap(({ who, word }) => (counts[who] > 0 ? [`${counts[who]} ${word}`] : []))
      if (words.length === 0) return { words: 'in step', disc: 'full' }
      return { words: words.join(' · '), disc: counts.database + counts.both > 0 ? 'crossed' : 'half' }
    }
  }
}

export type Judged = Who | 'cannot tell'

/** How each kind of difference is called, in the order they are told. */
const whoWords: readonly { readonly who: Judged; readonly word: string }[] = [
  { who: 'design', word: 'behind' },
  { who: 'database', word: 'drifted' },
  { who: 'both', word: 'both' },
  { who: 'not known', word: 'differ' },
  { who: 'cannot tell', word: 'cannot be told' }
]

export const judged = (difference: Difference): Judged =>
  cannotTell(difference.change) ? 'cannot tell' : difference.who

export function countByWho(differences: readonly Difference[]): Record<Judged, number> {
  const counts = { design: 0, database: 0, both: 0, 'not known': 0, 'cannot tell': 0 }
  for (const difference of differences) counts[judged(difference)]++
  return counts
}

/** A difference that may be none: it is shown and never acted on by itself. */
export const cannotTell = (change: Change): boolean => change.action === 'alter' && !change.certain

export const engineLabel = (target: Pick<Target, 'engine' | 'version'>): string =>
  `${ENGINES.find((engine) => engine.id === target.engine)?.label ?? target.engine} ${target.version}`

/** Where a target's database is, in a word. */
export const whereabouts = (target: Target): string =>
  target.connection === 'embedded'
    ? (ENGINES.find(({ id }) => id === target.engine)?.here ?? 'embedded')
    : target.connection === 'server'
      ? (target.server?.host ?? 'a server')
      : 'scripts only'

/** Milliseconds, as far as they tell anybody anything. */
export const duration = (ms: number): string => (ms < 1 ? 'under 1 ms' : `${Math.round(ms).toLocaleString('en')} ms`)

/** `1 entity`, `3 entities`. */
export const count = (n: number, one: string, many: string): string =>
  `${n.toLocaleString('en')} ${n === 1 ? one : many}`

export const entityCount = (design: Design): string => count(Object.keys(design.entities).length, 'entity', 'entities')

/** The day in the calendar on the wall: `2026-11-26`. */
export const today = (): string => {
  const now = new Date()
  const two = (n: number) => String(n).padStart(2, '0')
  return `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`
}
