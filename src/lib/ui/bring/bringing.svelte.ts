// Making a design of a database file, or of scripts: looked at, chosen from, and kept only when a person says so.
import { SvelteSet } from 'svelte/reactivity'
import { withAreas, type AreasBy } from '../../core/adopt'
import { carriedIn, KINDS, tableKey, type Catalog, type Kind, type Relation } from '../../core/catalog'
import type { Design } from '../../core/design'
import type { Suggestion } from '../../core/infer'
import { saveAgreed, saveDesign, saveDump, storageError, targetKey } from '../../storage'
import { coreWorker } from '../../workers'
import { namesOf, readFiles } from './files'

interface Told {
  readonly place: string
  readonly why: string
  readonly sql: string
}

export interface Found {
  readonly files: readonly File[]
  /** What they are together called. */
  readonly name: string
  /** For scripts, which keep no database: the engine that they are read as scripts of. */
  readonly script?: string
  /** Rows as text, which are of no engine: the design has no target yet. */
  readonly rows?: true
  readonly catalog: Catalog
  readonly design: Design
  /** The entity of each table, by name and in their order. */
  readonly entities: readonly string[]
  /** Objects that the design says nothing of, and its target keeps as they are, by kind. */
  readonly carried: readonly { readonly many: string; readonly names: readonly string[] }[]
  /** What nothing holds: it is not in the design, nor in its target. */
  readonly lost: readonly string[]
  /** Statements of a script that made nothing, and those that were not understood. */
  readonly passed: number
  readonly unknown: readonly Told[]
  /** Statements that were understood, with something to say of them. */
  readonly remarks: readonly Told[]
  readonly suggestions: readonly Suggestion[]
}

/** More than these are hard to see at once. */
const MANY = 40

/** By their schemas where there are several; by their links where there is much to see. */
function usualAreas({ tables }: Catalog): AreasBy | 'none' {
  if (new Set(tables.map(({ schema }) => schema)).size > 1) return 'schema'
  return tables.length > MANY ? 'links' : 'none'
}

export const keyOf = ({ schema, name }: Relation): string => tableKey(schema, name)

export class Bringing {
  found = $state.raw<Found>()
  /** The files that are being looked at, as one name. */
  looking = $state('')
  trouble = $state('')
  /** The tables that are left out. */
  readonly leave = new SvelteSet<string>()
  /** What is left unsaid there, and the design says: by what it says. */
  readonly accept = new SvelteSet<string>()
  /** How the design is parted into areas, each with a diagram. */
  areas = $state<AreasBy | 'none'>('none')
  private turn = 0

  /** Looks at files, as scripts of an engine where one is said. Nothing is kept; later files, or `leaveAll`, come first. */
  async look(files: readonly File[], engine?: string): Promise<void> {
    const [first] = files
    if (!first) return
    const turn = ++this.turn
    this.found = undefined
    this.trouble = ''
    this.looking = files.length === 1 ? first.name : `${files.length} files`
    this.leave.clear()
    this.accept.clear()
    try {
      const found = await read(files, engine)
      if (turn !== this.turn) return
      this.areas = usualAreas(found.catalog)
      for (const suggestion of found.suggestions) if (suggestion.usual) this.accept.add(suggestion.says)
      this.found = found
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
  }

  isChosen = (table: Relation): boolean => !this.leave.has(keyOf(table))

  choose(tables: readonly Relation[], chosen: boolean): void {
    for (const table of tables)
      if (chosen) this.leave.delete(keyOf(table))
      else this.leave.add(keyOf(table))
  }

  /** What could be said of the tables that are chosen. */
  fitting = (): readonly Suggestion[] =>
    (this.found?.suggestions ?? []).filter(({ table, to }) => this.isChosen(table) && (!to || this.isChosen(to)))

  /** Keeps the design, and the file as its target's database; gives the design's id, or nothing where it could not be kept. */
  async make(name: string): Promise<string | undefined> {
    if (!this.found) return undefined
    const { catalog, files, script, rows, name: target } = this.found
    const connection = script === undefined ? ('embedded' as const) : ('none' as const)
    try {
      const accept = this.fitting().filter(({ says }) => this.accept.has(says))
      const brought = await coreWorker().bring(catalog, { name, target, leave: new Set(this.leave), accept })
      const design = this.areas === 'none' ? brought.design : withAreas(brought.design, this.areas)
      const targets = rows ? [] : Object.values(design.targets).map((made) => ({ ...made, connection }))
      const [file] = files
      if (script === undefined && file) for (const { id } of targets) await saveDump(targetKey(design.id, id), file)
      const kept = { ...design, targets: Object.fromEntries(targets.map((made) => [made.id, made])) }
      await saveDesign(kept, undefined, 0)
      // Both sides agree on what was there: a later script, or another state of the file, is told from what the design changed.
      for (const { id } of targets) {
        const sides = { design: kept, targetId: id, live: catalog, agreed: undefined, confirmed: [] }
        await saveAgreed(targetKey(design.id, id), await coreWorker().baseline(sides))
      }
      return design.id
    } catch (error) {
      this.trouble = storageError(error).message
      return undefined
    }
  }
}

async function read(files: readonly File[], engine: string | undefined): Promise<Found> {
  const told = await readFiles(files, engine)
  const { catalog, statements } = told
  const [first] = files
  const name = namesOf(files)
  const { design, left, entities } = await coreWorker().bring(catalog, {
    name: titled((first?.name ?? '').replace(/\.\w+$/, '')),
    target: name
  })
  const byKind = new Map<Kind, string[]>()
  for (const { kind, address } of carriedIn(catalog)) {
    // The schema that every database has is nothing to speak of.
    if (kind === 'schema' && address.path.join() === catalog.defaultSchema) continue
    byKind.set(kind, [...(byKind.get(kind) ?? []), address.path.slice(1).join('.')])
  }
  return {
    files,
    name,
    ...(told.script === undefined ? {} : { script: told.script }),
    ...(told.rows ? { rows: told.rows } : {}),
    catalog,
    design,
    entities,
    carried: [...byKind].map(([kind, names]) => ({
      many: names.length === 1 ? KINDS[kind].word : KINDS[kind].many,
      names
    })),
    lost: [
      ...catalog.unread.map(({ kind, name: object }) => `${kind} ${object}`),
      ...left.map(({ address: { kind, path } }) => `${KINDS[kind].word} ${path.slice(1).join('.')}`)
    ],
    passed: statements.filter(({ how }) => how === 'data').length,
    unknown: statements.flatMap(({ how, place, why = '', sql }) => (how === 'unknown' ? [{ place, why, sql }] : [])),
    remarks: statements.flatMap(({ how, place, why, sql }) =>
      how === 'unknown' || why === undefined ? [] : [{ place, why, sql }]
    ),
    suggestions: await coreWorker().suggest(catalog)
  }
}

const titled = (name: string) => name.replace(/[_-]+/g, ' ').replace(/^./, (first) => first.toUpperCase())
