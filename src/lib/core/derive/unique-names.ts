// The names that must be the only ones where they are, kept up while tables change: whether two things have one, or want one.
import { tableKey, type Catalog } from '../catalog'
import type { Dialect } from '../dialects'
import { namesIn } from './clashes'
import type { Namer } from './namer'

type Some = Pick<Catalog, 'tables' | 'views'>
type Claims = Pick<Namer, 'claims' | 'wantedTwice'>

export class UniqueNames {
  /** How often each is given; those of columns stand in their tables alone. */
  private readonly given = new Map<string, number>()
  private readonly claimed = new Set<string>()
  private readonly byHome = new Map<string, string[]>()
  private readonly wantedTwice: ReadonlySet<string>

  constructor(
    catalog: Catalog,
    { claims, wantedTwice }: Claims,
    private readonly dialect: Dialect
  ) {
    for (const name of namesIn(catalog, dialect)) this.given.set(name, (this.given.get(name) ?? 0) + 1)
    this.wantedTwice = wantedTwice
    for (const [claim, home] of claims) this.claim(claim, home)
  }

  private claim(claim: string, home: string) {
    this.claimed.add(claim)
    const list = this.byHome.get(home)
    if (list) list.push(claim)
    else this.byHome.set(home, [claim])
  }

  /**
   * Some tables and views in the place of others. False where a name is wanted by two, or was: then any of them may be called
   * otherwise, and this is of no use any more.
   */
  replace(old: Some, now: Some, { claims, wantedTwice }: Claims): boolean {
    if (wantedTwice.size > 0) return false
    for (const home of homesOf(old)) {
      for (const claim of this.byHome.get(home) ?? []) {
        if (this.wantedTwice.has(claim)) return false
        this.claimed.delete(claim)
      }
      this.byHome.delete(home)
    }
    const homes = homesOf(now)
    for (const [claim, home] of claims) {
      if (!homes.has(home)) continue
      if (this.claimed.has(claim) || this.wantedTwice.has(claim)) return false
      this.claim(claim, home)
    }
    for (const name of namesIn(old, this.dialect)) this.given.set(name, (this.given.get(name) ?? 0) - 1)
    for (const name of namesIn(now, this.dialect)) {
      const count = (this.given.get(name) ?? 0) + 1
      if (count > 1) return false
      this.given.set(name, count)
    }
    return true
  }
}

const homesOf = ({ tables, views = [] }: Some): Set<string> =>
  new Set([...tables, ...views].map(({ schema, name }) => tableKey(schema, name)))
