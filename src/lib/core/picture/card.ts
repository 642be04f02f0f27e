// An entity's card: its size and what stands where on it, in the form of a notation. Screen, far-out layer and exports use these numbers.
import { branches, typeWords, type Attribute, type Design, type View } from '../design'
import type { LogicalColumn, LogicalEntity } from '../derive'
import type { CardForm } from './notation/notation'
import type { Shape } from './shapes'
import { clip, textWidth } from './text'

/** What is known of a row before it is put into a form. */
export interface CardLine {
  readonly id: string
  /** The design object to select: an attribute or a link. */
  readonly row?: string
  readonly name: string
  readonly type: string
  readonly key: boolean
  readonly link: boolean
  readonly optional: boolean
  /** How deep in others a field is. */
  readonly depth: number
  /** The further keys that it is in, counted from 1. */
  readonly alternates: readonly number[]
}

export interface CardRow extends CardLine {
  /** Its left edge, further in for a field. */
  readonly x: number
  /** Left edge of the type. */
  readonly typeX: number
  /** Top edge of the row. */
  readonly y: number
}

export interface Card {
  readonly id: string
  readonly title: string
  readonly dbName: string
  readonly width: number
  readonly height: number
  readonly area?: string
  readonly rows: readonly CardRow[]
  /** How tall a row is. */
  readonly row: number
  /** Where the key's tint ends: below its last row, which come first. */
  readonly keyBottom: number
  /** What tells its rows apart is another's in part or whole. */
  readonly dependent: boolean
  /** It is a view's: what it reads stands in its rows. */
  readonly view?: true
  /** Beneath what marks a row, and above it. */
  readonly ground: readonly Shape[]
  readonly shapes: readonly Shape[]
}

export const HEAD = 32
export const ROW = 21
export const NAME_X = 30
const FONT = 13
const MONO = 11.5
const MOST = 330
const LEAST = 150
const PAD = 12
/** How much further in a field stands than what it is in. */
const INDENT = 14

type Columns = 'all' | 'keys' | 'names'
type Entities = Pick<Design, 'entities'>

/**
 * Works out a card; key columns come first, as the tint above the dashed rule has them. `columns`: all of them, only those of keys and
 * links, or none.
 */
export function card(
  logical: LogicalEntity,
  dbName: string,
  design: Entities,
  form: CardForm,
  columns: Columns = 'all'
): Card {
  const { entity } = logical
  // What every entity has tells none of them apart.
  const own = logical.columns.filter((column) => column.common === undefined)
  const shown = columns === 'all' ? own : columns === 'keys' ? own.filter((c) => c.key || isLinked(c)) : []
  const ordered = [...shown.filter((c) => c.key), ...shown.filter((c) => !c.key)]
  const lines = ordered.flatMap((column) => [
    ofColumn(column, logical, design),
    ...(columns === 'all' ? ofFields(column, design) : [])
  ])
  return filled(form, {
    id: entity.id,
    name: entity.name,
    dbName,
    ...(entity.area === undefined ? {} : { area: entity.area }),
    lines: lines.filter((line) => form.shows?.(line) ?? true),
    isBare: columns === 'names',
    dependent: logical.subtypeOf !== undefined || logical.key.some((column) => column.links.length > 0)
  })
}

/** A view's card: a row for each entity or view that it reads. */
export function viewCard(
  view: View,
  dbName: string,
  reads: readonly { readonly id: string; readonly name: string }[],
  form: CardForm
): Card {
  const made = filled(
    { ...form, name: ({ name }) => name, type: () => '' },
    {
      id: view.id,
      name: view.name,
      dbName,
      ...(view.area === undefined ? {} : { area: view.area }),
      lines: reads.map(({ id, name }) => ({ ...PLAIN, id, name })),
      dependent: false,
      view: true
    }
  )
  if (reads.length > 0) return made
  const nothing: Shape = {
    kind: 'text',
    x: 14,
    y: form.head + 15,
    text: 'reads nothing yet',
    face: 'sans',
    size: MONO,
    ink: 'soft'
  }
  return { ...made, shapes: [...made.shapes, nothing] }
}

const PLAIN = { type: '', key: false, link: false, optional: false, depth: 0, alternates: [] } as const

interface Content extends Pick<Card, 'id' | 'dbName' | 'area' | 'dependent' | 'view'> {
  readonly name: string
  readonly lines: readonly CardLine[]
  /** No rows are wanted: there is no room for any. */
  readonly isBare?: boolean
}

/** Texts put where a form has them, as wide as they need, and cut where that is too wide. */
function filled(form: CardForm, { name, lines, isBare = false, ...content }: Content): Card {
  const texts = lines.map((line) => ({
    line,
    name: form.name(line),
    type: form.type(line),
    x: form.left + line.depth * INDENT
  }))
  const needs = texts.map(
    ({ name, type, x }) => x + textWidth(name, 'sans', FONT) + 10 + textWidth(type, 'mono', MONO) + PAD
  )
  const titleWidth = textWidth(name, 'bold', 14)
  const head = 14 + titleWidth + 14 + textWidth(content.dbName, 'mono', MONO) + PAD
  const width = Math.ceil(Math.min(MOST, Math.max(LEAST, head, ...needs)))
  const rows = texts.map(({ line, name, type, x }, i): CardRow => {
    const shown = clip(name, 'sans', FONT, Math.max(width - x - PAD, 20))
    const typeX = x + textWidth(shown, 'sans', FONT) + 10
    return {
      ...line,
      name: shown,
      type: width - typeX - PAD > 24 ? clip(type, 'mono', MONO, width - typeX - PAD) : '',
      x,
      typeX,
      y: form.head + i * form.row
    }
  })
  const room = width - 14 - titleWidth - 14 - PAD
  const bare: Card = {
    ...content,
    title: clip(name, 'bold', 14, width - 14 - PAD),
    dbName: room > 20 ? clip(content.dbName, 'mono', MONO, room) : '',
    width,
    height: form.head + Math.max(rows.length, isBare ? (form.least ?? 0) : 1) * form.row + form.foot,
    rows,
    row: form.row,
    keyBottom: form.head + rows.filter((row) => row.key).length * form.row,
    ground: [],
    shapes: []
  }
  return drawn(bare, form)
}

/** The same card with what is drawn of it, as for another size. */
export const drawn = (card: Card, form: CardForm): Card => ({
  ...card,
  ground: form.ground(card),
  shapes: form.shapes(card).filter((shape) => shape.kind === 'path' || shape.text !== '')
})

function ofColumn(column: LogicalColumn, { entity }: LogicalEntity, design: Entities): CardLine {
  const { path, row, name, key, required } = column
  const id = row ?? path
  return {
    id: path,
    ...(row === undefined ? {} : { row }),
    name,
    type: typeLabel(column.attribute ?? column, design),
    key,
    link: isLinked(column),
    optional: !required,
    depth: 0,
    alternates: entity.uniques.flatMap(({ parts }, i) => (parts.includes(id) ? [i + 1] : []))
  }
}

function ofFields({ attribute }: LogicalColumn, design: Entities): CardLine[] {
  if (!attribute?.fields) return []
  return branches({ attributes: attribute.fields }).map(
    ({ attribute: { id, name, type, leadsTo, required }, depth }) => ({
      ...PLAIN,
      id,
      row: id,
      name,
      type: typeLabel({ type, leadsTo }, design),
      optional: !required,
      depth: depth + 1
    })
  )
}

const isLinked = (column: LogicalColumn) => column.links.length > 0 || column.path.startsWith('^/')

function typeLabel(of: Pick<Attribute, 'type' | 'leadsTo'>, design: Entities): string {
  const words = typeWords(design, of)
  return of.type.kind === 'oneOf' && words.length > 26 ? `one of ${of.type.values.length}` : words
}
