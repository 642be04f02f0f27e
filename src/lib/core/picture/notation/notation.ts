// What a notation is: how a card is filled, and what stands at the ends of lines. Each has a file of its own; docs/notations.md says of each
// what its published form can express, and where ours goes on from there.
import type { Link, Subtypes } from '../../design'
import type { Card, CardLine } from '../card'
import type { Box } from '../route'
import type { Point, Shape, Side } from '../shapes'

export type NotationId = 'crows foot' | 'idef1x' | 'uml' | 'barker' | 'chen'

/** How a card is filled. Lengths are pixels from its top left corner. */
export interface CardForm {
  /** Where its rows begin, how tall each is, and what is left free below them. */
  readonly head: number
  readonly row: number
  readonly foot: number
  /** How many rows there is room for where none are wanted. */
  readonly least?: number
  /** Where names begin. */
  readonly left: number
  /** Rows that it has; all where absent. */
  shows?(line: CardLine): boolean
  name(line: CardLine): string
  type(line: CardLine): string
  /** Beneath what marks a row, and above it. */
  ground(card: Card): Shape[]
  shapes(card: Card): Shape[]
  /** What lines lead to, where that is not the whole of it. */
  outline?(card: Box): Box
  /** Rows stand below what lines lead to. */
  readonly hasBelow?: true
}

/** What is drawn of a link: from the parent's card to the child's. */
export type DrawnLink = Pick<
  Link,
  'id' | 'parent' | 'child' | 'kind' | 'identifying' | 'parentRequired' | 'childRequired'
> &
  Partial<Pick<Link, 'role' | 'childRole' | 'phrase'>>

/** An end of a line: where it meets the card, and at which side of it. */
export interface EndAt {
  readonly at: Point
  readonly side: Side
}

export interface LineShape {
  readonly points: readonly Point[]
  readonly dash?: string
  readonly double?: true
}

export interface LinkAt {
  readonly link: DrawnLink
  readonly points: readonly Point[]
  /** How far along it its symbol stands, from 0 to 1; in the middle where nothing is said. */
  readonly share?: number
  readonly parent: EndAt
  readonly child: EndAt
}

/** Where the symbol of a group of subtypes stands, and what leads to it. */
export interface GroupAt {
  readonly group: Subtypes
  /** Its middle. */
  readonly at: Point
  /** The side of the supertype's card that it stands at, and where its line meets that. */
  readonly supertype: EndAt
}

export interface LegendItem {
  /** In a box of 30 by 14 pixels. */
  readonly shapes: readonly Shape[]
  readonly text: string
}

export interface Notation {
  readonly id: NotationId
  readonly label: string
  /** The published form that is followed. */
  readonly source: string
  readonly form: CardForm
  lines(link: LinkAt): LineShape[]
  marks(link: LinkAt): Shape[]
  /** Subtypes stand in their supertype's card; else a symbol stands between them. */
  readonly nests?: true
  /** The symbol of a group, with the line from its supertype. */
  group(group: GroupAt): Shape[]
  /** What stands where the line from the symbol meets a subtype. */
  subtype?(end: EndAt): Shape[]
  /** The size of what stands on each line: a layout leaves room for it. */
  readonly symbol?: { readonly width: number; readonly height: number }
  readonly legend: readonly LegendItem[]
}

/** Least and most at an end: of parents that a child has, or of children that a parent has. */
export interface Bounds {
  readonly least: 0 | 1
  readonly many: boolean
}

export const atParent = ({ kind, parentRequired }: DrawnLink): Bounds => ({
  least: kind !== 'many-to-many' && parentRequired ? 1 : 0,
  many: kind === 'many-to-many'
})
export const atChild = ({ kind, childRequired }: DrawnLink): Bounds => ({
  least: childRequired ? 1 : 0,
  many: kind !== 'one-to-one'
})
