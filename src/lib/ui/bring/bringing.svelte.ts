// Making a design of a database file: it is looked at, shown, and kept only when a person says so.
import { carriedIn, KINDS, type Catalog, type Kind } from '../../core/catalog'
import type { Design } from '../../core/design'
import { isSqliteFile, saveDesign, saveDump, storageError, targetKey } from '../../storage'
import { coreWorker, databaseWorker } from '../../workers'

export interface Found {
  readonly file: File
  readonly catalog: Catalog
  readonly design: Design
  /** The entity of each table, by name and in their order. */
  readonly entities: readonly string[]
  /** Objects that the design says nothing of, and its target keeps as they are, by kind. */
  readonly carried: readonly { readonly many: string; readonly names: readonly string[] }[]
  /** What nothing holds: it is not in the design, nor in its target. */
  readonly lost: readonly string[]
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
    const { design, file } = this.found
    const targets = Object.values(design.targets).map((target) => ({ ...target, connection: 'embedded' as const }))
    try {
      for (const target of targets) await saveDump(targetKey(design.id, target.id), file)
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
  if (!(await isSqliteFile(file)))
    throw new Error(
      `${file.name} is no SQLite database: it does not begin as one. Choose a database file, or open a design from the shelf.`
    )
  const catalog = await databaseWorker()
    .look(file)
    .catch(() => {
      throw new Error(
        `${file.name} begins as an SQLite database and cannot be read as one: it may be damaged, or encrypted.`
      )
    })
  const name = file.name.replace(/\.\w+$/, '')
  const { design, left, entities } = await coreWorker().bring(catalog, { name: titled(name), target: file.name })
  const byKind = new Map<Kind, string[]>()
  for (const { kind, address } of carriedIn(catalog))
    byKind.set(kind, [...(byKind.get(kind) ?? []), address.path.slice(1).join('.')])
  return {
    file,
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
    ]
  }
}

const titled = (name: string) => name.replace(/[_-]+/g, ' ').replace(/^./, (first) => first.toUpperCase())
