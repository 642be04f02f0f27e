// Subtypes within their supertype's card, for a notation that has them so: beneath its rows, one below the other.
import type { Subtypes } from '../design'
import { drawn } from './card'
import type { CardForm } from './notation'
import type { PlacedCard } from './picture'

const [AROUND, BETWEEN] = [12, 10]

/** The cards, outer before inner, and the ids of the groups that are told so: a row is of just one of their subtypes. */
export function nest(
  cards: readonly PlacedCard[],
  groups: readonly Subtypes[],
  form: CardForm
): { cards: PlacedCard[]; groups: string[] } {
  const byId = new Map(cards.map((card) => [card.id, card]))
  const home = new Map<string, string>()
  const isAbove = (id: string, other: string): boolean => {
    for (let at: string | undefined = other; at !== undefined; at = home.get(at)) if (at === id) return true
    return false
  }
  const told: string[] = []
  const inside = new Map<string, string[]>()
  for (const { id, supertype, subtypes, complete, exclusive } of groups) {
    const fits =
      complete && exclusive && byId.has(supertype) && subtypes.every((one) => byId.has(one) && !home.has(one))
    if (!fits || inside.has(supertype) || subtypes.some((one) => isAbove(one, supertype))) continue
    told.push(id)
    inside.set(supertype, [...subtypes])
    for (const one of subtypes) home.set(one, supertype)
  }
  if (told.length === 0) return { cards: [...cards], groups: [] }

  const sizes = new Map<string, { width: number; height: number }>()
  const sizeOf = (card: PlacedCard): { width: number; height: number } => {
    const known = sizes.get(card.id)
    if (known) return known
    const parts = (inside.get(card.id) ?? []).flatMap((id) => byId.get(id) ?? []).map(sizeOf)
    const size = {
      width: Math.max(card.width, ...parts.map(({ width }) => width + 2 * AROUND)),
      height: parts.reduce((sum, { height }) => sum + height + BETWEEN, card.height)
    }
    sizes.set(card.id, size)
    return size
  }
  const placed: PlacedCard[] = []
  const put = (card: PlacedCard, x: number, y: number, width: number, within?: string) => {
    const { height } = sizeOf(card)
    const parts = (inside.get(card.id) ?? []).flatMap((id) => byId.get(id) ?? [])
    const sized = width === card.width && height === card.height ? card : drawn({ ...card, width, height }, form)
    placed.push({ ...card, ...sized, x, y, ...(within === undefined ? {} : { within }) })
    let below = y + card.height
    for (const part of parts) {
      put(part, x + AROUND, below, width - 2 * AROUND, within ?? card.id)
      below += sizeOf(part).height + BETWEEN
    }
  }
  for (const card of cards) if (!home.has(card.id)) put(card, card.x, card.y, sizeOf(card).width)
  return { cards: placed, groups: told }
}
