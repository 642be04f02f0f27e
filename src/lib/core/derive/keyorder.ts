// The order in which keys can be worked out: each after those that it takes columns from. Keys that are part of
// themselves come together. Nothing here recurses, so that no chain is too long.

/** A key of an entity: its primary key, or the unique key with an id. */
export interface KeyNode {
  readonly entity: string
  readonly unique?: string
}

export const keyName = ({ entity, unique }: KeyNode): string => (unique === undefined ? entity : `${entity}/${unique}`)

/** The order of R. Tarjan, "Depth-First Search and Linear Graph Algorithms" (1972), for as much as is asked for. */
export class KeyOrder {
  private readonly index = new Map<string, number>()
  private readonly low = new Map<string, number>()
  private readonly stack: KeyNode[] = []
  private readonly onStack = new Set<string>()

  constructor(private readonly needs: (key: KeyNode) => readonly KeyNode[]) {}

  /** Gives `take` the keys that `wanted` stands on and were not given before, those that stand on each other in one list. */
  follow(wanted: KeyNode, take: (together: readonly KeyNode[]) => void): void {
    if (this.index.has(keyName(wanted))) return
    const path = [this.enter(wanted)]
    for (let at = path.at(-1); at !== undefined; at = path.at(-1)) {
      const next = at.needs[at.done++]
      if (next !== undefined) {
        const name = keyName(next)
        if (!this.index.has(name)) path.push(this.enter(next))
        else if (this.onStack.has(name)) this.lower(at.name, this.index.get(name) ?? 0)
        continue
      }
      path.pop()
      const above = path.at(-1)
      const low = this.low.get(at.name) ?? 0
      if (above) this.lower(above.name, low)
      if (low === this.index.get(at.name)) take(this.leave(at.name))
    }
  }

  private enter(key: KeyNode) {
    const name = keyName(key)
    this.index.set(name, this.index.size)
    this.low.set(name, this.index.size - 1)
    this.stack.push(key)
    this.onStack.add(name)
    return { name, needs: this.needs(key), done: 0 }
  }

  private leave(root: string): KeyNode[] {
    const from = this.stack.findLastIndex((key) => keyName(key) === root)
    const together = this.stack.splice(from)
    for (const key of together) this.onStack.delete(keyName(key))
    return together
  }

  private lower(name: string, to: number): void {
    this.low.set(name, Math.min(this.low.get(name) ?? to, to))
  }
}
