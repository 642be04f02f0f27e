// What was brought in, put into a design that is there already, beside what it has.
import { derive, plainName } from '../derive'
import { Names, newId, type Attribute, type Design, type Edit, type Entity, type Settings } from '../design'
import { dialect } from '../dialects'
import { wordsOf } from '../naming'

/**
 * One edit. Names that are taken get a number; what the brought design takes for granted and this one does not is said on each
 * entity. Its targets are those of `brought`. Nothing that the design has gets another name.
 */
export function joined(design: Design, brought: Design): Edit {
  const names = new Names([...Object.values(design.entities), ...Object.values(design.views)].map(({ name }) => name))
  const targets = new Names(Object.values(design.targets).map(({ name }) => name))
  const domains = new Names(Object.values(design.domains).map(({ name }) => name))
  const settings = withShortWords(design, brought)
  const there = namesThere(brought)
  /** Its database's name, where the rules of this design would give it another. */
  const keepsName = ({ id, name, dbName }: Entity | Attribute, prefix = '') =>
    dbName === undefined && (prefix !== '' || plainName(name, settings) !== plainName(name, brought.settings))
      ? { dbName: there.get(id) ?? plainName(name, brought.settings) }
      : {}
  const own = (entity: Entity): Entity => {
    const name = names.take(entity.name)
    return {
      ...entity,
      name,
      attributes: entity.attributes.map((attribute) => ({ ...attribute, ...keepsName(attribute) })),
      // One that must be called otherwise has another name in its database, too.
      ...(name === entity.name ? keepsName(entity, settings.tablePrefix + (settings.tables ?? '')) : {}),
      ...(entity.primaryKey.length === 0 && brought.settings.identifier !== settings.identifier
        ? { identifier: { kind: brought.settings.identifier, ...entity.identifier } }
        : {})
    }
  }
  const areas = Object.values(brought.areas)
  return {
    kind: 'all',
    edits: [
      ...(settings === design.settings ? [] : [{ kind: 'design.set', set: { settings } } as const]),
      ...areas.map((area): Edit => ({ kind: 'object.set', collection: 'areas', object: area })),
      ...areas.map((area): Edit => ({
        kind: 'object.set',
        collection: 'diagrams',
        object: { id: newId('dia'), name: area.name, area: area.id, places: {} }
      })),
      ...Object.values(brought.domains).map((domain): Edit => ({
        kind: 'object.set',
        collection: 'domains',
        object: { ...domain, name: domains.take(domain.name) }
      })),
      ...Object.values(brought.entities).map((entity): Edit => ({
        kind: 'object.set',
        collection: 'entities',
        object: own(entity)
      })),
      ...Object.values(brought.links).map((link): Edit => ({ kind: 'link.add', link })),
      ...Object.values(brought.subtypes).map((subtypes): Edit => ({
        kind: 'object.set',
        collection: 'subtypes',
        object: subtypes
      })),
      ...Object.values(brought.views).map((view): Edit => ({
        kind: 'object.set',
        collection: 'views',
        object: { ...view, name: names.take(view.name) }
      })),
      ...Object.values(brought.targets).map((target): Edit => ({
        kind: 'object.set',
        collection: 'targets',
        object: { ...target, name: targets.take(target.name) }
      }))
    ]
  }
}

/** What tables and columns are called in the database that was brought in, by what they were made from. */
function namesThere(brought: Design): ReadonlyMap<string, string> {
  const [target] = Object.values(brought.targets)
  const engine = target && dialect(target.engine, target.version)
  const tables = engine ? derive(brought, target, engine).catalog.tables : []
  return new Map(
    tables.flatMap((table) =>
      [table, ...table.columns].flatMap(({ origin, name }) =>
        origin?.part === 'table' || origin?.part === 'column' ? [[origin.id, name] as const] : []
      )
    )
  )
}

/** The design's own short words, and those that are brought and change no name of what it has. */
function withShortWords(design: Design, brought: Design): Settings {
  const own = design.settings.abbreviations ?? {}
  const used = new Set(
    [
      ...Object.values(design.entities).flatMap((entity) => [entity, ...entity.attributes]),
      ...Object.values(design.views)
    ]
      .map(({ name }) => name)
      .concat(Object.values(design.links).flatMap(({ role = [] }) => role))
      .flatMap((name) => wordsOf(name.toLowerCase()))
  )
  const longs = new Set(Object.values(own))
  const more = Object.entries(brought.settings.abbreviations ?? {}).filter(
    ([short, long]) => !(short in own) && !longs.has(long) && !used.has(long)
  )
  return more.length === 0
    ? design.settings
    : { ...design.settings, abbreviations: { ...own, ...Object.fromEntries(more) } }
}
