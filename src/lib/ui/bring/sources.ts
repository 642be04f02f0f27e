// Where a design may be brought from, each read in its own way into one form: what is there, and what becomes of it as the
// database of the new design's target.
import type { Catalog } from '../../core/catalog'
import type { Design, ServerAddress, Target } from '../../core/design'
import { dialect, type ReadStatement } from '../../core/dialects'
import type { LiveDatabase } from '../../live'
import { listDesigns, loadDesign, loadDump, saveDump, targetKey } from '../../storage'
import { databaseWorker } from '../../workers'
import { connect } from '../databases/connect'
import { handOver, remoteDatabase } from '../databases/remote'
import { namesOf, readFiles } from './files'

export type Source =
  /** Scripts are read as those of `engine`, where it is said. */
  | { readonly kind: 'files'; readonly files: readonly File[]; readonly engine?: string }
  /** A database that was signed in to under `SIGNED_IN`. */
  | { readonly kind: 'server'; readonly engine: string; readonly server: ServerAddress }
  | { readonly kind: 'kept'; readonly design: Design; readonly target: Target }

/** What a server is signed in to by before there is a target. */
export const SIGNED_IN = 'bring'

export interface Brought {
  /** What it is called, as the new target will be. */
  readonly name: string
  readonly catalog: Catalog
  /** Of scripts: each statement, and where it stands. */
  readonly statements: readonly (ReadStatement & { readonly place: string })[]
  /** For scripts, which keep no database: the engine that they are read as scripts of. */
  readonly script?: string
  /** Of answers that the engine's own client has given: when. */
  readonly taken?: string
  /** Where the target's database is; nothing for rows as text, which are of no engine. */
  readonly database?: Pick<Target, 'connection' | 'server'>
  /** What counts come to there, in their order; nothing where there are no rows to count. `told` hears how many are done. */
  readonly counts?: (questions: readonly string[], told: (done: number) => boolean) => Promise<readonly number[]>
  /** Some documents of a collection, as extended JSON; nothing where there are none to look at. */
  readonly sample?: (collection: string) => Promise<readonly unknown[]>
  /** Gives the new target its database, by the target's key. */
  readonly settle: (key: string) => Promise<void>
}

/** What the source is called while it is looked at. */
export function calledSo(source: Source): string {
  if (source.kind === 'server') return source.server.database
  if (source.kind === 'kept') return `${source.target.name} of ${source.design.name}`
  return source.files.length === 1 ? (source.files[0]?.name ?? '') : `${source.files.length} files`
}

/** Rejects with a sentence; nothing is changed or kept. */
export function readFrom(source: Source): Promise<Brought> {
  if (source.kind === 'server') return fromServer(source)
  return source.kind === 'kept' ? fromKept(source) : fromFiles(source)
}

async function fromFiles({ files, engine }: Source & { readonly kind: 'files' }): Promise<Brought> {
  const { rows, ...told } = await readFiles(files, engine)
  const [file] = files
  const scripts = told.script !== undefined
  return {
    ...told,
    name: namesOf(files),
    ...(file && !scripts && !rows ? { counts: (questions) => databaseWorker().counts(file, questions) } : {}),
    ...(rows ? {} : { database: { connection: scripts ? 'none' : 'embedded' } }),
    settle: async (key) => {
      if (!scripts && !rows && file) await saveDump(key, file)
    }
  }
}

/** One after the other, until whoever is told wants no more. */
const countsOf =
  ({ query }: LiveDatabase): NonNullable<Brought['counts']> =>
  async (questions, told) => {
    const found: number[] = []
    for (const question of questions) {
      if (!told(found.length)) break
      const { rows } = await query(question, { readOnly: true })
      found.push(Number(rows[0]?.[0] ?? 0))
    }
    return found
  }

/** Documents that are looked at in each collection ("$sample"). */
const SAMPLE = 1000

/** Where an engine keeps documents. */
function sampled(live: LiveDatabase): Pick<Brought, 'sample'> {
  const sample = dialect(live.engine)?.sample
  if (!sample) return {}
  return {
    sample: async (collection) => {
      const { rows } = await live.rows(sample(collection, SAMPLE))
      await live.endRows()
      return rows.map(([document]) => JSON.parse(String(document)) as unknown)
    }
  }
}

async function fromServer({ engine, server }: Source & { readonly kind: 'server' }): Promise<Brought> {
  const live = remoteDatabase(SIGNED_IN, engine, server)
  return {
    name: server.database,
    catalog: await live.catalog(),
    counts: countsOf(live),
    ...sampled(live),
    statements: [],
    database: { connection: 'server', server },
    settle: async (key) => handOver(SIGNED_IN, key)
  }
}

async function fromKept({ design, target }: Source & { readonly kind: 'kept' }): Promise<Brought> {
  const live = connect(design, target)
  if (!live) throw new Error(`${target.name} has no database.`)
  return {
    name: target.name,
    catalog: await live.catalog(),
    counts: countsOf(live),
    ...sampled(live),
    statements: [],
    database: { connection: 'embedded' },
    // A copy: what is done to either is not done to the other.
    settle: async (key) => {
      const from = targetKey(design.id, target.id)
      await databaseWorker().keep({ key: from, engine: target.engine, version: target.version })
      const dump = await loadDump(from)
      if (dump) await saveDump(key, dump)
    }
  }
}

/** The databases that are kept in this browser, with the design of each. */
export async function keptDatabases(): Promise<readonly (Source & { readonly kind: 'kept' })[]> {
  const designs = await Promise.all((await listDesigns()).map(({ id }) => loadDesign(id)))
  return designs.flatMap((loaded) => {
    if (!loaded?.design.ok) return []
    const design = loaded.design.value
    return Object.values(design.targets)
      .filter(({ connection }) => connection === 'embedded')
      .map((target) => ({ kind: 'kept' as const, design, target }))
  })
}
