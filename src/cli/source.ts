// What a command is given: a design file or a database, either way a catalogue of one engine.
import { readFile } from 'node:fs/promises'
import type { Catalog } from '../lib/core/catalog'
import { derive, type DeriveTarget } from '../lib/core/derive'
import { parseDesign } from '../lib/core/design'
import type { Dialect } from '../lib/core/dialects'
import type { Notice } from '../lib/core/notice'
import { openPostgres } from '../lib/server/postgres'

/** Something that makes a command impossible: it ends with exit code 2. */
export class CouldNot extends Error {}

export interface Source {
  readonly catalog: Catalog
  /** Its objects know which design objects they came from. */
  readonly designed: boolean
  readonly notices: readonly Notice[]
}

const plain: DeriveTarget = { subtypeTables: {}, schemas: {} }

/**
 * Reads a source for an engine. `target` names the design's target whose choices (subtypes, schemas) hold.
 * Throws `CouldNot` with a sentence.
 */
export async function readSource(source: string, dialect: Dialect, target?: string): Promise<Source> {
  return /^postgres(ql)?:\/\//.test(source) ? readDatabase(source, dialect) : readDesignFile(source, dialect, target)
}

async function readDatabase(url: string, dialect: Dialect): Promise<Source> {
  if (dialect.profile.id !== 'postgres')
    throw new CouldNot(`${shown(url)} is a PostgreSQL database; the engine asked for is ${dialect.profile.id}.`)
  const live = await openPostgres(url).catch((error: unknown) => {
    throw new CouldNot(
      `${shown(url)} cannot be reached: ${error instanceof Error ? error.message || 'no answer' : String(error)}`
    )
  })
  try {
    const catalog = await live.catalog()
    const notices = catalog.unread.map(({ kind, name }): Notice => ({
      code: 'not-described',
      severity: 'warning',
      where: name,
      message: `The ${kind} ${name} is left out: it is not read yet.`
    }))
    return { catalog, designed: false, notices }
  } finally {
    await live.close()
  }
}

/** A database's address without what must not be shown. */
function shown(url: string): string {
  try {
    const { host, pathname } = new URL(url)
    return `${host}${pathname}`
  } catch {
    return 'The address'
  }
}

async function readDesignFile(file: string, dialect: Dialect, targetName: string | undefined): Promise<Source> {
  const text = await readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw new CouldNot(
      error.code === 'ENOENT' ? `There is no file ${file}.` : `${file} cannot be read: ${error.message}`
    )
  })
  const read = parseDesign(text)
  if (!read.ok)
    throw new CouldNot(read.notices.map((n) => `${file}${n.where ? `:${n.where}` : ''}: ${n.message}`).join('\n'))
  const design = read.value
  const target = Object.values(design.targets).find((t) => t.name === targetName)
  if (targetName !== undefined && !target) throw new CouldNot(`${design.name} has no target “${targetName}”.`)
  const { catalog, notices } = derive(design, target ?? plain, dialect)
  return { catalog, designed: true, notices }
}
