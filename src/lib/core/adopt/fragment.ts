// A part of a design as a text that can be put into another, or into the same once more.
import { failed, type Result } from '../notice'
import {
  allAttributes,
  mend,
  newDesign,
  newId,
  parseDesign,
  printDesign,
  printReference,
  replaceReferences,
  type CollectionName,
  type Design,
  type Edit,
  type IdKind,
  type Place
} from '../design'
import { joined } from './join'

/** Entities and views, with the links and subtypes among them and the domains of their columns; `places` are where they stand. */
export function fragment(design: Design, ids: ReadonlySet<string>, places: Readonly<Record<string, Place>>): string {
  const some = (collection: CollectionName, has: (object: never) => boolean = () => true) =>
    Object.values(design[collection]).filter((object) => has(object as never))
  const diagram = { ...newDesign('').diagrams }
  const [own] = Object.values(diagram)
  const standing = Object.fromEntries(Object.entries(places).filter(([id]) => ids.has(id)))
  const { design: part } = mend({
    id: newId('des'),
    name: design.name,
    settings: design.settings,
    objects: {
      entities: some('entities', ({ id }: { id: string }) => ids.has(id)),
      views: some('views', ({ id }: { id: string }) => ids.has(id)),
      links: some('links', ({ parent, child }: { parent: string; child: string }) => ids.has(parent) && ids.has(child)),
      subtypes: Object.values(design.subtypes)
        .filter(({ supertype }) => ids.has(supertype))
        .map((group) => ({ ...group, subtypes: group.subtypes.filter((id) => ids.has(id)) }))
        .filter(({ subtypes }) => subtypes.length > 0),
      domains: some('domains'),
      areas: some('areas'),
      commons: some('commons'),
      diagrams: own ? [{ ...own, places: standing }] : []
    }
  })
  const columns = Object.values(part.entities).flatMap((entity) => [...allAttributes(entity)])
  const used = new Set(columns.flatMap(({ domain }) => domain ?? []))
  const domains = Object.fromEntries(Object.entries(part.domains).filter(([id]) => used.has(id)))
  return printDesign({ ...part, domains })
}

export interface Pasted {
  readonly edit: Edit
  /** What it puts in, and where each stood, from the top left corner of all. */
  readonly places: Readonly<Record<string, Place>>
}

/** A fragment put into a design under names that are free; `diagram` has the places, from `at` on. */
export function pasted(design: Design, text: string, diagram: string, at: Place): Result<Pasted> {
  const read = parseDesign(text)
  if (!read.ok) return read
  const standing = Object.values(read.value.diagrams)[0]?.places ?? {}
  const { part, ids } = withNewIds(read.value, design)
  const things = [...Object.keys(part.entities), ...Object.keys(part.views)]
  if (things.length === 0) return failed('fragment-empty', 'Nothing is in what was copied.')
  const before = new Map([...ids].map(([old, made]) => [made, standing[old]]))
  const known = things.flatMap((id) => before.get(id) ?? [])
  const [left, top] = [Math.min(...known.map(({ x }) => x)), Math.min(...known.map(({ y }) => y))]
  const places = Object.fromEntries(
    things.map((id, i) => {
      const { x, y } = before.get(id) ?? { x: left + 40 * i, y: top + 40 * i }
      return [id, { x: at.x + (known.length > 0 ? x - left : 40 * i), y: at.y + (known.length > 0 ? y - top : 40 * i) }]
    })
  )
  const edit: Edit = {
    kind: 'all',
    edits: [joined(design, part), { kind: 'diagram.place', id: diagram, places }]
  }
  return { ok: true, value: { edit, places } }
}

/** What the other design has already, a domain, an area or a column of every entity, is that. */
function withNewIds(part: Design, design: Design): { part: Design; ids: ReadonlyMap<string, string> } {
  const ids = new Map<string, string>()
  const fresh = (value: unknown): void => {
    if (Array.isArray(value)) for (const one of value) fresh(one)
    else if (typeof value === 'object' && value !== null)
      for (const [key, inner] of Object.entries(value))
        if (key === 'id' && typeof inner === 'string') ids.set(inner, newId(kindOf(inner)))
        else fresh(inner)
  }
  const domains = Object.fromEntries(Object.entries(part.domains).filter(([id]) => design.domains[id] === undefined))
  for (const collection of [part.entities, part.links, part.subtypes, part.views, domains]) fresh(collection)
  const now = (word: string) => ids.get(word) ?? word
  const again = (value: unknown, key = ''): unknown => {
    if (typeof value === 'string')
      return SAID.has(key)
        ? value
        : (ids.get(value) ??
            replaceReferences(value, ({ id, part: inner }) =>
              ids.has(id) ? printReference(now(id), inner === undefined ? undefined : now(inner)) : undefined
            ))
    if (Array.isArray(value)) return value.map((one) => again(one, key))
    if (typeof value !== 'object' || value === null) return value
    return Object.fromEntries(
      // Key paths have an id for each step.
      Object.entries(value).map(([name, inner]) => [name.split('/').map(now).join('/'), again(inner, name)])
    )
  }
  const entities = Object.fromEntries(
    Object.entries(part.entities).map(([id, entity]) => {
      const { area, without, ...rest } = entity
      const kept = without?.filter((common) => design.commons[common])
      return [
        id,
        {
          ...rest,
          ...(area !== undefined && design.areas[area] ? { area } : {}),
          ...(kept?.length ? { without: kept } : {})
        }
      ]
    })
  )
  const bare = { ...part, entities, domains, areas: {}, commons: {}, diagrams: {}, targets: {} }
  return { part: again(bare) as Design, ids }
}

/** Texts that people wrote, which are no ids even where they read like one. */
const SAID = new Set(['name', 'dbName', 'means', 'sample', 'role', 'childRole', 'discriminator', 'down', 'up'])

const kindOf = (id: string): IdKind => KINDS.find((kind) => id.startsWith(`${kind}_`)) ?? 'ent'
const KINDS: readonly IdKind[] = ['ent', 'att', 'lnk', 'key', 'idx', 'rul', 'sub', 'vie', 'dom']
