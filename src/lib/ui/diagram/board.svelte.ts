// A diagram that is worked on: which one, what is drawn of it, what is chosen, and what can be done to it.
import { tick, untrack } from 'svelte'
import { fragment, pasted } from '../../core/adopt'
import { drawnLink, LINK_KINDS, type LinkKind } from '../../core/cells'
import type { Catalog } from '../../core/catalog'
import { freeName, newEntity, newId, type Diagram, type Edit, type Note, type Place } from '../../core/design'
import {
  aligned,
  around,
  drawnLinks,
  factsByDimension,
  layoutRequest,
  neighbourhood,
  picture,
  spaced,
  starPlaces,
  withMoved,
  type Alignment,
  type Box,
  type PlacedCard,
  type PlacedNote
} from '../../core/picture'
import { starRoles } from '../../core/infer'
import { coreWorker } from '../../workers'
import { entityOf, type Desk } from '../desk/desk.svelte'
import { Plane } from './plane.svelte'

export type Tool = 'entity' | 'link' | 'note' | 'frame' | 'choose'
export type Size = { readonly width: number; readonly height: number }
type Mutable<T> = { -readonly [K in keyof T]: T[K] | undefined }

/** What is typed in a card: its name, one of its rows, or a new one before another. */
export interface Editing {
  readonly entity: string
  readonly row: string
  readonly before?: string | undefined
  /** It was made just now: its columns come next. */
  readonly isNew?: boolean
}
export const NAME = 'name'
export const NEW = '+'

export class Board {
  diagramId = $state('')
  tool = $state<Tool>()
  linkKind = $state<LinkKind>(LINK_KINDS[0])
  linkFrom = $state<string>()
  editing = $state.raw<Editing>()
  noteId = $state<string>()
  /** Cards that are chosen together. */
  picked = $state.raw<ReadonlySet<string>>(new Set())
  working = $state(false)
  problem = $state('')
  /** Places and sizes for the time being, of what is being dragged. */
  moved = $state.raw<Readonly<Record<string, Place>>>({})
  sized = $state.raw<Readonly<Record<string, Size>>>({})
  /** Where what is shown around one thing stands: laid out each time, and kept nowhere. */
  private aside = $state.raw<Readonly<Record<string, Place>>>({})
  /** What the design makes for the target that is drawn. */
  private catalog = $state.raw<Catalog>()
  readonly plane: Plane

  readonly diagrams = $derived.by(() =>
    Object.values(this.desk.design.diagrams).sort((a, b) => (a.rank ?? Infinity) - (b.rank ?? Infinity) || 0)
  )
  /** The diagram as it is kept. */
  readonly whole = $derived.by(
    (): Diagram => this.desk.design.diagrams[this.diagramId] ?? this.diagrams[0] ?? { id: '', name: '', places: {} }
  )
  readonly centre = $derived.by(() => {
    const { around: id, design } = this.desk
    return id === undefined ? undefined : (design.entities[id] ?? design.views[id])
  })
  readonly diagram = $derived.by((): Diagram => {
    const { whole, centre, sized } = this
    const { only: _only, hidden: _hidden, area: _area, notes: _notes, ...drawn } = whole
    if (centre) return { ...drawn, id: '', name: `around ${centre.name}`, places: this.aside }
    if (Object.keys(sized).length === 0) return whole
    const widths = Object.fromEntries(Object.entries(sized).map(([id, { width }]) => [id, width]))
    const notes = whole.notes?.map((note) => ({ ...note, ...sized[note.id] }))
    return { ...whole, widths: { ...whole.widths, ...widths }, ...(notes ? { notes } : {}) }
  })
  private readonly options = $derived.by(() => ({
    only: this.centre && neighbourhood(this.desk.design, this.centre.id),
    catalog: this.catalog
  }))
  /** With all where it is kept; and as it is now, while something is on its way. */
  private readonly still = $derived.by(() => picture(this.desk.design, this.diagram, this.options))
  readonly picture = $derived.by(() =>
    withMoved(this.still, this.desk.design, this.diagram, { ...this.options, moved: this.moved })
  )
  /** Any diagram as it is drawn, or what is among `only` of it. */
  async drawn(diagram: Diagram, only?: ReadonlySet<string>) {
    const { design } = this.desk
    const catalog = diagram.level === 'physical' ? await coreWorker().wanted(design, diagram.target) : undefined
    return picture(design, diagram, { only, catalog })
  }
  readonly note = $derived.by(() => this.picture.notes.find(({ id }) => id === this.noteId))
  /** Whether entities are drawn, which can be typed into. */
  readonly isOfEntities = $derived.by(() => this.whole.level !== 'physical')

  constructor(
    private readonly desk: Desk,
    pans: (event: MouseEvent) => boolean
  ) {
    this.plane = new Plane(pans)
    this.diagramId = untrack(() => this.diagrams[0]?.id ?? '')
    // The tables of a target are worked out beside, and come a moment later.
    $effect(() => {
      const { design } = desk
      const { level, target } = this.whole
      if (level !== 'physical') return
      void coreWorker()
        .wanted(design, target)
        .then((catalog) => {
          if (design === desk.design && target === this.whole.target) this.catalog = catalog
        })
    })
    // Around one thing, or back to all: it is laid out, and brought into view as a whole.
    let before: string | undefined
    $effect(() => {
      const id = this.centre?.id
      untrack(() => {
        if (id === before) return
        before = id
        this.aside = {}
        this.pick([])
        void tick().then(async () => {
          if (id === undefined) this.fit(false)
          else await this.layOut(false)
        })
      })
    })
  }

  // ── which, and how it is shown ────────────────────────────────────────────────────────────────────────────────────────────────────

  choose(id: string) {
    this.desk.around = undefined
    this.diagramId = id
    this.pick([])
    this.noteId = undefined
    this.editing = undefined
    void tick().then(() => this.settle())
  }

  /** What is said of the diagram anew; what is undefined is said no more. */
  set(values: Partial<Mutable<Omit<Diagram, 'id'>>>, joins = false) {
    const object = Object.fromEntries(
      Object.entries({ ...this.whole, ...values }).filter(([, value]) => value !== undefined)
    ) as Diagram
    this.desk.edit({ kind: 'object.set', collection: 'diagrams', object }, joins)
  }

  /** A diagram that nobody has arranged is laid out when it is first shown. */
  async settle() {
    const outer = this.picture.cards.filter(({ within }) => within === undefined).length
    if (outer > 0 && this.picture.unplaced.length === outer) await this.layOut(false)
    await tick()
    this.fit(false)
  }

  /** All of it; at first, what is too large is shown from the card nearest to its top left corner. */
  fit(all = true) {
    const { box, areas, cards } = this.picture
    const labels = areas.map(({ label }) => ({ ...label, width: 10, height: 10 }))
    const corner = cards.reduce<Place>((near, card) => (card.x + card.y < near.x + near.y ? card : near), {
      x: Infinity,
      y: Infinity
    })
    this.plane.fit(around([box, ...labels]), all ? undefined : corner)
  }

  // ── what is chosen ────────────────────────────────────────────────────────────────────────────────────────────────────────────────

  pick(ids: Iterable<string>) {
    const picked = new Set(ids)
    this.picked = picked.size > 1 ? picked : new Set()
    if (picked.size === 0) return
    this.noteId = undefined
    const [only] = picked
    if (picked.size === 1 && only !== undefined) this.select(only)
    else this.desk.select(undefined)
  }
  /** One card more, or one less. */
  toggle(id: string) {
    const picked = new Set(this.picked)
    const selected = entityOf(this.desk.selection)
    if (picked.size === 0 && selected !== undefined && selected !== id) picked.add(selected)
    if (!picked.delete(id)) picked.add(id)
    this.pick(picked)
  }
  select(id: string) {
    const { entities, views, links } = this.desk.design
    this.noteId = undefined
    this.own = id
    if (entities[id]) this.desk.select({ kind: 'entity', entity: id })
    else if (views[id]) this.desk.select({ kind: 'view', view: id })
    else if (links[id]) this.desk.select({ kind: 'link', link: id })
  }
  /** What was selected here: it is in view. */
  own: string | undefined
  /** The cards that something is done to: those that are chosen together, or the one that is selected. */
  readonly chosen = $derived.by((): readonly PlacedCard[] => {
    const { selection } = this.desk
    const one = entityOf(selection) ?? (selection?.kind === 'view' ? selection.view : undefined)
    const ids = this.picked.size > 0 ? this.picked : new Set(one === undefined ? [] : [one])
    return this.picture.cards.filter(({ id, within }) => ids.has(id) && within === undefined)
  })
  pickIn(box: Box) {
    const inside = ({ x, y, width, height }: Box) =>
      x >= box.x && y >= box.y && x + width <= box.x + box.width && y + height <= box.y + box.height
    this.pick(this.picture.cards.filter((card) => card.within === undefined && inside(card)).map(({ id }) => id))
  }
  pickAll() {
    this.pick(this.picture.cards.filter(({ within }) => within === undefined).map(({ id }) => id))
  }
  /** The nearest card that way, those that a line leads to first. */
  neighbour(key: string) {
    const [dx, dy] = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const)[
      key as 'ArrowLeft'
    ]
    const from = this.chosen[0] ?? this.picture.cards[0]
    if (!from) return
    const linked = neighbourhood(this.desk.design, from.id)
    const middle = ({ x, y, width, height }: Box) => [x + width / 2, y + height / 2] as const
    const [fx, fy] = middle(from)
    const far = this.picture.cards.flatMap((card) => {
      const [x, y] = [middle(card)[0] - fx, middle(card)[1] - fy]
      const [along, beside] = [x * dx + y * dy, Math.abs(x * dy) + Math.abs(y * dx)]
      return along > 10 && beside < along * 2
        ? [{ card, way: (along + beside * 1.5) * (linked.has(card.id) ? 0.6 : 1) }]
        : []
    })
    const [next] = far.sort((a, b) => a.way - b.way)
    if (!next) return
    this.picked = new Set()
    this.select(next.card.id)
    this.plane.show(next.card, false)
  }

  // ── where it stands ───────────────────────────────────────────────────────────────────────────────────────────────────────────────

  /** Cards and notes go to places. */
  place(places: Readonly<Record<string, Place>>) {
    if (this.centre) {
      this.aside = { ...this.aside, ...places }
      return
    }
    const { id, notes } = this.whole
    const isNote = new Set(notes?.map((note) => note.id))
    const cards = Object.fromEntries(Object.entries(places).filter(([key]) => !isNote.has(key)))
    const edits: Edit[] = [{ kind: 'diagram.place', id, places: cards }]
    if (Object.keys(cards).length < Object.keys(places).length) {
      const object = {
        ...this.whole,
        places: { ...this.whole.places, ...cards },
        notes: notes?.map((note) => ({ ...note, ...places[note.id] }))
      } as Diagram
      edits.unshift({ kind: 'object.set', collection: 'diagrams', object })
    }
    this.desk.edit(edits.length === 1 && edits[0] ? edits[0] : { kind: 'all', edits })
  }

  moveBy(x: number, y: number) {
    const all = this.note ? [this.note] : this.chosen
    if (all.length > 0) this.place(Object.fromEntries(all.map((one) => [one.id, { x: one.x + x, y: one.y + y }])))
  }
  align(how: Alignment) {
    this.place(aligned(this.chosen, how))
  }
  space(way: 'across' | 'down') {
    this.place(spaced(this.chosen, way))
  }

  /** Cards that no place is known for, where others have theirs. */
  readonly fresh = $derived.by(() => {
    const { unplaced, cards } = this.picture
    return unplaced.length > 0 && unplaced.length < cards.filter(({ within }) => within === undefined).length
      ? unplaced
      : []
  })

  /** All cards; those that are chosen together, where they stand; or `only` the new ones, which leaves all others as they were placed. */
  async layOut(asEdit = true, only?: readonly string[]) {
    this.working = true
    try {
      const { size } = this.plane
      const request = layoutRequest(this.picture, drawnLinks(this.desk.design), size.width / Math.max(1, size.height))
      const some = only
        ? this.picture.cards.filter(({ id }) => only.includes(id))
        : this.picked.size > 1
          ? this.chosen
          : undefined
      const ids = some && new Set(some.map((card) => card.id))
      const places = await coreWorker().layout(
        ids
          ? {
              ...request,
              cards: request.cards.filter(({ id }) => ids.has(id)),
              links: request.links.filter(({ from, to }) => ids.has(from) && ids.has(to))
            }
          : request
      )
      const isStar = !some && !this.centre && this.whole.stars !== undefined
      const there = some ? movedTo(places, around(some)) : isStar ? this.starPlaces(this.whole) : places
      const edit = { kind: 'diagram.place', id: this.diagram.id, places: there } as const
      if (this.centre) this.aside = { ...this.aside, ...there }
      else if (asEdit) this.desk.edit(edit)
      else this.desk.settle(edit)
      await tick()
      if (!some) this.fit()
    } finally {
      this.working = false
    }
  }

  /** A new diagram of facts and dimensions, as the links suggest them; why stays to be read. */
  addStars() {
    const { design } = this.desk
    const roles = starRoles(design)
    if (roles.length === 0) {
      this.problem =
        'Nothing here is a fact: that is an entity with numbers of its own, which leads to at least two others.'
      return
    }
    const names = this.diagrams.map(({ name }) => name)
    const stars = Object.fromEntries(roles.map(({ entity, as }) => [entity, as]))
    const made: Diagram = {
      id: newId('dia'),
      name: freeName('Stars', names),
      only: Object.keys(stars),
      stars,
      places: {}
    }
    const bare: Diagram = { ...made, columns: 'keys' }
    this.desk.edit({ kind: 'object.set', collection: 'diagrams', object: { ...bare, places: this.starPlaces(bare) } })
    this.choose(made.id)
  }
  starPlaces(diagram: Diagram) {
    const { design } = this.desk
    const { cards, links } = layoutRequest(picture(design, diagram), drawnLinks(design))
    const facts = factsByDimension(design, diagram)
    return starPlaces({
      cards,
      links,
      isFact: (id) => diagram.stars?.[id] === 'fact',
      factsOf: (id) => [...(facts.get(id) ?? [])]
    })
  }

  // ── what is made and taken away ───────────────────────────────────────────────────────────────────────────────────────────────────

  /** A new entity there, its name at once in hand. */
  addEntity(at: Place = this.plane.middle()) {
    this.desk.around = undefined
    this.tool = undefined
    const { design } = this.desk
    const { id, area, only } = this.whole
    const taken = Object.values(design.entities).map(({ name }) => name)
    const entity = newEntity(freeName('Entity', taken), area === undefined ? {} : { area })
    const place = { x: Math.round(at.x), y: Math.round(at.y) }
    const edits: Edit[] = [{ kind: 'object.set', collection: 'entities', object: entity }]
    if (only)
      edits.push({
        kind: 'object.set',
        collection: 'diagrams',
        object: { ...this.whole, only: [...only, entity.id] }
      })
    edits.push({ kind: 'diagram.place', id, places: { [entity.id]: place } })
    this.desk.edit({ kind: 'all', edits })
    this.picked = new Set()
    this.select(entity.id)
    if (this.isOfEntities) this.editing = { entity: entity.id, row: NAME, isNew: true }
  }

  addView() {
    this.desk.around = undefined
    const { id, area } = this.whole
    const made = this.desk.addView(area === undefined ? {} : { area })
    this.desk.edit({ kind: 'diagram.place', id, places: { [made.id]: this.plane.middle() } }, true)
  }

  addNote(kind: Note['kind'], box?: Box) {
    this.desk.around = undefined
    this.tool = undefined
    const least = kind === 'note' ? { width: 190, height: 70 } : { width: 380, height: 260 }
    const isDrawn = box !== undefined && box.width > 30 && box.height > 30
    const card = kind === 'note' && this.chosen.length === 1 ? this.chosen[0] : undefined
    const about = card?.id
    // One about a card stands above it.
    const { x, y } = box ?? (card ? { x: card.x + 20, y: card.y - least.height - 20 } : this.plane.middle())
    const note: Note = {
      id: newId('not'),
      kind,
      text: '',
      tint: kind === 'note' ? 2 : 0,
      x: Math.round(x),
      y: Math.round(y),
      width: Math.round(isDrawn ? box.width : least.width),
      height: Math.round(isDrawn ? box.height : least.height),
      ...(about === undefined ? {} : { about })
    }
    this.set({ notes: [...(this.whole.notes ?? []), note] })
    this.pick([])
    this.desk.select(undefined)
    this.noteId = note.id
  }
  setNote(id: string, values: Partial<Mutable<Note>>, joins = false) {
    const notes = this.whole.notes?.map((note) =>
      note.id === id
        ? (Object.fromEntries(
            Object.entries({ ...note, ...values }).filter(([, value]) => value !== undefined)
          ) as Note)
        : note
    )
    this.set({ notes }, joins)
  }
  removeNote(id: string) {
    const notes = this.whole.notes?.filter((note) => note.id !== id)
    this.set({ notes: notes?.length ? notes : undefined })
    this.noteId = undefined
  }
  resize(sizes: Readonly<Record<string, Size>>) {
    const [[id, size] = []] = Object.entries(sizes)
    if (id === undefined || !size) return
    if (this.whole.notes?.some((note) => note.id === id)) this.setNote(id, size)
    else this.set({ widths: { ...this.whole.widths, [id]: size.width } })
  }

  /** What a link from one entity to another would be. */
  linkBetween(parent: string, child: string, onto?: string) {
    return drawnLink(this.desk.design, parent, child, this.linkKind, onto)
  }
  link(parent: string, child: string, onto?: string) {
    const made = this.linkBetween(parent, child, onto)
    this.tool = undefined
    this.linkFrom = undefined
    this.problem = 'error' in made ? made.error : ''
    if ('error' in made) return
    this.desk.edit(made.edit)
    this.select(made.link ?? child)
  }

  remove() {
    const { selection } = this.desk
    if (this.note) return this.removeNote(this.note.id)
    if (this.picked.size === 0 && selection?.kind === 'link')
      return this.desk.edit({ kind: 'object.remove', collection: 'links', id: selection.link })
    const edits = this.chosen.flatMap(({ id, view }): Edit[] => {
      const collection = view ? 'views' : this.desk.design.entities[id] ? 'entities' : undefined
      return collection ? [{ kind: 'object.remove', collection, id }] : []
    })
    if (edits.length > 0) this.desk.edit(edits.length === 1 && edits[0] ? edits[0] : { kind: 'all', edits })
    this.picked = new Set()
  }

  /** What is chosen, as a text; nothing where nothing is. */
  copied(): string | undefined {
    const ids = new Set(this.chosen.map(({ id }) => id))
    const places = Object.fromEntries(this.chosen.map(({ id, x, y }) => [id, { x, y }]))
    return ids.size === 0 ? undefined : fragment(this.desk.design, ids, places)
  }
  async paste(text: string) {
    this.desk.around = undefined
    const read = pasted(this.desk.design, text, this.whole.id, this.plane.middle())
    this.problem = read.ok ? '' : `What was copied is no part of a design: ${read.notices[0]?.message ?? ''}`
    if (!read.ok) return
    const ids = Object.keys(read.value.places)
    const { only } = this.whole
    this.desk.edit(read.value.edit)
    if (only) this.set({ only: [...only, ...ids] }, true)
    await tick()
    this.pick(ids)
  }

  // ── what is typed into cards ──────────────────────────────────────────────────────────────────────────────────────────────────────

  /** The rows of an entity that can be typed into, as its card has them. */
  rowsOf(entity: string): readonly string[] {
    const card = this.picture.cards.find(({ id }) => id === entity)
    return (card?.rows ?? []).flatMap(({ row, continued, depth }) =>
      row === undefined || continued || depth > 0 ? [] : [row]
    )
  }
  /** Opens what is selected. */
  edit() {
    const { selection } = this.desk
    if (!this.isOfEntities || this.centre) return
    if (selection?.kind === 'row') this.editing = { entity: selection.entity, row: selection.row }
    else if (selection?.kind === 'entity') this.editing = { entity: selection.entity, row: NAME }
  }
  fold(id: string) {
    const folded = new Set(this.whole.folded)
    if (!folded.delete(id)) folded.add(id)
    this.set({ folded: folded.size > 0 ? [...folded] : undefined })
  }
  /** Not shown any more, or in grey, or as all others. */
  dim(how: 'hidden' | 'grey' | 'plain', ids: readonly string[]) {
    const without = (list: readonly string[] | undefined) => (list ?? []).filter((id) => !ids.includes(id))
    const listed = (list: readonly string[]) => (list.length > 0 ? [...list] : undefined)
    this.set({
      hidden: listed([...without(this.whole.hidden), ...(how === 'hidden' ? ids : [])]),
      grey: listed([...without(this.whole.grey), ...(how === 'grey' ? ids : [])])
    })
  }
}

/** Places moved so that the first of all stands in a box's corner. */
function movedTo(places: Readonly<Record<string, Place>>, box: Box): Record<string, Place> {
  const all = Object.values(places)
  const [x, y] = [box.x - Math.min(...all.map((one) => one.x)), box.y - Math.min(...all.map((one) => one.y))]
  return Object.fromEntries(
    Object.entries(places).map(([id, at]) => [id, { x: Math.round(at.x + x), y: Math.round(at.y + y) }])
  )
}

export type { PlacedCard, PlacedNote }
