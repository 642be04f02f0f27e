// What a press and a drag on the plane mean: cards and notes are moved or sized, rows put elsewhere, links drawn, and frames drawn around cards.
import { drag } from 'd3-drag'
import { select } from 'd3-selection'
import { untrack } from 'svelte'
import { dropRows, NEW_ROW } from '../../core/cells'
import type { Desk } from '../desk/desk.svelte'
import type { Place } from '../../core/design'
import type { Box } from '../../core/picture'
import type { Board, PlacedCard, PlacedNote } from './board.svelte'

/** A press that has moved less than this, in pixels, is a click. */
const CLICK = 4
const [NARROWEST, LOWEST] = [80, 40]

interface Drag {
  readonly x: number
  readonly y: number
  readonly dx: number
  readonly dy: number
  readonly sourceEvent: MouseEvent
}

export class Gestures {
  /** The link that is being drawn: from where to where, and what it would be. */
  rubber = $state.raw<{ readonly from: Place; readonly to: Place; readonly onto?: string; readonly says: string }>()
  /** Where the row that is being dragged would stand: a card, and how far down. */
  slot = $state.raw<{ readonly card: string; readonly y: number; readonly before: string }>()
  /** The frame that is being drawn. */
  frame = $state.raw<Box>()
  private began: Place | undefined
  private wasDragged = false

  constructor(
    private readonly board: Board,
    private readonly desk: Desk,
    private readonly plane: () => SVGGElement | undefined
  ) {}

  /** Whether a press there is for panning: not on what can be moved, and not where something is to be drawn. */
  static pans(event: MouseEvent, board: Board): boolean {
    const onThing = event.target instanceof Element && event.target.closest('[data-card], [data-note]')
    const draws = board.tool !== undefined && board.tool !== 'link'
    return !onThing && !event.shiftKey && !draws
  }

  /** Whether the click that comes now is the end of a drag. */
  get dragged() {
    return this.wasDragged
  }

  private behave(node: SVGGElement, on: { start: (e: Drag) => void; drag: (e: Drag) => void; end: (e: Drag) => void }) {
    let way = 0
    const behavior = drag<SVGGElement, unknown>()
      .container(() => this.plane() ?? node)
      .clickDistance(CLICK)
      .filter((event: MouseEvent) => event.button === 0 && !event.shiftKey)
      .on('start', (event: Drag) => {
        way = 0
        this.wasDragged = false
        on.start(event)
      })
      .on('drag', (event: Drag) => {
        way += Math.hypot(event.dx, event.dy) * this.board.plane.view.k
        if (way <= CLICK) return
        this.wasDragged = true
        on.drag(event)
      })
      .on('end', (event: Drag) => on.end(event))
    select(node).call(behavior)
    return () => void select(node).on('.drag', null)
  }

  /** What begins on a card: a link where one is to be drawn, a row's way to another place where it is selected, else the card's. */
  card(node: SVGGElement, card: PlacedCard) {
    const { board, desk } = this
    // Read once: a card is not to be held anew for each move of another.
    const moving = untrack(() => board.picture.cards.find(({ id }) => id === card.within)) ?? card
    let how: 'link' | 'row' | 'size' | 'move' = 'move'
    let row = ''
    let from: Place = moving
    let starts: readonly { readonly id: string; readonly x: number; readonly y: number }[] = []
    return this.behave(node, {
      start: ({ x, y, sourceEvent }) => {
        const target = sourceEvent.target instanceof Element ? sourceEvent.target : undefined
        row = target?.closest('[data-row]')?.getAttribute('data-row') ?? ''
        const { selection } = desk
        how =
          board.tool === 'link'
            ? 'link'
            : target?.closest('[data-size]')
              ? 'size'
              : row !== '' && selection?.kind === 'row' && selection.row === row && board.isOfEntities
                ? 'row'
                : 'move'
        from = { x, y }
        starts = board.picked.has(moving.id) ? board.chosen : [moving]
      },
      drag: ({ x, y }) => {
        const [dx, dy] = [x - from.x, y - from.y]
        if (how === 'link') this.draw(card, from, { x, y })
        else if (how === 'row') this.slot = slotAt(card, y - card.y)
        else if (how === 'size')
          board.sized = { [card.id]: { width: Math.max(NARROWEST, Math.round(card.width + dx)), height: card.height } }
        else
          board.moved = Object.fromEntries(
            starts.map((one) => [one.id, { x: Math.round(one.x + dx), y: Math.round(one.y + dy) }])
          )
      },
      end: ({ x, y }) => {
        const [slot, rubber, { moved, sized }] = [this.slot, this.rubber, board]
        this.slot = this.rubber = undefined
        board.moved = {}
        board.sized = {}
        if (rubber) {
          const onto = this.cardAt({ x, y })
          if (onto) board.link(card.id, onto.id, rowAt(onto, y - onto.y))
        } else if (slot) desk.edit(dropRows(desk.design, slot.card, new Set([row]), slot.before))
        else if (Object.keys(sized).length > 0) board.resize(sized)
        else if (Object.keys(moved).length > 0) board.place(moved)
      }
    })
  }

  note(node: SVGGElement, note: PlacedNote) {
    const { board } = this
    let from: Place = note
    let isSize = false
    return this.behave(node, {
      start: ({ x, y, sourceEvent }) => {
        from = { x, y }
        isSize = sourceEvent.target instanceof Element && sourceEvent.target.closest('[data-size]') !== null
      },
      drag: ({ x, y }) => {
        const [dx, dy] = [Math.round(x - from.x), Math.round(y - from.y)]
        if (isSize)
          board.sized = {
            [note.id]: { width: Math.max(NARROWEST, note.width + dx), height: Math.max(LOWEST, note.height + dy) }
          }
        else board.moved = { [note.id]: { x: Math.round(note.x + dx), y: Math.round(note.y + dy) } }
      },
      end: () => {
        const { moved, sized } = board
        board.moved = {}
        board.sized = {}
        if (Object.keys(sized).length > 0) board.resize(sized)
        else if (Object.keys(moved).length > 0) board.place(moved)
      }
    })
  }

  private cardAt({ x, y }: Place): PlacedCard | undefined {
    return this.board.picture.cards.findLast(
      (card) => x >= card.x && y >= card.y && x <= card.x + card.width && y <= card.y + card.height
    )
  }

  private last = { key: '', says: '' }
  private draw(card: PlacedCard, from: Place, to: Place) {
    const onto = this.cardAt(to)
    const row = onto && rowAt(onto, to.y - onto.y)
    const key = `${onto?.id ?? ''} ${row ?? ''}`
    // What it would be is worked out once for each place that it could end at.
    if (key !== this.last.key) {
      const made = onto && this.board.linkBetween(card.id, onto.id, row)
      this.last = { key, says: made ? ('error' in made ? made.error : made.says) : '' }
    }
    this.rubber = { from, to, says: this.last.says, ...(onto ? { onto: onto.id } : {}) }
  }

  // ── on the empty plane ────────────────────────────────────────────────────────────────────────────────────────────────────────────

  readonly down = (event: PointerEvent) => {
    const { board } = this
    this.wasDragged = false
    const onThing = event.target instanceof Element && event.target.closest('[data-card], [data-note]')
    if (event.button !== 0 || onThing || Gestures.pans(event, board)) return
    this.began = board.plane.at(event)
    ;(event.currentTarget as Element).setPointerCapture(event.pointerId)
  }
  readonly move = (event: PointerEvent) => {
    if (!this.began || this.board.tool === 'entity') return
    const at = this.board.plane.at(event)
    const box = boxOf(this.began, at)
    if (box.width * this.board.plane.view.k > CLICK || box.height * this.board.plane.view.k > CLICK) this.frame = box
  }
  readonly up = (event: PointerEvent) => {
    const { board, began } = this
    if (!began) return
    const box = this.frame ?? boxOf(began, board.plane.at(event))
    const isDrawn = this.frame !== undefined
    this.began = this.frame = undefined
    this.wasDragged = true
    if (board.tool === 'entity') board.addEntity(began)
    else if (board.tool === 'note' || board.tool === 'frame') board.addNote(board.tool, box)
    else if (isDrawn) {
      board.pickIn(box)
      board.tool = undefined
    } else {
      this.desk.select(undefined)
      board.pick([])
    }
  }

  /** A click on a card, or the key that means one. */
  press(card: PlacedCard, event: MouseEvent | KeyboardEvent) {
    const { board, desk } = this
    if (this.wasDragged && event instanceof MouseEvent) return
    if (event.shiftKey) return board.toggle(card.within ?? card.id)
    const target = event instanceof MouseEvent && event.target instanceof Element ? event.target : undefined
    const fold = target?.closest('[data-fold]')?.getAttribute('data-fold')
    if (fold) return board.fold(fold)
    const row = target?.closest('[data-row]')?.getAttribute('data-row')
    board.problem = ''
    if (board.tool === 'link') {
      if (board.linkFrom === undefined) board.linkFrom = card.id
      else board.link(board.linkFrom, card.id)
      return
    }
    board.picked = new Set()
    if (!row) return board.select(card.of || card.id)
    board.own = card.id
    board.noteId = undefined
    if (desk.design.links[row]) desk.select({ kind: 'row', entity: desk.design.links[row].child, row })
    else if (desk.design.entities[card.id]) desk.select({ kind: 'row', entity: card.id, row })
    else board.select(card.of || card.id)
  }
}

const boxOf = (a: Place, b: Place): Box => ({
  x: Math.min(a.x, b.x),
  y: Math.min(a.y, b.y),
  width: Math.abs(a.x - b.x),
  height: Math.abs(a.y - b.y)
})

/** The column that is so far down a card, where one is. */
const rowAt = (card: PlacedCard, y: number): string | undefined =>
  card.rows.find((row) => y >= row.y && y < row.y + card.row && row.depth === 0)?.row

/** Between which rows a row would stand, so far down a card. */
function slotAt(card: PlacedCard, y: number): { card: string; y: number; before: string } {
  const rows = card.rows.filter(({ row, continued, depth }) => row !== undefined && !continued && depth === 0)
  const next = rows.find((row) => y < row.y + card.row / 2)
  const last = card.rows.at(-1)
  return { card: card.id, before: next?.row ?? NEW_ROW, y: next?.y ?? (last ? last.y + card.row : card.height) }
}
