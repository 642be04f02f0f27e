// An entity's card: its size and what stands where on it, in the form of a notation. Screen, far-out layer and exports use these numbers.
import { branches, typeWords, type Attribute, type BesideName, type Design, type View } from '../design'
import type { LogicalColumn, LogicalEntity } from '../derive'
import type { CardForm } from './notation/notation'
import { boxPath, linePath, type Shape } from './shapes'
import { clip, textWidth, wrap } from './text'

/** What is known of a row before it is put into a form. */
export interface CardLine {
  readonly id: string
  /** The design object to select: an attribute or a link. */
  readonly row?: string
  readonly name: string
  readonly type: string
  readonly key: boolean
  readonly link: boolean
  /** Whether it may be empty; nothing where that is not shown. */
  readonly optional: boolean | undefined
  /** What stands behind the type. */
  readonly more?: string
  /** It holds fields, whose rows are below it, or are not shown. */
  readonly fields?: 'open' | 'folded'
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
  /** It is the rest of a name that is too long for a line. */
  readonly continued?: true
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
  /** It is beside the matter, and grey. */
  readonly grey?: true
  /** What it is in a star. */
  readonly star?: 'fact' | 'dimension'
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

type Entities = Pick<Design, 'entities'>

/** What shows on cards, and how. */
export interface CardStyle {
  /** All columns, only those of keys and links, or none. */
  readonly columns: 'all' | 'keys' | 'names'
  readonly shows: ReadonlySet<BesideName>
  /** The attributes whose fields are not shown. */
  readonly folded: ReadonlySet<string>
  readonly wrapped: boolean
  /** Pixels; as wide as its text where nothing is said. */
  readonly width?: number
}

export const PLAIN_STYLE: CardStyle = {
  columns: 'all',
  shows: new Set(['types', 'required', 'database names']),
  folded: new Set(),
  wrapped: false
}

/** Works out a card; key columns come first, as the tint above the dashed rule has them. */
export function card(
  logical: LogicalEntity,
  dbName: string,
  design: Entities,
  form: CardForm,
  style: CardStyle = PLAIN_STYLE
): Card {
  const { entity } = logical
  const { columns } = style
  // What every entity has tells none of them apart.
  const own = logical.columns.filter((column) => column.common === undefined)
  const shown = columns === 'all' ? own : columns === 'keys' ? own.filter((c) => c.key || isLinked(c)) : []
  const ordered = [...shown.filter((c) => c.key), ...shown.filter((c) => !c.key)]
  const lines = ordered.flatMap((column) => [
    ofColumn(column, logical, design, style),
    ...(columns === 'all' ? ofFields(column, design, style) : [])
  ])
  return cardOf(form, style, {
    id: entity.id,
    name: entity.name,
    dbName,
    ...(entity.area === undefined ? {} : { area: entity.area }),
    lines,
    dependent: logical.subtypeOf !== undefined || logical.key.some((column) => column.links.length > 0)
  })
}

/** A card of lines that are known. */
export const cardOf = (form: CardForm, style: CardStyle, content: Omit<Content, 'isBare'>): Card =>
  filled(form, style, {
    ...content,
    dbName: style.shows.has('database names') ? content.dbName : '',
    lines: content.lines.filter((line) => form.shows?.(line) ?? true),
    isBare: style.columns === 'names'
  })

/** A view's card: a row for each entity or view that it reads. */
export function viewCard(
  view: View,
  dbName: string,
  reads: readonly { readonly id: string; readonly name: string }[],
  form: CardForm,
  style: CardStyle = PLAIN_STYLE
): Card {
  const made = filled({ ...form, name: ({ name }) => name, type: () => '' }, style, {
    id: view.id,
    name: view.name,
    dbName,
    ...(view.area === undefined ? {} : { area: view.area }),
    lines: reads.map(({ id, name }) => ({ ...PLAIN, id, name })),
    dependent: false,
    view: true
  })
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

export interface Content extends Pick<Card, 'id' | 'dbName' | 'area' | 'dependent' | 'view'> {
  readonly name: string
  readonly lines: readonly CardLine[]
  /** No rows are wanted: there is no room for any. */
  readonly isBare?: boolean
}

/** Texts put where a form has them, as wide as they need, and cut where that is too wide. */
function filled(form: CardForm, style: CardStyle, { name, lines, isBare = false, ...content }: Content): Card {
  const texts = lines.map((line) => ({
    line,
    name: form.name(line),
    type: [form.type(line), line.more ?? ''].filter((text) => text !== '').join(' '),
    x: form.left + line.depth * INDENT
  }))
  const besideName = ({ fields }: CardLine) => (fields === undefined ? 10 : 10 + FOLD)
  const needs = texts.map(
    ({ line, name, type, x }) =>
      x + textWidth(name, 'sans', FONT) + besideName(line) + textWidth(type, 'mono', MONO) + PAD
  )
  const titleWidth = textWidth(name, 'bold', 14)
  const head = 14 + titleWidth + 14 + textWidth(content.dbName, 'mono', MONO) + PAD
  const width = style.width ?? Math.ceil(Math.min(MOST, Math.max(LEAST, head, ...needs)))
  let y = form.head
  const rows = texts.flatMap(({ line, name, type, x }): CardRow[] => {
    const room = Math.max(width - x - PAD - (line.fields ? FOLD : 0), 20)
    // A notation whose rows are shapes of their own has no second line.
    const isLong = style.wrapped && !form.hasBelow && textWidth(name, 'sans', FONT) > room
    const names = isLong ? wrap(name, 'sans', FONT, room) : [clip(name, 'sans', FONT, room)]
    return names.map((shown, i): CardRow => {
      const typeX = x + textWidth(shown, 'sans', FONT) + besideName(line)
      const isLast = i === names.length - 1
      const row: CardRow = {
        ...line,
        name: shown,
        type: isLast && width - typeX - PAD > 24 ? clip(type, 'mono', MONO, width - typeX - PAD) : '',
        x,
        typeX,
        y,
        ...(i > 0 ? { continued: true } : {})
      }
      y += form.row
      return row
    })
  })
  const room = width - 14 - titleWidth - 14 - PAD
  const bare: Card = {
    ...content,
    title: clip(name, 'bold', 14, width - 14 - PAD),
    dbName: room > 20 && content.dbName !== '' ? clip(content.dbName, 'mono', MONO, room) : '',
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
export function drawn(card: Card, form: CardForm): Card {
  const folds = card.rows
    .filter((row) => row.fields !== undefined && !row.continued)
    .map((row) => fold(row, card, form))
  const shapes = [...form.shapes(card), ...folds].filter((shape) => shape.kind === 'path' || shape.text !== '')
  return { ...card, ground: form.ground(card), shapes }
}

/** What it takes to show that fields are folded, or not. */
const FOLD = 14

/** A chevron behind the name: down where fields follow, to the right where they are folded. */
function fold(row: CardRow, card: Card, form: CardForm): Shape {
  const [x, y] = [foldAt(row, card, form), row.y + form.row / 2]
  const d =
    row.fields === 'open'
      ? linePath([x - 4, y - 2], [x, y + 2.5], [x + 4, y - 2])
      : linePath([x - 2, y - 4], [x + 2.5, y], [x - 2, y + 4])
  return { kind: 'path', d, stroke: 'soft', width: 1.6 }
}

const foldAt = (row: CardRow, card: Card, form: CardForm): number =>
  form.hasBelow ? card.width - 12 : row.typeX - FOLD + 2

/** The same with a tag at its lower right corner that says what it is in a star. */
export function tagged(card: Card, star: 'fact' | 'dimension', isShared: boolean): Card {
  const text = star === 'fact' ? 'fact' : isShared ? 'shared dimension' : 'dimension'
  const width = textWidth(text, 'sans', 11) + 12
  const [x, y] = [card.width - width, card.height]
  return {
    ...card,
    star,
    shapes: [
      ...card.shapes,
      { kind: 'path', d: boxPath(x, y, width, 16), fill: star === 'fact' ? 'key' : 'sheet', stroke: 'line' },
      ...(isShared ? [{ kind: 'path', d: linePath([x, y + 18], [x + width, y + 18]), stroke: 'line' } as const] : []),
      { kind: 'text', x: x + 6, y: y + 12, text, face: 'sans', size: 11, ink: 'soft' }
    ]
  }
}

/** The same in grey. */
export const greyed = (card: Card): Card => ({
  ...card,
  grey: true,
  ground: inGrey(card.ground),
  shapes: inGrey(card.shapes)
})

export const inGrey = (shapes: readonly Shape[]): Shape[] =>
  shapes.map((shape) =>
    shape.kind === 'text'
      ? { ...shape, ink: 'soft' }
      : {
          ...shape,
          ...(shape.stroke === undefined || shape.stroke === 'ground' ? {} : { stroke: 'line' as const }),
          ...(shape.fill === undefined || shape.fill === 'sheet' || shape.fill === 'ground'
            ? {}
            : { fill: 'line' as const })
        }
  )

function ofColumn(column: LogicalColumn, { entity }: LogicalEntity, design: Entities, style: CardStyle): CardLine {
  const { path, row, name, key, required, attribute } = column
  const id = row ?? path
  return {
    id: path,
    ...(row === undefined ? {} : { row }),
    name,
    ...beside(attribute ?? column, required, style, design),
    ...foldsOf(attribute, style),
    key,
    link: isLinked(column),
    depth: 0,
    alternates: entity.uniques.flatMap(({ parts }, i) => (parts.includes(id) ? [i + 1] : []))
  }
}

/** What stands beside a name. */
function beside(
  of: Pick<Attribute, 'type'> & Partial<Pick<Attribute, 'leadsTo' | 'default' | 'means'>>,
  required: boolean,
  { shows }: CardStyle,
  design: Entities
): Pick<CardLine, 'type' | 'optional' | 'more'> {
  const more = [
    shows.has('defaults') && of.default !== undefined ? `= ${of.default}` : '',
    shows.has('meanings') && of.means !== undefined ? `· ${of.means}` : ''
  ].filter((text) => text !== '')
  return {
    type: shows.has('types') ? typeLabel(of, design) : '',
    optional: shows.has('required') ? !required : undefined,
    ...(more.length > 0 ? { more: more.join(' ') } : {})
  }
}

const foldsOf = (attribute: Attribute | undefined, { folded, columns }: CardStyle): Pick<CardLine, 'fields'> =>
  columns === 'all' && attribute?.fields?.length ? { fields: folded.has(attribute.id) ? 'folded' : 'open' } : {}

function ofFields({ attribute }: LogicalColumn, design: Entities, style: CardStyle): CardLine[] {
  if (!attribute?.fields || style.folded.has(attribute.id)) return []
  let folded = Infinity
  return branches({ attributes: attribute.fields }).flatMap(({ attribute: field, depth }): CardLine[] => {
    if (depth > folded) return []
    folded = style.folded.has(field.id) ? depth : Infinity
    const { id, name } = field
    return [
      {
        ...PLAIN,
        id,
        row: id,
        name,
        ...beside(field, field.required, style, design),
        ...foldsOf(field, style),
        depth: depth + 1
      }
    ]
  })
}

const isLinked = (column: LogicalColumn) => column.links.length > 0 || column.path.startsWith('^/')

function typeLabel(of: Pick<Attribute, 'type'> & Partial<Pick<Attribute, 'leadsTo'>>, design: Entities): string {
  const words = typeWords(design, of)
  return of.type.kind === 'oneOf' && words.length > 26 ? `one of ${of.type.values.length}` : words
}
