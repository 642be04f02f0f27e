// What can be read of a design that is damaged: everything that is well formed by itself and does not hang on what is not.
import * as v from 'valibot'
import type { Notice } from '../notice'
import { danglingReferences, doubled, type Dangling } from './check'
import { inDomains } from './domains'
import { edit } from './edit'
import { newDesign } from './make'
import { replaceReferences } from './references'
import { COLLECTIONS, SettingsSchema, type CollectionName, type Design } from './schema'
import { mapTree } from './tree'

/** The pieces of a design as they were found: its head, and objects by collection. */
export interface Pieces {
  readonly id: string
  readonly name: unknown
  readonly settings: unknown
  /** By the name of their collection. */
  readonly objects: Readonly<Record<string, readonly unknown[]>>
}

export interface Mended {
  readonly design: Design
  /** What was left out or made anew, one warning each. */
  readonly left: readonly Notice[]
}

/** The largest design that stands by itself. */
export function mend(pieces: Pieces): Mended {
  const left: Notice[] = []
  const say = (message: string, where?: string) =>
    left.push({ code: 'mended', severity: 'warning', message, ...(where === undefined ? {} : { where }) })
  const plain = newDesign('Mended design')
  const settings = v.safeParse(SettingsSchema, pieces.settings)
  if (!settings.success) say('The settings could not be read: they are as in a new design.')
  const name = typeof pieces.name === 'string' && pieces.name.trim() !== '' ? pieces.name : plain.name
  let design: Design = { ...plain, id: pieces.id, name, ...(settings.success ? { settings: settings.output } : {}) }
  for (const collection of Object.keys(COLLECTIONS) as CollectionName[]) {
    const read: [string, { readonly id: string }][] = []
    for (const object of pieces.objects[collection] ?? []) {
      const schema: v.GenericSchema<unknown, { id: string }> = COLLECTIONS[collection]
      const found = v.safeParse(schema, object)
      if (found.success) read.push([found.output.id, found.output])
      else say(`${calledOf(object)} of the ${collection} could not be read: ${found.issues[0].message}.`)
    }
    design = { ...design, [collection]: Object.fromEntries(read) }
  }
  for (const { where = '' } of doubled(design)) {
    say(`Two things have the id ${where}: the objects with it are left out.`, where)
    design = withoutObject(design, where)
  }
  // What is taken out may leave another reference without its end.
  for (let loose = danglingReferences(design); loose.length > 0; loose = danglingReferences(design))
    for (const one of loose) {
      say(`${one.holder} names ${one.what} ${one.missing}, which is not there: that is left out.`, one.holder)
      design = cut(design, one)
    }
  if (Object.keys(design.diagrams).length === 0) design = { ...design, diagrams: plain.diagrams }
  return { design: inDomains(design), left }
}

function calledOf(object: unknown): string {
  const fields = typeof object === 'object' && object !== null ? new Map(Object.entries(object)) : new Map()
  return String(fields.get('name') ?? fields.get('id') ?? 'One')
}

/** Without the object, or the objects that hold something, with an id. */
const withoutObject = (design: Design, id: string): Design =>
  (Object.keys(COLLECTIONS) as CollectionName[]).reduce<Design>((result, collection) => {
    const kept = Object.entries(result[collection]).filter(
      ([, object]) => !JSON.stringify(object).includes(`"id":"${id}"`)
    )
    return { ...result, [collection]: Object.fromEntries(kept) }
  }, design)

/** Without one reference that leads nowhere, or what cannot be without it. */
function cut(design: Design, { holder, missing }: Dangling): Design {
  const [entity, link, group, diagram] = [
    design.entities[holder],
    design.links[holder],
    design.subtypes[holder],
    design.diagrams[holder]
  ]
  if (entity) {
    const { area, ...rest } = entity
    const kept = (list: readonly string[]) => list.filter((id) => id !== missing)
    return edit(design, {
      kind: 'object.set',
      collection: 'entities',
      object: {
        ...rest,
        ...(area === undefined || area === missing ? {} : { area }),
        attributes: mapTree(entity.attributes, ({ domain, leadsTo, ...attribute }) => ({
          ...attribute,
          ...(domain === undefined || domain === missing ? {} : { domain }),
          ...(leadsTo === undefined || leadsTo === missing ? {} : { leadsTo })
        })),
        primaryKey: kept(entity.primaryKey),
        uniques: entity.uniques.filter((key) => !key.parts.includes(missing)),
        indexes: entity.indexes.filter((index) => !index.parts.some(({ id }) => id === missing)),
        rules: entity.rules.filter(({ condition }) => !condition.includes(`{${missing}`))
      }
    })
  }
  if (link) {
    const { parentKey, ...rest } = link
    if (!design.entities[link.parent] || !design.entities[link.child])
      return edit(design, { kind: 'object.remove', collection: 'links', id: holder })
    const columns = Object.fromEntries(Object.entries(link.columns).filter(([, id]) => id !== missing))
    const there = parentKey === undefined || parentKey === missing ? {} : { parentKey }
    return { ...design, links: { ...design.links, [holder]: { ...rest, ...there, columns } } }
  }
  if (group) {
    const subtypes = group.subtypes.filter((id) => id !== missing)
    return group.supertype === missing || subtypes.length === 0
      ? edit(design, { kind: 'object.remove', collection: 'subtypes', id: holder })
      : edit(design, { kind: 'object.set', collection: 'subtypes', object: { ...group, subtypes } })
  }
  const view = design.views[holder]
  if (view) {
    const { area, ...rest } = view
    const lost = (text: string) =>
      replaceReferences(text, ({ id, part }) => (id === missing ? `{?${part ?? id}}` : undefined))
    return edit(design, {
      kind: 'object.set',
      collection: 'views',
      object: {
        ...rest,
        ...(area === undefined || area === missing ? {} : { area }),
        text: lost(view.text),
        texts: Object.fromEntries(Object.entries(view.texts).map(([engine, text]) => [engine, lost(text)]))
      }
    })
  }
  if (diagram) {
    const { area: _area, ...rest } = diagram
    return edit(design, { kind: 'object.set', collection: 'diagrams', object: rest })
  }
  return design
}
