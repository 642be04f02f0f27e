// New objects with everything that nobody has said yet filled in.
import { linksAt } from './draft'
import { newId } from './id'
import type { Attribute, Common, Design, Domain, Entity, Link, Target, View } from './schema'

export function newDesign(name: string): Design {
  const diagram = newId('dia')
  return {
    id: newId('des'),
    name,
    settings: { identifier: 'integer', tablePrefix: '' },
    entities: {},
    links: {},
    subtypes: {},
    areas: {},
    diagrams: { [diagram]: { id: diagram, name: 'Everything', places: {} } },
    targets: {},
    views: {},
    domains: {},
    commons: {},
    checks: {},
    grades: {}
  }
}

export const newEntity = (name: string, more: Partial<Entity> = {}): Entity => ({
  id: newId('ent'),
  name,
  attributes: [],
  order: [],
  primaryKey: [],
  uniques: [],
  indexes: [],
  rules: [],
  ...more
})

export const newAttribute = (name: string, more: Partial<Attribute> = {}): Attribute => ({
  id: newId('att'),
  name,
  type: { kind: 'text', length: 100 },
  required: false,
  ...more
})

export const newDomain = (name: string, more: Partial<Domain> = {}): Domain => ({
  id: newId('dom'),
  name,
  type: { kind: 'text', length: 100 },
  ...more
})

/** A column for every entity, behind those that there are. */
export const newCommon = (design: Design, name: string, more: Partial<Common> = {}): Common => ({
  id: newId('com'),
  name,
  type: { kind: 'text', length: 100 },
  required: false,
  rank: Math.max(0, ...Object.values(design.commons).map(({ rank }) => rank)) + 1,
  ...more
})

export const newTarget = (name: string, more: Partial<Target> = {}): Target => ({
  id: newId('tgt'),
  name,
  engine: 'postgres',
  version: '18',
  environment: 'development',
  connection: 'embedded',
  subtypeTables: {},
  schemas: {},
  ...more
})

/** The target that is meant; where none is, one that says nothing, of the engine that the design shows scripts for. */
export const targetOf = (design: Design, id: string | undefined): Target =>
  (id === undefined ? undefined : design.targets[id]) ??
  newTarget('any', { connection: 'none', ...design.settings.scriptFor })

/** A link; a second one between the same two entities, or one of an entity with itself, gets a role. */
export function newLink(design: Design, parent: Entity, child: Entity, more: Partial<Link> = {}): Link {
  const taken = new Set(
    linksAt(design, child.id)
      .filter((link) => link.parent === parent.id && link.child === child.id)
      .map((link) => link.role ?? parent.name.toLowerCase())
  )
  const own = parent.name.toLowerCase()
  const wanted = parent.id === child.id ? `parent ${own}` : own
  const candidates = [wanted, `other ${own}`, ...Array.from({ length: taken.size + 1 }, (_, i) => `${own} ${i + 3}`)]
  const role = candidates.find((candidate) => !taken.has(candidate)) ?? wanted
  return {
    id: newId('lnk'),
    parent: parent.id,
    child: child.id,
    kind: 'one-to-many',
    identifying: false,
    parentRequired: parent.id !== child.id,
    childRequired: false,
    onDelete: 'restrict',
    onUpdate: 'no action',
    columns: {},
    ...(role === own ? {} : { role }),
    ...more
  }
}

export const newView = (name: string, more: Partial<View> = {}): View => ({
  id: newId('vie'),
  name,
  text: '',
  texts: {},
  ...more
})

/** Names that are taken, in any case of their letters. */
export class Names {
  private readonly taken: Set<string>

  constructor(taken: Iterable<string> = []) {
    this.taken = new Set([...taken].map((name) => name.toLowerCase()))
  }

  /** The wanted name, or with a number, if it is taken; it is taken from then on. */
  take(wanted: string): string {
    for (let n = 1; ; n++) {
      const name = n === 1 ? wanted : `${wanted} ${n}`
      if (this.taken.has(name.toLowerCase())) continue
      this.taken.add(name.toLowerCase())
      return name
    }
  }
}

/** A name that no other has: the wanted one, or with a number. */
export const freeName = (wanted: string, taken: Iterable<string>): string => new Names(taken).take(wanted)
