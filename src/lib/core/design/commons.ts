// Columns that every entity has: said once, and gone from all at once.
import type { Draft } from './draft'
import type { Common, Design, Entity, Subtypes } from './schema'
import { tidy } from './tidy'

const groups = new WeakMap<Design['subtypes'], ReadonlySet<string>>()
const sorted = new WeakMap<Design['commons'], readonly Common[]>()
const NONE: readonly Common[] = []

/** The columns that an entity has beside its own, in their order; what it is a kind of has them for it. */
export function commonsOf(
  { commons, subtypes }: Pick<Design, 'commons' | 'subtypes'>,
  entity: Entity
): readonly Common[] {
  let all = sorted.get(commons)
  if (!all) {
    all = Object.values(commons).sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1))
    sorted.set(commons, all)
  }
  if (all.length === 0) return NONE
  let kinds = groups.get(subtypes)
  if (!kinds)
    groups.set(subtypes, (kinds = new Set(Object.values(subtypes).flatMap((group: Subtypes) => group.subtypes))))
  if (kinds.has(entity.id)) return NONE
  return entity.without ? all.filter(({ id }) => !entity.without?.includes(id)) : all
}

/** It goes, and with it what stands on it in any entity. */
export function removeCommon(draft: Draft, id: string, dropPart: (entity: Entity, id: string) => Entity): void {
  draft.remove('commons', id)
  for (const entity of Object.values(draft.now.entities)) {
    const without = entity.without?.filter((other) => other !== id)
    const left = tidy({
      ...dropPart(entity, id),
      without: without?.length ? without : undefined,
      rules: entity.rules.filter(({ condition }) => !condition.includes(`{${id}}`))
    })
    if (JSON.stringify(left) !== JSON.stringify(entity)) draft.put('entities', left)
  }
}
