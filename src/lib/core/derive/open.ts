// A design from outside, or what a person types: texts of an engine's own language that no engine would take as whole are
// refused before they are in a design. One that some engine takes is told for the targets that do not (`whole.ts`).
import { typeText, type DataType, type PlacedObject } from '../catalog'
import {
  allAttributes,
  edit,
  mapTree,
  mend,
  parseDesign,
  type Design,
  type Edit,
  type Entity,
  type Mended,
  type Pieces,
  type Target
} from '../design'
import { ENGINES, dialect } from '../dialects'
import type { Notice, Result } from '../notice'
import { whyNotWhole } from '../sql'
import { isPlain, typesIn, type NeutralType } from '../types'
import { parseDefault } from './values'

/** Why no engine takes a text as one whole expression or type, in a sentence; nothing where one does. */
export function whyNeverWhole(text: string): string | undefined {
  const reasons = ENGINES.map(({ id }) => dialect(id)).flatMap((d) => (d ? [whyNotWhole(text, d.write.lexis)] : []))
  return reasons.every((why) => why !== undefined) ? reasons[0] : undefined
}

/** The text of an engine's own language in a type or a default, as a person writes them. */
export const ownText = (type: NeutralType, preset?: string): string[] => {
  const read = preset === undefined ? undefined : parseDefault(preset, type)
  return [
    ...typesIn(type).flatMap((one) => (one.kind === 'native' ? [one.text] : [])),
    ...(read?.ok && read.value.kind === 'expression' ? [read.value.text] : [])
  ]
}

/** `parseDesign`, and what stands in it in an engine's own language is whole (error: `text-not-whole`). */
export const readDesign = (file: string): Result<Design> => parseDesign(file, notWhole)

/** The largest design that can be read of what is damaged, and what was left out of it. */
export function mendDesign(pieces: Pieces): Mended {
  const { design, left } = mend(pieces)
  const broken = notWhole(design)
  const bad = new Set(broken.map(({ where }) => where))
  const fine = <T extends { readonly id: string }>({ id }: T) => !bad.has(id)
  const entities = Object.entries(design.entities).map(([id, entity]) => {
    const { rules, indexes } = entity
    const attributes = mapTree(entity.attributes, (attribute) => {
      if (fine(attribute)) return attribute
      const { default: preset, fields, computed: _computed, ...rest } = attribute
      const own = typesIn(rest.type).some(({ kind }) => kind === 'native')
      const type: NeutralType = !own ? rest.type : isPlain(rest.type) ? { kind: 'text' } : { kind: 'json' }
      return {
        ...rest,
        ...(fields === undefined || own ? {} : { fields }),
        type,
        ...(preset === undefined || preset.startsWith('(') ? {} : { default: preset })
      }
    })
    return [id, { ...entity, attributes, rules: rules.filter(fine), indexes: indexes.filter(fine) } as Entity] as const
  })
  const targets = Object.entries(design.targets).map(([id, target]) => {
    const { departures: _departures, extras: _extras, ...rest } = target
    return [id, fine(target) ? target : rest] as const
  })
  // What is of a domain or of all entities is so in many places: it goes as a whole.
  const kept = <T extends { readonly id: string }>(all: Readonly<Record<string, T>>): Edit[] =>
    Object.values(all)
      .filter((one) => !fine(one))
      .map(({ id }) =>
        id in design.domains
          ? { kind: 'object.remove', collection: 'domains', id }
          : { kind: 'object.remove', collection: 'commons', id }
      )
  const mended = [...kept(design.domains), ...kept(design.commons)].reduce<Design>(edit, {
    ...design,
    entities: Object.fromEntries(entities),
    targets: Object.fromEntries(targets)
  })
  const told = broken.map((n): Notice => ({ ...n, severity: 'warning', message: `Left out: ${n.message}` }))
  return { design: broken.length === 0 ? design : mended, left: [...left, ...told] }
}

function notWhole(design: Design): Notice[] {
  const texts = [
    ...Object.values(design.entities).flatMap(ofEntity),
    ...Object.values(design.targets).flatMap(ofTarget),
    ...Object.values(design.commons).flatMap(({ id, type, default: preset }) =>
      ownText(type, preset).map((text) => ({ id, text }))
    ),
    ...Object.values(design.domains).flatMap(({ id, type, default: preset, rule }) =>
      [...ownText(type, preset), ...(rule === undefined ? [] : [rule])].map((text) => ({ id, text }))
    )
  ]
  return texts.flatMap(({ id, text }): Notice[] => {
    const why = whyNeverWhole(text)
    if (why === undefined) return []
    return [{ code: 'text-not-whole', severity: 'error', where: id, message: `“${text}” in ${id}: ${why}` }]
  })
}

interface Text {
  readonly id: string
  readonly text: string
}

const ofEntity = ({ attributes, rules, indexes }: Entity): Text[] => [
  ...indexes.flatMap(({ id, where }) => (where === undefined ? [] : [{ id, text: where }])),
  ...allAttributes({ attributes }).flatMap(({ id, type, default: preset, computed }) =>
    [...ownText(type, preset), ...(computed === undefined ? [] : [computed])].map((text) => ({ id, text }))
  ),
  ...rules.map(({ id, condition }) => ({ id, text: condition }))
]

const ENGINE_TEXTS = ['type', 'default', 'generated', 'expression', 'where']

function ofTarget({ id, departures = [], extras = [] }: Target): Text[] {
  const departed = departures.flatMap((departure) =>
    'property' in departure && ENGINE_TEXTS.includes(departure.property)
      ? [departure.property === 'type' ? typeText(departure.value as DataType) : departure.value]
      : []
  )
  return [...departed, ...extras.flatMap(ofExtra)].flatMap((text) => (typeof text === 'string' ? [{ id, text }] : []))
}

function ofExtra(extra: PlacedObject): (string | undefined)[] {
  switch (extra.kind) {
    case 'table': {
      const { columns, checks, indexes } = extra.value
      return [...columns.flatMap(ofColumn), ...checks.map((check) => check.expression), ...indexes.flatMap(ofIndex)]
    }
    case 'column':
      return ofColumn(extra.value)
    case 'check':
      return [extra.value.expression]
    case 'index':
      return ofIndex(extra.value)
    default:
      return []
  }
}

type Of<K extends PlacedObject['kind']> = Extract<PlacedObject, { kind: K }>['value']
const ofColumn = (column: Of<'column'>) => [typeText(column.type), column.default, column.generated]
const ofIndex = (index: Of<'index'>) => [index.where, ...index.parts.map((part) => part.expression)]
