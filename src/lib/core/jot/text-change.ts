// What is other between two texts, so that an editor keeps its place.

/** The one stretch that is other; nothing where they are the same. Offsets are of the text before. */
export function changeBetween(before: string, now: string): { from: number; to: number; insert: string } | undefined {
  if (before === now) return undefined
  const most = Math.min(before.length, now.length)
  let from = 0
  while (from < most && before[from] === now[from]) from++
  let end = 0
  while (end < most - from && before.at(-1 - end) === now.at(-1 - end)) end++
  return { from, to: before.length - end, insert: now.slice(from, now.length - end) }
}
