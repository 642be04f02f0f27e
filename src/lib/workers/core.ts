// The worker for what may take longer than a frame: deriving, writing, comparing, planning, taking, laying out.
import * as Comlink from 'comlink'
import { take, takeHere } from '../core/adopt'
import { invert, type Address, type Catalog, type Change } from '../core/catalog'
import {
  asSpelled,
  agree,
  baseline,
  compare,
  differenceKey,
  inScope,
  isKeptDifferent,
  type ConfirmedRename,
  type Difference,
  withoutDropped,
  type LikelyRename
} from '../core/compare'
import { derive } from '../core/derive'
import type { Design, Edit } from '../core/design'
import { dialect, writeScript, type Statement } from '../core/dialects'
import type { Notice } from '../core/notice'
import type { LayoutRequest, Places } from '../core/picture'
import { closure, closureOfTaking, migrationScript, plan, weave, type Migration } from '../core/plan'
import { layout } from './layout'

export interface Scripted {
  readonly catalog: Catalog
  readonly statements: readonly Statement[]
  readonly notices: readonly Notice[]
  readonly trace: ReadonlyMap<string, readonly Address[]>
}

export interface Compared {
  readonly wanted: Catalog
  readonly differences: readonly Difference[]
  readonly likely: readonly LikelyRename[]
  readonly notices: readonly Notice[]
}

/** What a comparison is about: a design's target, and what its database holds. */
export interface Sides {
  readonly design: Design
  readonly targetId: string
  readonly live: Catalog
  readonly agreed: Catalog | undefined
  /** New names that a person has confirmed. */
  readonly confirmed: readonly ConfirmedRename[]
}

/** Differences that come along with chosen ones: their key → the key of the one that needs them. */
export type Along = Readonly<Record<string, string>>

export interface Chosen {
  readonly migration: Migration
  /** The whole way back, in order. */
  readonly back: readonly string[]
  readonly along: Along
}

export type TakenBack =
  | { readonly ok: true; readonly edit: Edit; readonly along: Along }
  | { readonly ok: false; readonly conflict: string; readonly key: string; readonly along: Along }

function parts(design: Design, targetId: string) {
  const target = design.targets[targetId]
  const engine = target && dialect(target.engine, target.version)
  if (!engine) throw new Error(`The target ${targetId} has no engine that is known here.`)
  return { engine, target, derived: derive(design, target, engine) }
}

/** Both sides without what is not compared, and their differences. */
function compared({ design, targetId, live, agreed, confirmed }: Sides) {
  const { engine, target, derived } = parts(design, targetId)
  const ignored = target.ignored ?? []
  const spell = (wanted: Catalog) => asSpelled({ wanted, live, agreed, confirmed }, engine)
  const spelled = spell(derived.catalog)
  const input = { wanted: inScope(spelled, ignored), live: inScope(live, ignored), agreed, confirmed }
  const found = compare(input, engine)
  const differences = found.differences.filter((difference) => !isKeptDifferent(difference.change, ignored))
  return { engine, target, derived, spell, spelled, input, likely: found.likely, all: found.changes, differences }
}

function along(needed: ReadonlyMap<Change, Change>): Along {
  return Object.fromEntries([...needed].map(([change, by]) => [differenceKey(change), differenceKey(by)]))
}

const api = {
  script: (design: Design, targetId: string, drop: boolean): Scripted => {
    const { engine, derived } = parts(design, targetId)
    return { ...derived, statements: writeScript(derived.catalog, engine, { drop }) }
  },
  compare: (sides: Sides): Compared => {
    const { derived, differences, likely, input } = compared(sides)
    return { wanted: input.wanted, differences, likely, notices: derived.notices }
  },
  /** The plan for chosen differences and all that they need; one that cannot be told is written when it is chosen. */
  plan: (sides: Sides, keys: readonly string[]): Chosen => {
    const { engine, target, differences, input } = compared(sides)
    const wanted = new Set(keys)
    const all = differences.map(({ change, key }) =>
      change.action === 'alter' && wanted.has(key) ? { ...change, certain: true } : change
    )
    const chosen = all.filter((change) => wanted.has(differenceKey(change)))
    const found = closure({ chosen, all, live: input.live, wanted: input.wanted }, engine)
    const migration = plan(sides.live, found.changes, engine)
    const way = plan(migration.to, invert(found.changes), engine)
    const back = migrationScript(way, engine).map((statement) => statement.sql)
    return { migration: weave(migration, target.handSteps ?? [], engine), back, along: along(found.needed) }
  },
  /** Chosen differences taken into the design: for every target, or for this one only. */
  take: (sides: Sides, keys: readonly string[], here: boolean): TakenBack => {
    const { engine, target, spell, spelled, differences, input } = compared(sides)
    const wanted = new Set(keys)
    const all = differences.map((difference) => difference.change)
    const chosen = differences.filter(({ key }) => wanted.has(key)).map((difference) => difference.change)
    const found = closureOfTaking({ chosen, all, live: input.live, wanted: input.wanted }, engine)
    const asked = { design: sides.design, target, changes: found.changes, wanted: spelled, spell }
    const taken = here ? takeHere(asked) : take(asked, engine)
    if (taken.ok) return { ...taken, along: along(found.needed) }
    return { ok: false, conflict: taken.conflict, key: differenceKey(taken.change), along: along(found.needed) }
  },
  /** What design and database agree on now, after a run that had the effects given. */
  agree: (sides: Sides, effects: readonly Change[] = []): Catalog => {
    const { engine } = parts(sides.design, sides.targetId)
    const agreed = sides.agreed && withoutDropped(sides.agreed, effects, engine)
    const { all, input } = compared({ ...sides, agreed })
    return agree(input, all, engine)
  },
  /** The database as it is, taken for agreed. */
  baseline: (sides: Sides): Catalog => {
    const { engine, input } = compared({ ...sides, agreed: undefined })
    return baseline(input, compare({ ...input, agreed: undefined }, engine).changes, engine)
  },
  layout: (request: LayoutRequest): Promise<Places> => layout(request)
}
export type Core = typeof api
Comlink.expose(api)
