// What a check of the review is, and what it looks at.
import { logical, type Derived, type LogicalEntity } from '../derive'
import type { Attribute, Design, Edit, Entity, Link, Target } from '../design'
import type { Dialect } from '../dialects'
import type { Severity } from '../notice'

/** A design beside what it gives one target. */
export interface Subject {
  readonly design: Design
  readonly target: Target
  readonly engine: Dialect
  readonly derived: Derived
  readonly entities: readonly Entity[]
  /** Links that become foreign keys of their child. */
  readonly links: readonly Link[]
  logical(entity: string): LogicalEntity | undefined
}

/** One thing that is worth a look. */
export interface Found {
  /** The id of the design's object that it is about. */
  readonly at: string
  readonly message: string
  /** What mends it, where that is certain; and what that is called. */
  readonly fix?: { readonly label: string; readonly edit: Edit }
}

export interface Check {
  /** A word for files and the command line; it never changes. */
  readonly id: string
  readonly title: string
  /** Why it exists: what goes wrong where it is passed over. */
  readonly why: string
  readonly grade: Severity
  find(subject: Subject): readonly Found[]
}

export function subjectOf(design: Design, target: Target, engine: Dialect, derived: Derived): Subject {
  const model = logical(design)
  return {
    design,
    target,
    engine,
    derived,
    entities: Object.values(design.entities),
    links: Object.values(design.links).filter(
      ({ kind, drawnOnly, parent, child }) =>
        kind !== 'many-to-many' && !drawnOnly && design.entities[parent] && design.entities[child]
    ),
    logical: (id) => model.entity(id)
  }
}

/** What a finding is about, in words: `Visit: draught`. */
export const called = (entity: Entity, part: { readonly name: string }): string => `${entity.name}: ${part.name}`

/** Each column that is no link's, with its entity. */
export const columnsOf = ({ entities }: Subject): (readonly [Entity, Attribute])[] =>
  entities.flatMap((entity) => entity.attributes.map((attribute) => [entity, attribute] as const))

/** Changes one column. */
export const settingOf = (
  entity: Entity,
  { id }: Attribute,
  set: Partial<Omit<Attribute, 'id'>>,
  label: string
): Found['fix'] => ({ label, edit: { kind: 'attribute.set', entity: entity.id, id, set } })

/** Those that are alike in something, each lot together; only lots of two or more. */
export function alike<T>(things: readonly T[], key: (thing: T) => string): T[][] {
  const lots = new Map<string, T[]>()
  for (const thing of things) {
    const word = key(thing)
    const lot = lots.get(word)
    if (lot) lot.push(thing)
    else lots.set(word, [thing])
  }
  return [...lots.values()].filter((lot) => lot.length > 1)
}
