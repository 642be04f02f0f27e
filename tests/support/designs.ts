// Random edits, each made for the design as it stands when its turn comes.
import fc from 'fast-check'
import { holdsFields, isPlain, parseType, type NeutralType } from '../../src/lib/core/types'
import { MEMBER_KINDS, members, type Catalog, type Origin } from '../../src/lib/core/catalog'
import { shorten } from '../../src/lib/core/naming'
import {
  allAttributes,
  KEPT,
  LEADING,
  newAttribute,
  newCommon,
  newDomain,
  newEntity,
  newLink,
  newView,
  rowIds,
  type Attribute,
  type Departure,
  type Design,
  type Edit
} from '../../src/lib/core/design'

export type Make = (design: Design) => Edit

const at = <T>(list: readonly T[], n: number): T | undefined => list[n % Math.max(list.length, 1)]
const nothing: Edit = { kind: 'all', edits: [] }

const makers: readonly ((n: number, m: number) => Make)[] = [
  (n) => () => ({ kind: 'object.set', collection: 'entities', object: newEntity(`Buoy ${n}`) }),
  (n) => (d) => withEntity(d, n, (id) => ({ kind: 'object.remove', collection: 'entities', id })),
  (n, m) => (d) =>
    withEntity(d, n, (id) => ({
      kind: 'entity.set',
      id,
      set: { name: `Mooring ${m}`, ...(m % 2 ? { dbName: `mooring_${m}` } : {}) }
    })),
  (n, m) => (d) =>
    withEntity(d, n, (entity) => ({
      kind: 'attribute.add',
      entity,
      attribute: newAttribute(`mark ${m}`),
      ...before(d, entity, m)
    })),
  (n, m) => (d) => withRow(d, n, m, (entity, id) => ({ kind: 'attribute.remove', entity, id })),
  (n, m) => (d) =>
    withRow(d, n, m, (entity, id) => {
      // A rule that a person wrote for one type need not make sense for another.
      const type = { kind: 'decimal', precision: 9, scale: m % 5 } as const
      return {
        kind: 'attribute.set',
        entity,
        id,
        set: { ...(ruled(d, entity, id) ? {} : { type }), required: m % 2 === 0 }
      }
    }),
  (n, m) => (d) => withRow(d, n, m, (entity, id) => ({ kind: 'row.move', entity, id, ...before(d, entity, m + 1) })),
  (n, m) => (d) => withRow(d, n, m, (entity, id) => ({ kind: 'key.toggle', entity, id })),
  (n, m) => (d) =>
    withRow(d, n, m, (entity, id) => ({
      kind: 'part.set',
      list: 'uniques',
      entity,
      part: { id: `key_${n}_${m}`, parts: [id] }
    })),
  (n, m) => (d) =>
    withRow(d, n, m, (entity, id) => ({
      kind: 'part.set',
      list: 'indexes',
      entity,
      part: { id: `idx_${n}_${m}`, unique: false, parts: [{ id, descending: m % 2 === 0 }] }
    })),
  (n, m) => (d) => {
    const [parent, child] = [at(Object.values(d.entities), n), at(Object.values(d.entities), m)]
    const kind = (['one-to-many', 'one-to-one', 'many-to-many'] as const)[n % 3] ?? 'one-to-many'
    return parent && child
      ? {
          kind: 'link.add',
          link: newLink(d, parent, child, { kind, identifying: kind === 'one-to-many' && m % 4 === 0 && n !== m })
        }
      : nothing
  },
  (n) => (d) => withLink(d, n, (id) => ({ kind: 'object.remove', collection: 'links', id })),
  (n, m) => (d) =>
    withLink(d, n, (id) => ({
      kind: 'link.set',
      id,
      set:
        m % 3
          ? { identifying: m % 2 === 0, role: `as ${m}` }
          : { kind: m % 2 ? 'many-to-many' : 'one-to-one', identifying: false }
    })),
  (n) => (d) => {
    const area = at(Object.keys(d.areas), n)
    return area ? { kind: 'object.remove', collection: 'areas', id: area } : nothing
  },
  (n, m) => (d) =>
    withRow(d, n, m, (entity, id) => ({ kind: 'attribute.set', entity, id, set: { dbName: byHand(n, m) } })),
  (n, m) => (d) => withLink(d, n, (id) => ({ kind: 'link.set', id, set: { dbName: byHand(n, m) } })),
  (n, m) => (d) =>
    withLink(d, n, (id) => ({
      kind: 'link.set',
      id,
      set:
        m % 3 > 0
          ? { embedded: true, ...(m % 3 > 1 ? { childRole: `held ${n}` } : {}) }
          : ({ embedded: undefined } as object)
    })),
  (n, m) => (d) => withEntity(d, n, (id) => ({ kind: 'entity.set', id, set: namesOf(n, m) })),
  (n, m) => (d) =>
    withRow(d, n, m, (entity, id) => ({
      kind: 'all',
      edits: [
        {
          kind: 'part.set',
          list: 'uniques',
          entity,
          part: { id: `key_by_hand_${n}_${m}`, name: byHand(n, m), parts: [id] }
        },
        {
          kind: 'part.set',
          list: 'indexes',
          entity,
          part: { id: `idx_by_hand_${n}_${m}`, name: byHand(m, n), unique: true, parts: [{ id, descending: false }] }
        }
      ]
    })),
  (n, m) => (d) => {
    const [supertype, subtype] = [at(Object.keys(d.entities), n), at(Object.keys(d.entities), m)]
    if (!supertype || !subtype || supertype === subtype || inFamilies(d, supertype) || inFamilies(d, subtype))
      return nothing
    return {
      kind: 'object.set',
      collection: 'subtypes',
      object: {
        id: `sub_${n}_${m}`,
        supertype,
        subtypes: [subtype],
        discriminator: byHand(n, m),
        complete: n % 2 === 0,
        exclusive: m % 2 === 0
      }
    }
  },
  (n) => (d) => {
    const id = at(Object.keys(d.subtypes), n)
    return id === undefined ? nothing : { kind: 'object.remove', collection: 'subtypes', id }
  },
  (n, m) => (d) => {
    const [entity, over] = [at(Object.values(d.entities), n), at(Object.keys(d.views), m)]
    const [a, b] = [entity && at(entity.attributes, n), entity && at(entity.attributes, m)]
    if (!entity || !a || !b) return nothing
    const id = `vie_${n % 7}`
    const query = `SELECT x.{${a.id}} AS first, x.{${b.id}} FROM {${entity.id}} x WHERE x.{${a.id}} IS NOT NULL`
    // One view may read from another, and none from itself.
    const text = m % 3 === 0 && over !== undefined && over < id ? `SELECT first FROM {${over}}` : query
    return {
      kind: 'object.set',
      collection: 'views',
      object: newView(`Seen ${n % 7}`, { id, text, ...(m % 2 ? { means: `view ${m}` } : {}) })
    }
  },
  (n) => (d) => {
    const id = at(Object.keys(d.views), n)
    return id === undefined ? nothing : { kind: 'object.remove', collection: 'views', id }
  },
  (n, m) => () => ({
    kind: 'object.set',
    collection: 'domains',
    object: newDomain(`Sort ${n % 3}`, { id: `dom_${n % 3}`, type: { kind: 'decimal', precision: 9, scale: m % 5 } })
  }),
  (n, m) => (d) => {
    const domain = at(Object.keys(d.domains), n + m)
    return domain === undefined
      ? nothing
      : withRow(d, n, m, (entity, id) =>
          ruled(d, entity, id) ? nothing : { kind: 'attribute.set', entity, id, set: { domain } }
        )
  },
  (n) => (d) => {
    const id = at(Object.keys(d.domains), n)
    return id === undefined ? nothing : { kind: 'object.remove', collection: 'domains', id }
  },
  (n, m) => (d) => {
    const kept = at([...KEPT, undefined], n)
    const type = kept?.endsWith('at') ? ({ kind: 'timestamp' } as const) : ({ kind: 'text', length: 100 } as const)
    const more = {
      id: `com_${n % 5}`,
      type,
      rank: m,
      required: m % 2 === 0,
      ...(m % 3 ? {} : { dbName: byHand(n, m) })
    }
    const common = newCommon(d, `Kept ${n % 5}`, {
      ...more,
      ...(kept ? { kept } : { letters: m % 2 ? 'upper' : 'lower', default: '"x"' })
    })
    return { kind: 'object.set', collection: 'commons', object: common }
  },
  (n, m) => (d) =>
    withEntity(d, n, (id) => {
      const without = Object.keys(d.commons).filter((_, i) => (i + m) % 2 === 0)
      return { kind: 'entity.set', id, set: { without: without.length > 0 ? without : undefined } }
    }),
  (n) => (d) => {
    const id = at(Object.keys(d.commons), n)
    return id === undefined ? nothing : { kind: 'object.remove', collection: 'commons', id }
  },
  (n, m) => (d) =>
    withRow(d, n, m, (entity, id) => ({
      kind: 'part.set',
      list: 'indexes',
      entity,
      part: {
        id: `idx_some_${n}_${m}`,
        unique: m % 2 === 0,
        parts: [{ id: at(Object.keys(d.commons), m) ?? id, descending: false }].filter(
          (part) => part.id === id || !d.entities[entity]?.without?.includes(part.id)
        ),
        where: `{${id}} IS NOT NULL`
      }
    })),
  (n, m) => (d) =>
    withEntity(d, n, (id) => ({
      kind: 'entity.set',
      id,
      set: { identifier: { ...d.entities[id]?.identifier, start: n - 20, step: (m % 9) - 4 || 5 } }
    })),
  (n, m) => (d) => {
    const letters = at(['lower', 'upper', 'camel', 'pascal'] as const, n)
    const patterns = m % 2 ? { table: 't_{name}', column: '{name}_c', fk: '{table}_to_{columns}' } : {}
    const naming = m % 4 === 0 ? {} : { patterns, ...(letters ? { letters } : {}) }
    const { letters: _letters, patterns: _patterns, ...settings } = d.settings
    return { kind: 'design.set', set: { settings: { ...settings, ...naming } } }
  },
  (n, m) => (d) =>
    withEntity(d, n, (entity) => ({
      kind: 'attribute.add',
      entity,
      attribute: newAttribute(`finding ${m}`, { type: nestedType(m), ...(m % 5 ? {} : { sample: `like ${m}` }) })
    })),
  ...[0, 1].map((again) => (n: number, m: number) => (d: Design) => {
    const [entity, within] = inner(d, n + again, ({ type }) => holdsFields(type))
    const type = m % 4 === 0 ? nestedType(n) : { kind: 'decimal' as const, precision: 9, scale: m % 5 }
    return entity && within
      ? {
          kind: 'attribute.add' as const,
          entity,
          within,
          attribute: newAttribute(`part ${m}`, { type, required: m % 2 === 0, ...(m % 3 ? {} : { min: 0 }) })
        }
      : nothing
  }),
  (n, m) => (d) => {
    const [entity, id] = inner(d, n, () => true)
    const within = allAttributes({ attributes: d.entities[entity ?? '']?.attributes ?? [] })
    return entity && id && !ruled(d, entity, id)
      ? { kind: 'row.move', entity, id, ...(m % 3 ? { within: at(within, m)?.id ?? id } : {}) }
      : nothing
  },
  (n, m) => (d) => {
    const [entity, id] = inner(d, n, ({ type }) => !holdsFields(type))
    return entity && id ? { kind: 'attribute.set', entity, id, set: { name: `piece ${m}` } } : nothing
  },
  (n) => (d) => {
    const [entity, id] = inner(d, n, ({ type }) => !holdsFields(type))
    return entity && id ? { kind: 'attribute.remove', entity, id } : nothing
  },
  // A field, or a list, of keys of an entity.
  (n, m) => (d) => {
    const [entity, id] = inner(d, n, ({ type }) => isPlain(type))
    const to = at(Object.values(d.entities), m)
    const among = m % 3 ? LEADING : { kind: 'list' as const, of: LEADING }
    return entity && id && to && !ruled(d, entity, id)
      ? { kind: 'attribute.set', entity, id, set: { type: among, leadsTo: to.id, domain: undefined } }
      : nothing
  },
  (n, m) => (d) => {
    const to = at(Object.values(d.entities), m)
    return withEntity(d, n, (entity) =>
      to
        ? {
            kind: 'attribute.add',
            entity,
            attribute: newAttribute(`leads ${m}`, { type: { kind: 'list', of: LEADING }, leadsTo: to.id })
          }
        : nothing
    )
  },
  (n, m) => (d) =>
    withEntity(d, n, (id) => ({ kind: 'entity.set', id, set: { collection: m % 2 ? true : undefined } })),
  // One whose own column is worked out is worked out from another.
  (n, m) => (d) =>
    withEntity(d, n, (entity) => {
      const plain = d.entities[entity]?.attributes.filter(
        ({ computed, type }) => computed === undefined && isPlain(type) && type.kind !== 'json'
      )
      const source = plain && at(plain, m)
      const attribute = newAttribute(`worked ${m}`, { type: source?.type ?? { kind: 'integer' } })
      return source
        ? { kind: 'attribute.add', entity, attribute: { ...attribute, computed: `{${source.id}}` } }
        : nothing
    })
]

const NESTED = ['object', 'list of object', 'list of text(20)', 'map of text to integer', 'list of (object or integer)']
const nestedType = (n: number): NeutralType => {
  const read = parseType(at([...NESTED, 'map of integer to object', 'list of list of object'], n) ?? 'object')
  if (!read.ok) throw new Error(read.notices[0]?.message)
  return read.value
}

/** An attribute of what an entity holds at any depth, of one that has such. */
function inner(d: Design, n: number, isMeant: (attribute: Attribute) => boolean): [string?, string?] {
  const all = Object.values(d.entities).flatMap((entity) =>
    allAttributes(entity)
      .filter((one) => isMeant(one) && !entity.attributes.includes(one))
      .map((one) => [entity.id, one.id] as const)
  )
  const holders = Object.values(d.entities).flatMap((entity) =>
    entity.attributes.filter((one) => isMeant(one) && holdsFields(one.type)).map((one) => [entity.id, one.id] as const)
  )
  return [...(at([...all, ...holders], n) ?? [])]
}

/** Some of what is nested in a table of its own, some as a document. */
export const nestedAs = (design: Design, n: number): Record<string, 'table' | 'document'> =>
  Object.fromEntries(
    Object.values(design.entities)
      .flatMap((entity) => allAttributes(entity))
      .flatMap(({ id, type }, i) =>
        isPlain(type) || (i + n) % 3 === 0 ? [] : [[id, (i + n) % 3 === 1 ? 'table' : 'document'] as const]
      )
  )

/** Names as people give them: in any case, with spaces, reserved, in other scripts, too long. */
const spellings = [
  'LAMP',
  'Dock No',
  'order',
  'état',
  'mixedCase',
  `a ${'very '.repeat(16)}long name`,
  'лоцман',
  'quo"te'
]
const byHand = (n: number, m: number) => `${at(spellings, n) ?? ''} ${m}`.trim()
const namesOf = (n: number, m: number) =>
  [{ dbName: byHand(n, m) }, { keyName: byHand(n, m) }, { dbName: byHand(m, n), keyName: byHand(n, m) }][m % 3] ?? {}

const ruled = (d: Design, entity: string, id: string) =>
  d.entities[entity]?.rules.some((rule) => rule.condition.includes(`{${id}}`)) === true

const inFamilies = (d: Design, entity: string) =>
  Object.values(d.subtypes).some((group) => group.supertype === entity || group.subtypes.includes(entity))

const withEntity = (d: Design, n: number, make: (id: string) => Edit): Edit => {
  const id = at(Object.keys(d.entities), n)
  return id === undefined ? nothing : make(id)
}
const withLink = (d: Design, n: number, make: (id: string) => Edit): Edit => {
  const id = at(Object.keys(d.links), n)
  return id === undefined ? nothing : make(id)
}
const withRow = (d: Design, n: number, m: number, make: (entity: string, row: string) => Edit): Edit => {
  const entity = at(Object.values(d.entities), n)
  const row = entity && at(entity.attributes, m)
  return entity && row ? make(entity.id, row.id) : nothing
}
const before = (d: Design, entity: string, m: number) => {
  const found = d.entities[entity]
  const row = found && at(rowIds(d, found), m)
  return row === undefined ? {} : { before: row }
}

/** What a target may have otherwise than any design: something is not there, or has another name. */
export function departures(catalog: Catalog, picks: readonly number[]): Departure[] {
  const objects = catalog.tables.flatMap((table) => [
    table,
    // A trigger's name stands in its own text, too: nothing makes it another one there.
    ...MEMBER_KINDS.filter((kind) => kind !== 'trigger').flatMap(
      (kind) => members(table, kind) as readonly { origin?: Origin }[]
    )
  ])
  return picks.flatMap((n) => {
    const origin = at(objects, n)?.origin
    if (!origin) return []
    const { id, part } = origin
    // A database that has it gave it the name: it fits.
    const name = shorten(byHand(n, n), 63, 'bytes')
    return [n % 3 === 0 ? { id, part, absent: true as const } : { id, part, property: 'name', value: name }]
  })
}

export const edits: fc.Arbitrary<Make[]> = fc.array(
  fc
    .tuple(fc.nat(makers.length - 1), fc.nat(60), fc.nat(60))
    .map(([which, n, m]) => makers[which]?.(n, m) ?? (() => nothing)),
  { minLength: 1, maxLength: 30 }
)
