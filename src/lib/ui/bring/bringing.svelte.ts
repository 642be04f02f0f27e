// Making a design of a database file, or of a script: it is looked at, shown, and kept only when a person says so.
import { carriedIn, KINDS, type Catalog, type Kind } from '../../core/catalog'
import type { Design } from '../../core/design'
import { isSqliteFile, saveDesign, saveDump, storageError, targetKey } from '../../storage'
import { coreWorker, databaseWorker } from '../../workers'

export interface Found {
  readonly file: File
  /** It is a script: there is no database to keep. */
  readonly script: boolean
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
  readonly unknown: readonly { readonly line: number; readonly why: string; readonly sql: string }[]
}

export class Bringing {
  found = $state.raw<Found>()
  /** The file that is being looked at. */
  looking = $state('')
  trouble = $state('')
  private turn = 0

  /** Looks at a file. Nothing is kept; a later file, or `leave`, comes first. */
  async look(file: File): Promise<void> {
    const turn = ++this.turn
    this.found = undefined
    this.trouble = ''
    this.looking = file.name
    try {
      const found = await read(file)
      if (turn === this.turn) this.found = found
    } catch (error) {
      if (turn === this.turn) this.trouble = error instanceof Error ? error.message : String(error)
    } finally {
      if (turn === this.turn) this.looking = ''
    }
  }

  /** Gives up what is under way, and forgets what was found. */
  leave(): void {
    this.turn++
    this.found = undefined
    this.looking = ''
    this.trouble = ''
  }

  /** Keeps the design, and the file as its target's database; gives the design's id, or nothing where it could not be kept. */
  async make(name: string): Promise<string | undefined> {
    if (!this.found) return undefined
    const { design, file, script } = this.found
    const connection = script ? ('none' as const) : ('embedded' as const)
    const targets = Object.values(design.targets).map((target) => ({ ...target, connection }))
    try {
      if (!script) for (const target of targets) await saveDump(targetKey(design.id, target.id), file)
      const named = { ...design, name, targets: Object.fromEntries(targets.map((target) => [target.id, target])) }
      await saveDesign(named, undefined, 0)
      return design.id
    } catch (error) {
      this.trouble = storageError(error).message
      return undefined
    }
  }
}

async function read(file: File): Promise<Found> {
  const script = !(await isSqliteFile(file))
  const { catalog, statements } = script
    ? await fromScript(file)
    : { catalog: await fromDatabase(file), statements: [] }
  const name = file.name.replace(/\.\w+$/, '')
  const { design, left, entities } = await coreWorker().bring(catalog, { name: titled(name), target: file.name })
  const byKind = new Map<Kind, string[]>()
  for (const { kind, address } of carriedIn(catalog))
    byKind.set(kind, [...(byKind.get(kind) ?? []), address.path.slice(1).join('.')])
  return {
    file,
    script,
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
    unknown: statements.flatMap(({ how, line, why = '', sql }) => (how === 'unknown' ? [{ line, why, sql }] : []))
  }
}

const fromDatabase = (file: File): Promise<Catalog> =>
  databaseWorker()
    .look(file)
    .catch(() => {
      throw new Error(
        `${file.name} begins as an SQLite database and cannot be read as one: it may be damaged, or encrypted.`
      )
    })

async function fromScript(file: File) {
  const script = await file.text()
  const { catalog, statements } = await coreWorker().readScript('sqlite', script)
  if (!statements.some(({ how }) => how === 'read' || how === 'carried'))
    throw new Error(
      `${file.name} is no SQLite database, and no script that makes anything that SQLite knows. A design is opened from the shelf.`
    )
  let [line, from] = [1, 0]
  return {
    catalog,
    statements: statements.map((statement) => {
      for (; from < statement.at; from++) if (script.charCodeAt(from) === 10) line++
      return { ...statement, line }
    })
  }
}

const titled = (name: string) => name.replace(/[_-]+/g, ' ').replace(/^./, (first) => first.toUpperCase())
