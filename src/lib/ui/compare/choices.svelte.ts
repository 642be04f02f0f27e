// Which way each difference goes: written to the database, taken into the design, or left.
import type { Difference } from '../../core/compare'
import { judged, type Judged } from '../desk/words'

export type Direction = 'write' | 'take' | 'leave'

/**
 * What is done when nobody says otherwise: what the design changed is written. What the database changed, what both
 * changed and what cannot be told is left until a person says; so is what would lose rows where nobody knows who.
 */
export function usual(difference: Difference): Direction {
  const { change } = difference
  const holdsRows = change.action === 'drop' && (change.address.kind === 'table' || change.address.kind === 'column')
  switch (judged(difference)) {
    case 'design':
      return 'write'
    case 'not known':
      return holdsRows ? 'leave' : 'write'
    default:
      return 'leave'
  }
}

export class Choices {
  private said = $state.raw<ReadonlyMap<string, Direction>>(new Map())
  /** Only differences of this kind are shown. */
  shown = $state<Judged | 'all'>('all')

  of(difference: Difference): Direction {
    return this.said.get(difference.key) ?? usual(difference)
  }

  set(keys: readonly string[], direction: Direction) {
    const said = new Map(this.said)
    for (const key of keys) said.set(key, direction)
    this.said = said
  }

  /** Keys of the differences that go one way, in order. */
  keys(differences: readonly Difference[], direction: Direction): string[] {
    return differences.filter((difference) => this.of(difference) === direction).map((difference) => difference.key)
  }

  isShown = (difference: Difference): boolean => this.shown === 'all' || judged(difference) === this.shown
}
