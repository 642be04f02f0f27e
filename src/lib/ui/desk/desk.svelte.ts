// The open design and everything that looks at it: history, selection, saving, and how far each target is from it.
import { getContext, setContext } from 'svelte'
import { SvelteMap } from 'svelte/reactivity'
import { addressKey, type Address, type Catalog, type Change } from '../../core/catalog'
import type { ConfirmedRename } from '../../core/compare'
import {
  attributeIn,
  begin,
  change,
  edit,
  freeName,
  newView,
  redo,
  targetOf,
  undo,
  type Design,
  type Edit,
  type Entity,
  type History,
  type Link,
  type Pieces,
  type Target,
  type View
} from '../../core/design'
import type { Notice } from '../../core/notice'
import type { Review } from '../../core/review'
import { loadAgreed, loadDesign, loadHistory, saveAgreed, saveHistory, storageError, targetKey } from '../../storage'
import { agreeApart, compareNewest, coreWorker, GivenUp, type Compared, type Sides } from '../../workers'
import { namesOf, readFiles } from '../bring/files'
import { connect } from '../databases/connect'
import { STILL_OPEN } from '../../live'
import { isSignedIn } from '../databases/remote'
import { Keeper } from './keeper.svelte'
import { Pen } from './pen.svelte'

export type Selection =
  | { readonly kind: 'entity'; readonly entity: string }
  | { readonly kind: 'row'; readonly entity: string; readonly row: string }
  | { readonly kind: 'link'; readonly link: string }
  | { readonly kind: 'view'; readonly view: string }
  /** A domain, or a column that every entity has. */
  | { readonly kind: 'word'; readonly word: string }
  /** What one target holds beside the design. */
  | { readonly kind: 'held'; readonly target: string; readonly at: Address }

/** The entity that is selected, or one of whose rows is. */
export const entityOf = (selection: Selection | undefined): string | undefined =>
  selection && 'entity' in selection ? selection.entity : undefined

/** What is known of a target's database. */
export interface TargetStatus {
  readonly state: 'no database' | 'not looked' | 'not signed in' | 'looking' | 'looked' | 'held back' | 'unreachable'
  readonly live?: Catalog
  readonly compared?: Compared
  /** The design that was compared: an older one's plan must not be run. */
  readonly design?: Design
  /** The two sides have agreed on something before. */
  readonly baselined?: boolean
  readonly message?: string
  /** The files that it is known from: there is no database to ask or change. */
  readonly files?: string
}

/** A design that is kept and cannot be read whole. */
export interface Unread {
  readonly notices: readonly Notice[]
  readonly pieces: Pieces
}

const COMPARE_PAUSE = 350

/** A newer comparison says more; anything else that went wrong did. */
const givenUp = (error: unknown): undefined => {
  if (!(error instanceof GivenUp)) throw error
}

export class Desk {
  history = $state.raw<History>() as History
  selection = $state.raw<Selection | undefined>(undefined)
  /** The target that one is on. */
  targetId = $state<string | undefined>(undefined)
  /** Scripts and types are shown for an engine, as no target says otherwise. */
  plain = $state(false)
  readonly status = new SvelteMap<string, TargetStatus>()
  /** What a look at the design has found, a moment after each edit; nothing before the first. */
  reviewed = $state.raw<Review>()
  private reviewTimer: ReturnType<typeof setTimeout> | undefined
  /** What was read last of each target's database, and of which files: comparisons overlap, and the newest one counts. */
  private readonly read = new Map<string, { readonly live: Catalog; readonly files: string | undefined }>()
  private readonly confirmed = new Map<string, readonly ConfirmedRename[]>()

  readonly keeper: Keeper
  private compareTimer: ReturnType<typeof setTimeout> | undefined
  private round = 0

  /** Who writes this design, when several tabs have it open. */
  readonly pen: Pen

  constructor(history: History, revision: number) {
    const design = history.present
    this.history = history
    this.keeper = new Keeper(
      design,
      revision,
      () => this.design,
      (stored, saved) => {
        this.pen.saved()
        // Steps that cannot be kept are no reason to stop: the design itself is.
        if (stored === this.design) void saveHistory(this.history, saved).catch(() => undefined)
      }
    )
    this.targetId = Object.keys(design.targets)[0]
    this.pen = new Pen(design.id, {
      onsaved: () => void this.follow(),
      ongive: () => this.keeper.now(),
      ontake: () => this.follow()
    })
    const left = this.keeper.left()
    if (left) this.replace(left)
  }

  /** Another state of the design takes its place, and can be undone. */
  replace(design: Design) {
    this.keeper.takeOvertaken()
    const { past, present } = this.history
    this.moved({ past: [...past, present], present: design, future: [] })
  }

  /** Shows what another tab has saved. What was typed here and not kept is never thrown away for it. */
  private async follow() {
    const design = await this.keeper.news()
    if (!design) return
    this.history = begin(design)
    this.dropStaleSelection()
    clearTimeout(this.compareTimer)
    this.compareTimer = setTimeout(() => void this.compareAgain(), COMPARE_PAUSE)
  }

  /** The entity or view that diagrams show alone, with what is next to it; nothing where they show all that they have. */
  around = $state<string>()

  /** The desk of a design, what is wrong with it, or a sentence that says why there is none. */
  static async open(id: string): Promise<Desk | Unread | string> {
    try {
      const loaded = await loadDesign(id)
      if (!loaded) return 'There is no such design in this browser. It may have been removed, or it is in another one.'
      const { design, revision, pieces } = loaded
      if (!design.ok) return { notices: design.notices, pieces }
      const history = await loadHistory(design.value, revision).catch(() => begin(design.value))
      return new Desk(history, revision)
    } catch (error) {
      return storageError(error).message
    }
  }

  get design(): Design {
    return this.history.present
  }
  get target() {
    return this.targetId === undefined ? undefined : this.design.targets[this.targetId]
  }
  /** The target whose script and types are shown: where none is meant, one that says nothing, of an engine. */
  get shown(): Target {
    return targetOf(this.design, this.shownId)
  }
  /** Scripts and types are shown for a target; for the design's engine where none is named. */
  show(target: string | undefined) {
    this.plain = target === undefined
    if (target !== undefined) this.targetId = target
  }
  get shownId() {
    return this.plain ? undefined : this.targetId
  }

  edit(e: Edit, joins = false) {
    this.moved(change(this.history, e, joins))
  }
  /** Gives an entity a name; when it is empty or another's it is refused, and the answer says why. */
  renameEntity(entity: Entity, name: string): string | undefined {
    const wanted = name.replace(/\s+/g, ' ').trim()
    const taken = (e: Entity) => e.id !== entity.id && e.name.toLowerCase() === wanted.toLowerCase()
    if (wanted === '') return 'An entity needs a name.'
    if (Object.values(this.design.entities).some(taken)) return `There is an entity “${wanted}” already.`
    if (wanted !== entity.name) this.edit({ kind: 'entity.set', id: entity.id, set: { name: wanted } })
    return undefined
  }

  /** The same for a view. */
  renameView(view: View, name: string): string | undefined {
    const wanted = name.replace(/\s+/g, ' ').trim()
    const taken = (other: { readonly id: string; readonly name: string }) =>
      other.id !== view.id && other.name.toLowerCase() === wanted.toLowerCase()
    if (wanted === '') return 'A view needs a name.'
    if (Object.values(this.design.entities).some(taken)) return `There is an entity “${wanted}” already.`
    if (Object.values(this.design.views).some(taken)) return `There is a view “${wanted}” already.`
    if (wanted !== view.name) this.edit({ kind: 'object.set', collection: 'views', object: { ...view, name: wanted } })
    return undefined
  }
  /** A new view, selected. */
  addView(more: Partial<View> = {}): View {
    const { entities, views } = this.design
    const names = [...Object.values(entities), ...Object.values(views)].map(({ name }) => name)
    const view = newView(freeName('View', names), more)
    this.edit({ kind: 'object.set', collection: 'views', object: view })
    this.select({ kind: 'view', view: view.id })
    return view
  }

  /** Something that came about by itself, a first layout say: there is nothing to undo. */
  settle(e: Edit) {
    this.moved({ ...this.history, present: edit(this.history.present, e) })
  }
  undo() {
    this.moved(undo(this.history))
  }
  redo() {
    this.moved(redo(this.history))
  }

  private moved(history: History) {
    // Another tab writes: what this one shows is that one's.
    if (history === this.history || !this.pen.here) return
    this.history = history
    this.dropStaleSelection()
    if (this.targetId === undefined || !this.design.targets[this.targetId])
      this.targetId = Object.keys(this.design.targets)[0]
    this.keeper.soon()
    this.reviewSoon()
    clearTimeout(this.compareTimer)
    this.compareTimer = setTimeout(() => void this.compareAgain(), COMPARE_PAUSE)
  }

  private dropStaleSelection() {
    const s = this.selection
    if (!s) return
    if (s.kind === 'held') {
      const held = this.design.targets[s.target]?.extras?.some((extra) => addressKey(extra) === addressKey(s.at))
      if (!held) this.selection = undefined
      return
    }
    if (s.kind === 'word') {
      if (!this.design.domains[s.word] && !this.design.commons[s.word]) this.selection = undefined
      return
    }
    const id = entityOf(s)
    const entity: Entity | undefined = id === undefined ? undefined : this.design.entities[id]
    const link: Link | undefined =
      s.kind === 'link' ? this.design.links[s.link] : s.kind === 'row' ? this.design.links[s.row] : undefined
    const there =
      s.kind === 'view'
        ? this.design.views[s.view] !== undefined
        : s.kind === 'entity'
          ? entity !== undefined
          : s.kind === 'link'
            ? link !== undefined
            : entity !== undefined && (link !== undefined || attributeIn(entity, s.row) !== undefined)
    if (!there) this.selection = undefined
  }

  /** What must be mended by a rule of the design's own, before a script is saved or run: an engine would take it. */
  get barred() {
    return this.reviewed?.findings.find(({ grade, check }) => grade === 'error' && check !== 'engine-refuses')
  }

  /** Looks the design over once it has stood still for a moment. */
  reviewSoon() {
    clearTimeout(this.reviewTimer)
    this.reviewTimer = setTimeout(() => {
      const { design, shownId } = this
      void coreWorker()
        .review(design, shownId)
        .then((reviewed) => {
          // A newer design is looked over by the pause after its own edit.
          if (design === this.design) this.reviewed = reviewed
        })
    }, COMPARE_PAUSE)
  }

  /** Opens each embedded database in turn and sees how far it is from the design. */
  async lookAtAll() {
    for (const target of Object.values(this.design.targets)) await this.look(target.id)
  }

  /** Something may change a target's database: nothing is said of it until it is looked at again. */
  mayHaveChanged(id: string) {
    const status = this.status.get(id)
    if (status?.state === 'looked') this.status.set(id, { ...status, state: 'looking' })
  }

  /** Reads what a target's database holds now, and compares. */
  async look(id: string) {
    const target = this.design.targets[id]
    if (!target) return
    const live = connect(this.design, target)
    if (!live) {
      this.status.set(id, { state: 'no database' })
      return
    }
    if (target.connection === 'server' && !isSignedIn(targetKey(this.design.id, id), target.engine, target.server)) {
      this.status.set(id, { state: 'not signed in' })
      return
    }
    this.status.set(id, { ...this.status.get(id), state: 'looking' })
    try {
      await this.compareWith(id, await live.catalog())
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error)
      this.status.set(id, { state: message === STILL_OPEN ? 'held back' : 'unreachable', message })
    }
  }

  /** What a comparison of a target is about. */
  async sides(id: string, live: Catalog): Promise<Sides> {
    const design = this.design
    const agreed = await loadAgreed(targetKey(design.id, id))
    return { design, targetId: id, live, agreed, confirmed: this.confirmed.get(id) ?? [] }
  }

  /** Holds a target beside what files say of its database; rejects with a sentence where they cannot be read. */
  async compareWithFiles(id: string, files: readonly File[]) {
    const target = this.design.targets[id]
    if (!target || files.length === 0) return
    const { catalog, statements, taken } = await readFiles(files, target.engine, target.version)
    const unknown = statements.filter(({ how }) => how === 'unknown')
    await this.compareWith(id, catalog, namesOf(files) + (taken === undefined ? '' : `, as of ${taken.slice(0, 10)}`))
    return unknown
  }

  private async compareWith(id: string, live: Catalog, files = this.read.get(id)?.files): Promise<void> {
    if (!this.design.targets[id]) return
    const read = { live, files }
    this.read.set(id, read)
    const sides = await this.sides(id, live)
    const compared = await compareNewest(sides).catch(givenUp)
    // Another comparison was begun meanwhile: it knows more, and says it.
    if (this.read.get(id) !== read) return
    // It was given up for another target's sake, whose worker it shared: nobody else will say it.
    if (!compared) return this.compareWith(id, live, files)
    const { design } = sides
    // A newer design is compared by the pause after its own edit.
    if (design.targets[id] === this.design.targets[id])
      this.status.set(id, {
        state: 'looked',
        live,
        compared,
        design,
        baselined: sides.agreed !== undefined,
        ...(files === undefined ? {} : { files })
      })
    // Where both sides are alike, they agree, whoever made them so; from here on, a new name is known for one.
    const first = sides.agreed === undefined
    if (first ? compared.differences.length === 0 && live.tables.length > 0 : true) {
      const agreed = await agreeApart(sides).catch(givenUp)
      if (agreed) await saveAgreed(targetKey(design.id, id), agreed)
    }
  }

  /** Compares every target anew; an earlier round ends for it. */
  private async compareAgain() {
    const round = ++this.round
    for (const [id, status] of [...this.status]) {
      if (round !== this.round) return
      const read = this.read.get(id)
      if (!this.design.targets[id]) {
        this.status.delete(id)
        this.read.delete(id)
      } else if (read && status.live) await this.compareWith(id, read.live)
    }
    for (const id of Object.keys(this.design.targets)) if (!this.status.has(id)) await this.look(id)
  }

  /** After a run that had these effects: what both sides hold alike now is agreed. */
  async agree(id: string, live: Catalog, effects: readonly Change[]) {
    const sides = await this.sides(id, live)
    await saveAgreed(targetKey(this.design.id, id), await coreWorker().agree(sides, effects))
    await this.compareWith(id, live)
  }

  /** Takes the database as it is for agreed, and runs nothing. */
  async baseline(id: string) {
    const live = this.status.get(id)?.live
    if (!live) return
    await saveAgreed(targetKey(this.design.id, id), await coreWorker().baseline(await this.sides(id, live)))
    await this.compareWith(id, live)
  }

  /** A likely new name is one: from now on it is compared as such. */
  async confirm(id: string, rename: ConfirmedRename) {
    this.confirmed.set(id, [...(this.confirmed.get(id) ?? []), rename])
    const live = this.status.get(id)?.live
    if (live) await this.compareWith(id, live)
  }

  select(selection: Selection | undefined) {
    this.selection = selection
  }
}

const KEY = Symbol('desk')
export const provideDesk = (desk: () => Desk) => setContext(KEY, desk)
export const useDesk = (): Desk => getContext<() => Desk>(KEY)()
