// An entity's card: its size and what stands where on it. Screen, far-out layer and exports use these numbers.
import type { View } from '../design'
import type { LogicalColumn, LogicalEntity } from '../derive'
import { printType } from '../types'
import { clip, textWidth } from './text'

export interface CardRow {
  readonly id: string
  /** The design object to select: an attribute or a link. */
  readonly row?: string
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
export function card(logical: LogicalEntity, dbName: string, columns: 'all' | 'keys' = 'all'): Card {
  const { entity } = logical
  // What every entity has tells none of them apart.
  const own = logical.columns.filter((column) => column.common === undefined)
  const shown = columns === 'keys' ? own.filter((c) => c.key || isLinked(c)) : own
  const ordered = [...shown.filter((c) => c.key), ...shown.filter((c) => !c.key)]
  const texts = ordered.map((column) => ({ column, name: label(column), type: typeLabel(column) }))
  const needs = texts.map(
    ({ name, type }) => NAME_X + textWidth(name, 'sans', FONT) + 10 + textWidth(type, 'mono', MONO) + PAD
  )
  const head = 14 + textWidth(entity.name, 'bold', 14) + 14 + textWidth(dbName, 'mono', MONO) + PAD
  const width = Math.ceil(Math.min(MOST, Math.max(LEAST, head, ...needs)))
  const rows = texts.map(({ column, name, type }, i): CardRow => {
    const nameRoom = width - NAME_X - PAD
    const shown = clip(name, 'sans', FONT, nameRoom)
    const typeX = NAME_X + textWidth(shown, 'sans', FONT) + 10
    return {
      id: column.path,
      ...(column.row === undefined ? {} : { row: column.row }),
      name: shown,
      type: width - typeX - PAD > 24 ? clip(type, 'mono', MONO, width - typeX - PAD) : '',
      key: column.key,
      link: isLinked(column),
      optional: !column.required,
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

const isLinked = (column: LogicalColumn) => column.links.length > 0 || column.path.startsWith('^/')

const label = (column: LogicalColumn) => column.name + (column.required ? '' : '?')

const typeLabel = (column: LogicalColumn) =>
  column.type.kind === 'oneOf' && printType(column.type).length > 26
    ? `one of ${column.type.values.length}`
    : printType(column.type)
