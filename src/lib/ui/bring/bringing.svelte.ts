// Making a design of what exists: it is looked at, chosen from, and kept only when a person says so.
import { SvelteMap, SvelteSet } from 'svelte/reactivity'
import { besideTables, joined, withDiagrams, type DiagramsBy } from '../../core/adopt'
import {
  addressKey,
  carriedIn,
  KINDS,
  tableAddress,
  tableKey,
  type Address,
  type Catalog,
  type Kind,
  type Relation
} from '../../core/catalog'
import type { Design } from '../../core/design'
import { isGuess, type Suggestion } from '../../core/infer'
import { saveAgreed, saveDesign, storageError, targetKey } from '../../storage'
import { coreWorker } from '../../workers'
import type { Desk } from '../desk/desk.svelte'
import { signOut } from '../databases/remote'
import { calledSo, readFrom, SIGNED_IN, type Brought, type Source } from './sources'

interface Told {
  readonly place: string
  readonly why: string
  readonly sql: string
}

export interface Found extends Omit<Brought, 'statements'> {
  readonly source: Source
  readonly design: Design
  /** The entity of each table, by name and in their order. */
  readonly entities: readonly string[]
  /** Objects that the design says nothing of, and its target keeps as they are, by kind. */
  readonly carried: readonly { readonly many: string; readonly names: readonly string[] }[]
  /** What can be left out beside tables: nothing that they are made of. */
  readonly others: readonly Address[]
  /** What nothing holds: it is not in the design, nor in its target. */
  readonly lost: readonly string[]
  /** Statements of a script that made nothing, and those that were not understood. */
  readonly passed: number
  readonly unknown: readonly Told[]
  /** Statements that were understood, with something to say of them. */
  readonly remarks: readonly Told[]
  readonly suggestions: readonly Suggestion[]
  /** Tables that are not the database's own, by `keyOf`, and why: left out unless somebody wants them. */
  readonly beside: Map<string, string>
}

/** More than these are hard to see at once. */
const MANY = 40

/** By their schemas where there are several; by their links where there is much to see. */
function usualDiagrams({ tables }: Catalog): DiagramsBy[] {
  if (new Set(tables.map(({ schema }) => schema)).size > 1) return ['schema']
  return tables.length > MANY ? ['links'] : []
}

export const keyOf = ({ schema, name }: Relation): string => tableKey(schema, name)

export class Bringing {
  found = $state.raw<Found>()
  /** The files that are being looked at, as one name. */
  looking = $state('')
  trouble = $state('')
  /** The tables that are left out. */
  readonly leave = new SvelteSet<string>()
  /** What else is left out, by `addressKey`. */
  readonly without = new SvelteSet<string>()
  /** What goes with what is left out, by `addressKey`, and why. */
  going = $state.raw<ReadonlyMap<string, string>>(new Map())
  private telling: ReturnType<typeof setTimeout> | undefined
  /** What is left unsaid there, and the design says: by what it says. */
  readonly accept = new SvelteSet<string>()
  /** Short words that a person has added, and what he says for those that were found. */
  private readonly ownWords = new SvelteMap<string, string>()
  private naming: ReturnType<typeof setTimeout> | undefined
  /** How many rows speak against what was found, by what it says; what rows were not asked about is not in it. */
  readonly against = new SvelteMap<string, number>()
  /** How far the asking is; nothing while nothing is asked. */
  asking = $state<{ readonly done: number; readonly of: number }>()
  /** The sorts of diagrams that are made beside the one of everything. */
  readonly diagrams = new SvelteSet<DiagramsBy>()
  private turn = 0

  /** With `into`, what is brought joins the design of a desk that is open. */
  constructor(private readonly into?: Desk) {}

  /** Looks at what is there. Nothing is kept; a later look, or `leaveAll`, comes first. */
  async look(source: Source): Promise<void> {
    const turn = ++this.turn
    this.found = undefined
    this.trouble = ''
    this.looking = calledSo(source)
    this.leave.clear()
    this.without.clear()
    this.going = new Map()
    this.accept.clear()
    this.ownWords.clear()
    this.against.clear()
    this.diagrams.clear()
    this.asking = undefined
    try {
      const found = await read(source)
      if (turn !== this.turn) return
      for (const [table, why] of this.thereAlready(found)) found.beside.set(table, why)
      for (const table of found.beside.keys()) this.leave.add(table)
      for (const sort of usualDiagrams(found.catalog)) this.diagrams.add(sort)
      for (const suggestion of found.suggestions) if (suggestion.usual) this.accept.add(suggestion.says)
      this.found = found
      if (this.leave.size > 0) await this.tellGoing()
    } catch (error) {
      if (turn === this.turn) this.trouble = error instanceof Error ? error.message : String(error)
    } finally {
      if (turn === this.turn) this.looking = ''
    }
  }

  /** Gives up what is under way, and forgets what was found. */
  leaveAll(): void {
    this.turn++
    this.found = undefined
    this.looking = ''
    this.trouble = ''
    void signOut(SIGNED_IN)
  }

  /** Tables whose entities the design that they would join has by name. */
  private thereAlready({ catalog, entities }: Found): [string, string][] {
    const names = new Set(Object.values(this.into?.design.entities ?? {}).map(({ name }) => name.toLowerCase()))
    return catalog.tables.flatMap((table, i) => {
      const name = entities[i] ?? ''
      return names.has(name.toLowerCase()) ? [[keyOf(table), `the design has ${name} already`] as [string, string]] : []
    })
  }

  isChosen = (table: Relation): boolean => !this.leave.has(keyOf(table))

  choose(tables: readonly Relation[], chosen: boolean): void {
    for (const table of tables)
      if (chosen) this.leave.delete(keyOf(table))
      else this.leave.add(keyOf(table))
    this.chosen()
  }

  isKept = (address: Address): boolean => !this.without.has(addressKey(address))

  keep(others: readonly Address[], kept: boolean): void {
    for (const address of others)
      if (kept) this.without.delete(addressKey(address))
      else this.without.add(addressKey(address))
    this.chosen()
  }

  /** What goes with what is left out is told once nobody has changed anything for a moment. */
  private chosen(): void {
    clearTimeout(this.telling)
    this.telling = setTimeout(() => void this.tellGoing(), 200)
  }

  private async tellGoing(): Promise<void> {
    const { found, turn } = this
    if (!found) return
    const left = await coreWorker().notBrought(found.catalog, {
      leave: new Set(this.leave),
      without: new Set(this.without)
    })
    const own = new Set([...this.without, ...found.catalog.tables.map((table) => addressKey(tableAddress(table)))])
    if (turn === this.turn)
      this.going = new Map(left.flatMap((one) => (own.has(addressKey(one)) ? [] : [[addressKey(one), one.reason]])))
  }

  /** What could be said of the tables that are chosen. */
  fitting = (): readonly Suggestion[] => {
    const found = (this.found?.suggestions ?? []).filter(
      (one) =>
        (one.kind === 'domain' ? one.about.some(this.isChosen) : one.about.every(this.isChosen)) &&
        (this.found?.counts !== undefined || !isGuess(one))
    )
    const words = new Set(found.flatMap(({ word }) => word?.short ?? []))
    const own = [...this.ownWords].filter(([short]) => !words.has(short))
    return [
      ...found.map((suggestion) =>
        suggestion.word ? { ...suggestion, word: this.asSaid(suggestion.word) } : suggestion
      ),
      ...own.map(([short, long]): Suggestion => {
        const word = { short, long }
        return {
          kind: 'word',
          about: [],
          says: short,
          why: 'you have added it',
          sure: 1,
          usual: true,
          changes: [],
          word
        }
      })
    ]
  }

  /** Takes what is suggested, or leaves it; a table takes one key, the first of them. */
  take(list: readonly Suggestion[], all: boolean): void {
    if (list.some(({ kind }) => kind === 'word')) this.named()
    const keys = this.fitting().filter(({ kind }) => kind === 'key')
    const keyed = new Set<string>()
    for (const { kind, says, about } of list) {
      const [table] = about
      if (!all) this.accept.delete(says)
      else if (kind !== 'key' || !table) this.accept.add(says)
      else if (!keyed.has(keyOf(table))) {
        keyed.add(keyOf(table))
        for (const other of keys)
          if (other.about[0] && keyOf(other.about[0]) === keyOf(table)) this.accept.delete(other.says)
        this.accept.add(says)
      }
    }
  }

  /** Asks the rows about links and keys; what they speak against is taken no more. */
  async askRows(): Promise<void> {
    const { found, turn } = this
    if (!found?.counts) return
    this.trouble = ''
    const list = this.fitting().filter(({ changes, kind }) => changes.length > 0 && kind !== 'index')
    try {
      const questions = await coreWorker().against(found.catalog, list)
      const all = questions.flat()
      this.asking = { done: 0, of: all.length }
      const counts = await found.counts(all, (done) => {
        if (turn !== this.turn || !this.asking) return false
        this.asking = { done, of: all.length }
        return true
      })
      if (turn !== this.turn) return
      let at = 0
      list.forEach(({ says }, i) => {
        const own = counts.slice(at, (at += questions[i]?.length ?? 0))
        if (own.length === 0 || own.length < (questions[i]?.length ?? 0)) return
        const rows = own.reduce((sum, n) => sum + n, 0)
        this.against.set(says, rows)
        if (rows > 0) this.accept.delete(says)
      })
    } catch (error) {
      if (turn === this.turn) this.trouble = `The rows could not be asked: ${storageError(error).message}`
    } finally {
      if (turn === this.turn) this.asking = undefined
    }
  }

  stopAsking(): void {
    this.asking = undefined
  }

  private asSaid = ({ short, long }: { readonly short: string; readonly long: string }) => ({
    short,
    long: this.ownWords.get(short) ?? long
  })

  /** What is accepted of what fits. */
  private accepted = () => this.fitting().filter(({ says }) => this.accept.has(says))

  /** Takes what a short word stands for; gives why not. */
  sayWord(short: string, long: string): string | undefined {
    const [a, b] = [short, long].map((word) => word.trim().toLowerCase())
    if (!a || !b || [a, b].some((word) => !/^[\p{Ll}\p{Lo}\p{N}]+$/u.test(word)))
      return 'Say one short word, and one for it.'
    this.ownWords.set(a, b)
    this.accept.add(a)
    this.named()
    return undefined
  }

  /** The names that entities would have are told again, once nobody has changed anything for a moment. */
  named(): void {
    clearTimeout(this.naming)
    this.naming = setTimeout(() => void this.nameAgain(), 300)
  }

  private async nameAgain(): Promise<void> {
    const { found, turn } = this
    if (!found) return
    const words = this.accepted().filter(({ kind }) => kind === 'word')
    const { entities } = await coreWorker().bring(found.catalog, { name: 'x', target: 'x', accept: words })
    if (turn === this.turn) this.found = { ...found, entities }
  }

  /** As a design of its own, or as one edit of the one that it joins. */
  private async kept(design: Design): Promise<Design> {
    if (!this.into) {
      await saveDesign(design, undefined, 0)
      return design
    }
    this.into.edit(joined(this.into.design, design))
    return this.into.design
  }

  /** Keeps the design, and its target's database; gives the design's id, or nothing where it could not be kept. */
  async make(name: string): Promise<string | undefined> {
    if (!this.found) return undefined
    const { catalog, database, settle, name: target } = this.found
    try {
      const brought = await coreWorker().bring(catalog, {
        name,
        target,
        leave: new Set(this.leave),
        without: new Set(this.without),
        accept: this.accepted()
      })
      const design = withDiagrams(brought.design, this.diagrams)
      const targets = database ? Object.values(design.targets).map((made) => ({ ...made, ...database })) : []
      for (const { id } of targets) await settle(targetKey(this.into?.design.id ?? design.id, id))
      const apart = { ...design, targets: Object.fromEntries(targets.map((made) => [made.id, made])) }
      const kept = await this.kept(apart)
      // Both sides agree on what was there: a later script, or another state of the file, is told from what the design changed.
      for (const { id } of targets) {
        const sides = { design: kept, targetId: id, live: catalog, agreed: undefined, confirmed: [] }
        await saveAgreed(targetKey(kept.id, id), await coreWorker().baseline(sides))
      }
      for (const { id } of targets) void this.into?.look(id)
      return kept.id
    } catch (error) {
      this.trouble = storageError(error).message
      return undefined
    }
  }
}

async function read(source: Source): Promise<Found> {
  const { statements, ...brought } = await readFrom(source)
  const { catalog, name } = brought
  const samples: { name: string; documents: readonly unknown[] }[] = []
  // A view has documents of others.
  for (const table of brought.sample ? catalog.tables : [])
    samples.push({ name: table.name, documents: (await brought.sample?.(table.name)) ?? [] })
  const suggestions = await coreWorker().suggest(catalog, samples)
  const { design, left, entities } = await coreWorker().bring(catalog, {
    name: titled(source.kind === 'files' ? (source.files[0]?.name ?? '').replace(/\.\w+$/, '') : calledSo(source)),
    target: name,
    accept: suggestions.filter(({ kind, usual }) => (kind === 'word' || kind === 'field') && usual)
  })
  const byKind = new Map<Kind, string[]>()
  for (const { kind, address } of carriedIn(catalog)) {
    // The schema that every database has is nothing to speak of.
    if (kind === 'schema' && address.path.join() === catalog.defaultSchema) continue
    byKind.set(kind, [...(byKind.get(kind) ?? []), address.path.slice(1).join('.')])
  }
  return {
    ...brought,
    source,
    design,
    entities,
    carried: [...byKind].map(([kind, names]) => ({
      many: names.length === 1 ? KINDS[kind].word : KINDS[kind].many,
      names
    })),
    others: besideTables(catalog),
    lost: [
      ...catalog.unread.map(({ kind, name: object }) => `${kind} ${object}`),
      ...left.map(({ address: { kind, path } }) => `${KINDS[kind].word} ${path.slice(1).join('.')}`)
    ],
    passed: statements.filter(({ how }) => how === 'data').length,
    unknown: statements.flatMap(({ how, place, why = '', sql }) => (how === 'unknown' ? [{ place, why, sql }] : [])),
    remarks: statements.flatMap(({ how, place, why, sql }) =>
      how === 'unknown' || why === undefined ? [] : [{ place, why, sql }]
    ),
    suggestions,
    beside: new Map((await coreWorker().beside(catalog)).map(({ table, why }) => [keyOf(table), why]))
  }
}

const titled = (name: string) => name.replace(/[_-]+/g, ' ').replace(/^./, (first) => first.toUpperCase())
