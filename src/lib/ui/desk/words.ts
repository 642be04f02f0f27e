// Distances and states in words: the same ones everywhere.
import type { Change } from '../../core/catalog'
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
    case 'looked': {
      const changes = status.compared?.changes ?? []
      const unsure = changes.filter(cannotTell).length
      const behind = changes.length - unsure
      if (behind === 0 && unsure === 0) return { words: 'in step', disc: 'full' }
      const words = [behind > 0 && `${behind} behind`, unsure > 0 && `${unsure} cannot be told`].filter(Boolean)
      return { words: words.join(' · '), disc: 'half' }
    }
  }
}

/** A difference that may be none: it is shown and never acted on by itself. */
export const cannotTell = (change: Change): boolean => change.action === 'alter' && !change.certain

export const engineLabel = (target: Target): string =>
  `${ENGINES.find((engine) => engine.id === target.engine)?.label ?? target.engine} ${target.version}`

/** `1 entity`, `3 entities`. */
export const count = (n: number, one: string, many: string): string =>
  `${n.toLocaleString('en')} ${n === 1 ? one : many}`

export const entityCount = (design: Design): string => count(Object.keys(design.entities).length, 'entity', 'entities')
