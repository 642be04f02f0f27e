/** The middle of so many runs, in milliseconds. */
export function median(work: () => unknown, runs = 9): number {
  const times = Array.from({ length: runs }, () => {
    const start = performance.now()
    work()
    return performance.now() - start
  })
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)] ?? 0
}
