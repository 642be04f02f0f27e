// The worker for what may take longer than a frame: deriving, writing, comparing, planning, laying out.
import * as Comlink from 'comlink'
import type { Address, Catalog, Change } from '../core/catalog'
import { agree, baseline, compare, type Difference, type LikelyRename } from '../core/compare'
import { derive } from '../core/derive'
import type { Design } from '../core/design'
import { dialect, writeScript, type Statement } from '../core/dialects'
import type { Notice } from '../core/notice'
import type { LayoutRequest, Places } from '../core/picture'
import { plan, type Migration } from '../core/plan'
import { layout } from './layout'

export interface Scripted {
  readonly catalog: Catalog
  readonly statements: readonly Statement[]
  readonly notices: readonly Notice[]
  readonly trace: ReadonlyMap<string, readonly Address[]>
}

export interface Compared {
  readonly wanted: Catalog
  readonly changes: readonly Change[]
  readonly differences: readonly Difference[]
  readonly likely: readonly LikelyRename[]
  readonly migration: Migration
  readonly notices: readonly Notice[]
}

function parts(design: Design, targetId: string) {
  const target = design.targets[targetId]
  const engine = target && dialect(target.engine, target.version)
  if (!engine) throw new Error(`The target ${targetId} has no engine that is known here.`)
  return { engine, derived: derive(design, target, engine) }
}

const api = {
  script: (design: Design, targetId: string, drop: boolean): Scripted => {
    const { engine, derived } = parts(design, targetId)
    return { ...derived, statements: writeScript(derived.catalog, engine, { drop }) }
  },
  compare: (design: Design, targetId: string, live: Catalog, agreed: Catalog | undefined): Compared => {
    const { engine, derived } = parts(design, targetId)
    const found = compare({ wanted: derived.catalog, live, agreed }, engine)
    return { wanted: derived.catalog, ...found, migration: plan(live, found.changes, engine), notices: derived.notices }
  },
  /** What design and database agree on now; `before` is what they agreed on until now. */
  agree: (design: Design, targetId: string, live: Catalog, before: Catalog | undefined): Catalog => {
    const { engine, derived } = parts(design, targetId)
    const input = { wanted: derived.catalog, live, agreed: before }
    return agree(input, compare(input, engine).changes, engine)
  },
  /** The database as it is, taken for agreed. */
  baseline: (design: Design, targetId: string, live: Catalog): Catalog => {
    const { engine, derived } = parts(design, targetId)
    const input = { wanted: derived.catalog, live }
    return baseline(input, compare(input, engine).changes, engine)
  },
  layout: (request: LayoutRequest): Promise<Places> => layout(request)
}
export type Core = typeof api
Comlink.expose(api)
