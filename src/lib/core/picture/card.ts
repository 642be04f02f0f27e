// An entity's card: its size and what stands where on it. Screen, far-out layer and exports use these numbers.
import { branches, typeWords, type Attribute, type Design, type View } from '../design'
import type { LogicalColumn, LogicalEntity } from '../derive'
import { clip, textWidth } from './text'

export interface CardRow {
  readonly id: string
  /** The design object to select: an attribute or a link. */
  readonly row?: string
  /** Its left edge, further in for a field. */
  readonly x: number
  readonly name: string
  readonly type: string
  readonly key: boolean
  readonly link: boolean
  readonly optional: boolean
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
  /** Where the key's tint ends: below its last row, which come first. */
  readonly keyBottom: number
  /** It is a view's: what it reads stands in its rows. */
  readonly view?: true
}

export const HEAD = 32
export const ROW = 21
export const NAME_X = 30
const FONT = 13
const MONO = 11.5
const MOST = 330
const LEAST = 150
const PAD = 12

/**
 * Works out a card; key columns come first, as the tint above the dashed rule has them. `columns`: all of them, or only those
 * of keys and links.
 */
export function card(logical: LogicalEntity, dbName: string, design: Entities, columns: 'all' | 'keys' = 'all'): Card {
  const { entity } = logical
  // What every entity has tells none of them apart.
  const own = logical.columns.filter((column) => column.common === undefined)
  const shown = columns === 'keys' ? own.filter((c) => c.key || isLinked(c)) : own
  const ordered = [...shown.filter((c) => c.key), ...shown.filter((c) => !c.key)]
  const texts = ordered.flatMap((column) => [
    ofColumn(column, design),
    ...(columns === 'keys' ? [] : ofFields(column, design))
  ])
  const needs = texts.map(
    ({ name, type, x }) => x + textWidth(name, 'sans', FONT) + 10 + textWidth(type, 'mono', MONO) + PAD
  )
  const head = 14 + textWidth(entity.name, 'bold', 14) + 14 + textWidth(dbName, 'mono', MONO) + PAD
  const width = Math.ceil(Math.min(MOST, Math.max(LEAST, head, ...needs)))
  const rows = texts.map(({ name, type, x, ...row }, i): CardRow => {
    const shown = clip(name, 'sans', FONT, Math.max(width - x - PAD, 20))
    const typeX = x + textWidth(shown, 'sans', FONT) + 10
    return {
      ...row,
      name: shown,
      type: width - typeX - PAD > 24 ? clip(type, 'mono', MONO, width - typeX - PAD) : '',
      x,
      typeX,
      y: HEAD + i * ROW
    }
  })
  return {
    id: entity.id,
    title: clip(entity.name, 'bold', 14, width - 14 - PAD),
    dbName:
      width - 14 - textWidth(entity.name, 'bold', 14) - 14 - PAD > 20
        ? clip(dbName, 'mono', MONO, width - 40 - textWidth(entity.name, 'bold', 14))
        : '',
    width,
    height: HEAD + Math.max(rows.length, 1) * ROW + 4,
    ...(entity.area === undefined ? {} : { area: entity.area }),
    rows,
    keyBottom: HEAD + rows.filter((row) => row.key).length * ROW
  }
}

/** A view's card: a row for each entity or view that it reads. */
export function viewCard(
  view: View,
  dbName: string,
  reads: readonly { readonly id: string; readonly name: string }[]
): Card {
  const needs = reads.map(({ name }) => NAME_X + textWidth(name, 'sans', FONT) + PAD)
  const head = 14 + textWidth(view.name, 'bold', 14) + 14 + textWidth(dbName, 'mono', MONO) + PAD
  const width = Math.ceil(Math.min(MOST, Math.max(LEAST, head, ...needs)))
  const rows = reads.map(({ id, name }, i): CardRow => ({
    id,
    name: clip(name, 'sans', FONT, width - NAME_X - PAD),
    type: '',
    key: false,
    link: false,
    optional: false,
    x: NAME_X,
    typeX: width,
    y: HEAD + i * ROW
  }))
  return {
    id: view.id,
    title: clip(view.name, 'bold', 14, width - 14 - PAD),
    dbName: clip(dbName, 'mono', MONO, Math.max(width - 40 - textWidth(view.name, 'bold', 14), 0)),
    width,
    height: HEAD + Math.max(rows.length, 1) * ROW + 4,
    ...(view.area === undefined ? {} : { area: view.area }),
    rows,
    keyBottom: HEAD,
    view: true
  }
}

type Entities = Pick<Design, 'entities'>
type RowText = Omit<CardRow, 'typeX' | 'y'>

const ofColumn = (column: LogicalColumn, design: Entities): RowText => ({
  id: column.path,
  ...(column.row === undefined ? {} : { row: column.row }),
  name: label(column),
  type: typeLabel(column.attribute ?? column, design),
  key: column.key,
  link: isLinked(column),
  optional: !column.required,
  x: NAME_X
})

/** How much further in a field stands than what it is in. */
const INDENT = 14

function ofFields({ attribute }: LogicalColumn, design: Entities): RowText[] {
  if (!attribute?.fields) return []
  return branches({ attributes: attribute.fields }).map(
    ({ attribute: { id, name, type, leadsTo, required }, depth }) => ({
      id,
      row: id,
      name: label({ name, required }),
      type: typeLabel({ type, leadsTo }, design),
      key: false,
      link: false,
      optional: !required,
      x: NAME_X + (depth + 1) * INDENT
    })
  )
}

const isLinked = (column: LogicalColumn) => column.links.length > 0 || column.path.startsWith('^/')

const label = (column: Pick<LogicalColumn, 'name' | 'required'>) => column.name + (column.required ? '' : '?')

function typeLabel(of: Pick<Attribute, 'type' | 'leadsTo'>, design: Entities): string {
  const words = typeWords(design, of)
  return of.type.kind === 'oneOf' && words.length > 26 ? `one of ${of.type.values.length}` : words
}
