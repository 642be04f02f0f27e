// Which object of a design a line of a text is: by its name, then by its place, then by its likeness. So a name that is changed
// in place is a new name, and no other object.

interface Called {
  readonly name: string
}

/**
 * For each wanted one, in order, the old one that it is. `like` tells how alike two are, from 0 to 1; two of less than a half
 * are not one.
 */
export function matched<W extends Called, O extends Called>(
  wanted: readonly W[],
  old: readonly O[],
  like: (a: W, b: O) => number
): Map<W, O> {
  const pairs = new Map<W, O>()
  const taken = new Set<O>()
  const pair = (one: W, other: O | undefined) => {
    if (!other || taken.has(other) || pairs.has(one)) return
    pairs.set(one, other)
    taken.add(other)
  }
  const exact = new Map(old.map((other) => [other.name, other]))
  const loose = new Map(old.map((other) => [other.name.toLowerCase(), other]))
  for (const one of wanted) pair(one, exact.get(one.name))
  for (const one of wanted) pair(one, loose.get(one.name.toLowerCase()))
  const left = () => wanted.filter((one) => !pairs.has(one))
  if (taken.size === old.length || left().length === 0) return pairs
  // Between the same neighbours.
  for (const one of left()) {
    const i = wanted.indexOf(one)
    const above = wanted[i - 1] && pairs.get(wanted[i - 1] as W)
    const at = i === 0 ? 0 : above === undefined ? -1 : old.indexOf(above) + 1
    const there = at < 0 ? undefined : old[at]
    if (there && !taken.has(there) && like(one, there) >= 0.5) pair(one, there)
  }
  for (const one of left()) {
    const ranked = old
      .filter((other) => !taken.has(other))
      .map((other) => ({ other, share: like(one, other) }))
      .sort((a, b) => b.share - a.share)
    const [best] = ranked
    if (best && best.share >= 0.5) pair(one, best.other)
  }
  return pairs
}
