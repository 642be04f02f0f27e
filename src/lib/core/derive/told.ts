// What is said of a derived catalogue, by what it is said of.
import type { Notice } from '../notice'

/** Things of one name, and keys that go round, are told of one table for the sake of another. */
const TANGLED: ReadonlySet<string> = new Set(['name-twice', 'entity-circular-key', 'entity-key-too-wide'])

export class Told {
  private readonly byHome = new Map<string, readonly Notice[]>()
  /** What is said of one thing may change with another, or it is not said of what. */
  readonly isTangled: boolean

  constructor(notices: readonly Notice[], homeOf: (where: string) => string) {
    this.isTangled = notices.some(({ code, where }) => where === undefined || TANGLED.has(code))
    const lists = new Map<string, Notice[]>()
    for (const notice of notices) {
      const home = notice.where === undefined ? '' : homeOf(notice.where)
      const list = lists.get(home)
      if (list) list.push(notice)
      else lists.set(home, [notice])
    }
    this.byHome = lists
  }

  /** Of these, what is said now. */
  replace(homes: Iterable<string>, now: Told): void {
    for (const home of homes) {
      const list = now.byHome.get(home)
      if (list) this.byHome.set(home, list)
      else this.byHome.delete(home)
    }
  }

  all = (): Notice[] => [...this.byHome.values()].flat()
}
