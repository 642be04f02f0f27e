// What a design means for one target, held beside a database: comparing, planning, taking and agreeing mean the same
// wherever they are asked for. The target's scope, what it keeps different and its steps by hand are part of it.
import { take, takeHere } from '../adopt'
import { carriedIn, find, invert, type Address, type Catalog, type Change, type Placed } from '../catalog'
import {
  afterRun,
  agree,
  asSpelled,
  baseline,
  compare,
  differenceKey,
  inScope,
  isKeptDifferent,
  type ConfirmedRename,
  type Difference,
  type LikelyRename
} from '../compare'
import { derive } from '../derive'
import type { Design, Edit, Target } from '../design'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import {
  writeScript,
  type ScriptOptions,
  type Statement,
  closure,
  closureOfTaking,
  movesBetween,
  plan,
  weave,
  type Migration
} from '../plan'

/** What a design, or another catalogue in its place, wants of one engine. */
export interface Session {
  readonly engine: Dialect
  readonly catalog: Catalog
  readonly notices: readonly Notice[]
  /** Design object → the catalogue objects that come from it. */
  readonly trace: ReadonlyMap<string, readonly Address[]>
  script(options?: ScriptOptions): Statement[]
  beside(sides: Beside): Comparison
}

/** What a database holds, and what is known of its past. */
export interface Beside {
  readonly live: Catalog
  readonly agreed?: Catalog | undefined
  /** New names that a person has confirmed. */
  readonly confirmed?: readonly ConfirmedRename[] | undefined
}

export interface Comparison {
  /** What is wanted and compared, in the database's spelling. */
  readonly wanted: Catalog
  readonly differences: readonly Difference[]
  readonly likely: readonly LikelyRename[]
  /** What the database has beside the design, of kinds that no design says: it is left as it is. */
  readonly carried: readonly Placed[]
  /** The plan for chosen differences (all that are certain when none are named) and all that they need. */
  plan(keys?: readonly string[]): Chosen
  /** Chosen differences taken into the design: for every target, or for this one only. */
  take(keys: readonly string[], here: boolean): TakenBack
  /** What both sides agree on now, after a run that had the effects given. */
  agree(effects?: readonly Change[]): Catalog
  /** The database as it is, taken for agreed. */
  baseline(): Catalog
}

/** Differences that come along with chosen ones: their key → the key of the one that needs them. */
export type Along = Readonly<Record<string, string>>

export interface Chosen {
  readonly migration: Migration
  /** The whole way back. */
  readonly back: Migration
  readonly along: Along
}

export interface TakenBack {
  /** Nothing where nothing could be taken. */
  readonly edit?: Edit
  /** Each change that cannot be taken, by its key, with its own reason. */
  readonly refused: readonly { readonly key: string; readonly conflict: string }[]
  readonly along: Along
}

/** What of a target has a say in comparing and planning. */
export type Scope = Pick<Target, 'ignored' | 'handSteps'>

/** A design's session with one of its targets. */
export function session(design: Design, target: Target, engine: Dialect): Session {
  const derived = derive(design, target, engine)
  return {
    engine,
    ...derived,
    script: (options) => writeScript(derived.catalog, engine, options),
    beside: (sides) => beside({ ...derived, scope: target, engine, of: { design, target } }, sides)
  }
}

/** The same for a catalogue that no design stands behind: nothing can be taken into it. */
export function catalogSession(catalog: Catalog, scope: Scope, engine: Dialect): Session {
  return {
    engine,
    catalog,
    notices: [],
    trace: new Map(),
    script: (options) => writeScript(catalog, engine, options),
    beside: (sides) => beside({ catalog, scope, engine }, sides)
  }
}

interface Wanted {
  readonly catalog: Catalog
  readonly scope: Scope
  readonly engine: Dialect
  readonly of?: { readonly design: Design; readonly target: Target }
}

function beside({ catalog, scope, engine, of }: Wanted, { live, agreed, confirmed }: Beside): Comparison {
  const { ignored = [], handSteps = [] } = scope
  const spell = (own: Catalog) =>
    asSpelled({ wanted: engine.asThere?.(own, live) ?? own, live, agreed, confirmed }, engine)
  const spelled = spell(catalog)
  const input = { wanted: inScope(spelled, ignored), live: inScope(live, ignored), agreed, confirmed }
  const found = compare(input, engine)
  const differences = found.differences.filter((difference) => !isKeptDifferent(difference.change, ignored))
  const sides = { live: input.live, wanted: input.wanted }
  // Only where there are documents.
  const before = engine.alter.documents ? agreed : undefined
  const there = before ? movesBetween(before, input.wanted) : []
  const back = before ? movesBetween(input.wanted, before) : []

  return {
    wanted: input.wanted,
    differences,
    likely: found.likely,
    carried: besideDesign(input.live, input.wanted),
    plan: (keys) => {
      const wanted = keys && new Set(keys)
      // One that cannot be told is written only when it is chosen by name.
      const all = differences.map(({ change, key }) =>
        change.action === 'alter' && wanted?.has(key) ? { ...change, certain: true } : change
      )
      const chosen = wanted
        ? closure(
            { chosen: all.filter((change) => wanted.has(differenceKey(change))), all, ...sides, moves: there },
            engine
          )
        : { changes: all, needed: new Map<Change, Change>() }
      const migration = plan(live, chosen.changes, engine, { moves: there })
      return {
        migration: weave(migration, handSteps, engine),
        back: plan(migration.to, invert(chosen.changes), engine, { moves: back }),
        along: along(chosen.needed)
      }
    },
    take: (keys, here) => {
      if (!of) throw new Error('Only a design can take what a database has.')
      const wanted = new Set(keys)
      const all = differences.map((difference) => difference.change)
      const chosen = differences.filter(({ key }) => wanted.has(key)).map((difference) => difference.change)
      const found = closureOfTaking({ chosen, all, ...sides }, engine)
      const asked = { ...of, changes: found.changes, wanted: spelled, spell }
      const { edit, taken, refused } = here ? takeHere(asked) : take(asked, engine)
      return {
        ...(taken.length > 0 ? { edit } : {}),
        refused: refused.map(({ change, conflict }) => ({ key: differenceKey(change), conflict })),
        along: along(found.needed)
      }
    },
    agree: (effects = []) => {
      const before = agreed && afterRun(agreed, effects, engine)
      const now = { ...input, agreed: before }
      return agree(now, compare(now, engine).changes, engine, effects)
    },
    baseline: () => {
      const fresh = { ...input, agreed: undefined }
      return baseline(fresh, compare(fresh, engine).changes, engine)
    }
  }
}

/** What is carried; the schemas that tables of the design are in are no strangers. */
function besideDesign(live: Catalog, wanted: Catalog): Placed[] {
  const used = new Set([live.defaultSchema, ...wanted.tables.map((table) => table.schema)])
  return carriedIn(live).filter(
    ({ kind, value, address }) => !find(wanted, address) && !(kind === 'schema' && used.has(value.name))
  )
}

const along = (needed: ReadonlyMap<Change, Change>): Along =>
  Object.fromEntries([...needed].map(([change, by]) => [differenceKey(change), differenceKey(by)]))
