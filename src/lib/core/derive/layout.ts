// Which entity lives in which table of a target.
import { own, type Design, type Entity, type Subtypes } from '../design'
import type { Dialect } from '../dialects'
import type { DeriveTarget } from './derive'
import { groupsOf, plainName } from './logical'
import type { Namer } from './namer'

type Groups = ReadonlyMap<string, Subtypes>

/** Entities with a table of their own, by name: the order in which objects are kept says nothing. */
export function homes(design: Design, target: DeriveTarget, groups: Groups): Entity[] {
  const all = Object.values(design.entities)
  const own = groups.size === 0 ? all : all.filter(({ id }) => homeOf(id, design, target, groups)?.id === id)
  return own.sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
}

function homeOf(id: string, design: Design, target: DeriveTarget, groups: Groups): Entity | undefined {
  const seen = new Set<string>()
  let at = id
  for (let group = groups.get(at); group && !seen.has(at); group = groups.get(at)) {
    if (target.subtypeTables[group.id] !== 'one table') break
    seen.add(at)
    at = group.supertype
  }
  return design.entities[at]
}

export class Layout {
  private readonly places = new Map<string, { schema: string; name: string }>()
  private readonly groupOf: Groups
  /** By supertype: its groups whose subtypes are in its table. */
  private readonly sharing = new Map<string, Subtypes[]>()

  constructor(
    private readonly design: Design,
    private readonly target: DeriveTarget,
    private readonly namer: Namer,
    private readonly dialect: Dialect
  ) {
    this.groupOf = groupsOf(design)
    for (const group of Object.values(design.subtypes)) {
      if (target.subtypeTables[group.id] !== 'one table') continue
      const shared = this.sharing.get(group.supertype)
      if (shared) shared.push(group)
      else this.sharing.set(group.supertype, [group])
    }
  }

  homes = (): Entity[] => homes(this.design, this.target, this.groupOf)

  /** The entity whose table an entity's rows are in. */
  homeOf = (id: string): Entity | undefined => homeOf(id, this.design, this.target, this.groupOf)

  /** The groups of subtypes that share an entity's table. */
  groupsInTable(entity: Entity): Subtypes[] {
    return this.homeOf(entity.id)?.id === entity.id ? (this.sharing.get(entity.id) ?? []) : []
  }

  /** The subtypes, at any depth, that share an entity's table. */
  folded(entity: Entity): Entity[] {
    return this.groupsInTable(entity).flatMap((group) =>
      group.subtypes.flatMap((id) => {
        const subtype = this.design.entities[id]
        return subtype && subtype.id !== entity.id
          ? [subtype, ...this.foldedBelow(subtype, new Set([entity.id, id]))]
          : []
      })
    )
  }

  private foldedBelow(entity: Entity, seen: Set<string>): Entity[] {
    return (this.sharing.get(entity.id) ?? []).flatMap((group) =>
      group.subtypes.flatMap((id) => {
        const subtype = this.design.entities[id]
        if (!subtype || seen.has(id)) return []
        seen.add(id)
        return [subtype, ...this.foldedBelow(subtype, seen)]
      })
    )
  }

  /** Schema and name of an entity's own table, or of a view. */
  place(
    entity: Pick<Entity, 'id' | 'name' | 'dbName' | 'namespace'>,
    kind: 'table' | 'view' = 'table'
  ): { schema: string; name: string } {
    const known = this.places.get(entity.id)
    if (known) return known
    const { defaultSchema, features } = this.dialect.profile
    const schema =
      entity.namespace === undefined || !features.schemas
        ? defaultSchema
        : (own(this.target.schemas, entity.namespace) ??
          this.namer.column(plainName(entity.namespace, this.design.settings), false, entity.id))
    const made = { schema, name: this.namer.table(entity, kind) }
    this.places.set(entity.id, made)
    return made
  }
}
