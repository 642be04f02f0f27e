// What a design leaves unsaid, by the names that it has in a target: found, and said for every target.
import { asManyToMany, asSubtypes, take } from '../adopt'
import { findTable, invert, namesOf, type Catalog, type Change, type Relation } from '../catalog'
import { derive } from '../derive'
import { newDomain, targetOf, type Design, type Edit, type Target } from '../design'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { isGuess, suggestions, type Suggestion } from '../infer'

interface Placed {
  readonly target: Target
  readonly engine: Dialect
  /** What the design gives there, whatever the target has otherwise. */
  readonly catalog: Catalog
  /** What the target wants: there, a table may be without the key that a design adds. */
  readonly wanted: Catalog
}

function placed(design: Design, targetId: string | undefined): Placed {
  const there = targetOf(design, targetId)
  const engine = dialectOf(there.engine, there.version)
  if (!engine) throw new Error(`The engine ${there.engine} is not known here.`)
  const { departures: _departures, extras: _extras, ...target } = there
  return {
    target,
    engine,
    catalog: derive(design, target, engine).catalog,
    wanted: derive(design, there, engine).catalog
  }
}

/** Entities as the link or the subtypes that they are; nothing where that would not say all of them. */
function shapeSaid(design: Design, catalog: Catalog, { between, special }: Shape): Edit | undefined {
  const at = ({ schema, name }: Relation) => findTable(catalog, schema, name)?.origin?.id ?? ''
  if (between) return asManyToMany(design, at(between))
  return special && asSubtypes(design, at(special.parent), special.tables.map(at))
}
type Shape = { readonly [K in 'between' | 'special']: Suggestion[K] | undefined }

/** Links, keys, indexes, shapes and domains; short words are said by hand, since names would change with them. */
export function unsaidIn(design: Design, targetId: string | undefined): Suggestion[] {
  const { engine, catalog, wanted } = placed(design, targetId)
  const inDomain = new Set(
    Object.values(design.entities).flatMap(({ attributes }) =>
      attributes.flatMap(({ id, domain }) => (domain === undefined ? [] : [id]))
    )
  )
  const keys = suggestions(wanted, engine).filter((one) => one.kind === 'key' && !isGuess(one))
  const rest = suggestions(catalog, engine).filter(({ kind, domain, between, special }) => {
    if (between || special) return shapeSaid(design, catalog, { between, special }) !== undefined
    if (kind !== 'domain') return kind === 'link' || kind === 'index'
    return attributesIn(catalog, domain?.columns ?? []).filter((id) => !inDomain.has(id)).length > 1
  })
  return [...keys, ...rest]
}

/** The edit that says it, or why there is none. */
export function said(
  design: Design,
  targetId: string | undefined,
  { changes, domain, between, special, says }: Suggestion
): { readonly edit: Edit } | { readonly conflict: string } {
  const { target, engine, catalog, wanted } = placed(design, targetId)
  if (domain) {
    const of = new Set(attributesIn(catalog, domain.columns))
    const columns = Object.values(design.entities).flatMap((entity) =>
      entity.attributes.flatMap((attribute) => (of.has(attribute.id) ? [{ entity: entity.id, attribute }] : []))
    )
    const [first] = columns
    if (!first) return { conflict: `Nothing is there any more of ${says}.` }
    const made = newDomain(domain.name, { type: first.attribute.type })
    return {
      edit: {
        kind: 'all',
        edits: [
          { kind: 'object.set', collection: 'domains', object: made },
          ...columns.map(({ entity, attribute: { id } }): Edit => ({
            kind: 'attribute.set',
            entity,
            id,
            set: { domain: made.id }
          }))
        ]
      }
    }
  }
  if (between || special) {
    const edit = shapeSaid(design, catalog, { between, special })
    return edit ? { edit } : { conflict: `${says}: there is more to it than that.` }
  }
  const key = keySaid(design, wanted, changes)
  if (key) return { edit: key }
  // As if a database had it already: it is what would have to go there, for the database to be as the design.
  const { edit, taken, refused } = take({ design, target, changes: invert(changes), wanted: catalog }, engine)
  return taken.length === changes.length ? { edit } : { conflict: refused[0]?.conflict ?? 'It cannot be said.' }
}

/** What a design adds to an entity without a key: the parts that they are made as. */
const ADDED = ['identifier', 'pk']

/**
 * Attributes as the key of an entity that had none: where a target did without the one that is added for it, it is to have
 * this one.
 */
function keySaid(design: Design, catalog: Catalog, [change]: readonly Change[]): Edit | undefined {
  if (change?.action !== 'create' || change.object.kind !== 'primaryKey') return undefined
  const { schema, table: name } = namesOf(change.address)
  const { value: key } = change.object
  const entity = design.entities[findTable(catalog, schema, name)?.origin?.id ?? '']
  const primaryKey = attributesIn(
    catalog,
    key.columns.map((column) => ({ schema, name, column }))
  )
  if (!entity || primaryKey.length < key.columns.length) return undefined
  const without = ({ departures = [], ...target }: Target): Target => ({
    ...target,
    departures: departures.filter(
      (departure) => !(departure.id === entity.id && 'absent' in departure && ADDED.includes(departure.part))
    )
  })
  return {
    kind: 'all',
    edits: [
      { kind: 'entity.set', id: entity.id, set: { primaryKey } },
      ...Object.values(design.targets).map((target): Edit => ({
        kind: 'object.set',
        collection: 'targets',
        object: without(target)
      }))
    ]
  }
}

/** The attributes that columns come from; none for what a link or the engine brings. */
const attributesIn = (
  catalog: Catalog,
  columns: readonly { readonly schema: string; readonly name: string; readonly column: string }[]
): string[] =>
  columns.flatMap(({ schema, name, column }) => {
    const origin = findTable(catalog, schema, name)?.columns.find((one) => one.name === column)?.origin
    return origin?.part === 'column' ? [origin.id] : []
  })
