// What a command is given: a design file or a database, either way a catalogue of one engine.
import { readFile, stat } from 'node:fs/promises'
import type { Catalog, UnreadObject } from '../lib/core/catalog'
import { newDesign, type Design, type Target } from '../lib/core/design'
import { readJot } from '../lib/core/jot'
import { readDesign } from '../lib/core/derive'
import { answersByHand, engineOf, type Dialect, type ReadStatement } from '../lib/core/dialects'
import type { Notice } from '../lib/core/notice'
import { session, type Scope, type Session } from '../lib/core/session'
import { withoutLedger, type LiveDatabase } from '../lib/live'
import { CouldNot } from './could-not'

export interface Source {
  readonly catalog: Catalog
  readonly notices: readonly Notice[]
  /** For a design: itself, and the target that is meant. */
  readonly designed?: { readonly design: Design; readonly target: Target }
  /** For a design: what it means for the target asked for, or for one that says nothing. */
  readonly session?: Session
  /** What that target does not compare, and its steps by hand. */
  readonly scope?: Scope
  /** For a script: what became of its statements. */
  readonly statements?: readonly ReadStatement[]
}

/** What a command was pointed at. A database has been asked by then: it answers while other work is done. */
export interface OpenSource {
  /** What a person would call it. */
  readonly name: string
  /** The engine that it is of: a database's own; for a script, as far as that shows; for a design, that of the target meant. */
  engine(target: string | undefined): string | undefined
  /** The version of the design's target that is meant; nothing where there is none. */
  version(target: string | undefined, engine: string): string | undefined
  /**
   * Its catalogue. `target` names the design's target whose choices hold; the only one of the engine when it is not named.
   * Throws `CouldNot` with a sentence.
   */
  read(dialect: Dialect, target: string | undefined): Promise<Source>
}

/** Throws `CouldNot` with a sentence. `timeout` is in seconds; with `scripts`, a file of any name may be one. */
export async function openSource(
  source: string,
  { timeout = '10', scripts = false }: { readonly timeout?: string; readonly scripts?: boolean }
): Promise<OpenSource> {
  const seconds = Number(timeout)
  if (!(seconds > 0)) throw new CouldNot(`“${timeout}” is no number of seconds.`)
  const opener = OPENERS.find(({ pattern }) => pattern.test(source))
  if (opener) return openDatabase(source, opener, seconds)
  // What looks like an address may hold a password: it is never taken for a file, and never shown.
  const scheme = /^([a-z][a-z0-9+.-]*):\/\//i.exec(source)?.[1]
  if (scheme !== undefined)
    throw new CouldNot(
      `No database is reached by “${scheme}://”. Known: postgres://, mysql://, mariadb://, firebird://, sqlite:.`
    )
  if (/\.jsonl$/i.test(source)) return openAnswers(source)
  if (JOT.test(source)) return openDesignFile(source)
  return /\.sql$/i.test(source) || (scripts && !(await beginsAsDesign(source)))
    ? openScript(source)
    : openDesignFile(source)
}

/** A design file is an object of JSON. */
const beginsAsDesign = async (file: string) => /^\ufeff?\s*\{/.test(await textOf(file))

interface Opener {
  readonly pattern: RegExp
  /** The database, and the engine that it turned out to be. */
  open(source: string): Promise<{ live: LiveDatabase; engine: string }>
}

/** A driver is loaded when a database of its engine is opened. */
const OPENERS: readonly Opener[] = [
  {
    pattern: /^postgres(ql)?:\/\//i,
    open: async (url) => {
      const { openPostgres } = await import('../lib/server/postgres')
      return { live: await openPostgres(url), engine: 'postgres' }
    }
  },
  {
    pattern: /^sqlite:/i,
    open: async (source) => ({ live: await openSqliteFile(source.replace(/^sqlite:/i, '')), engine: 'sqlite' })
  },
  {
    // One protocol, two engines: the server says which.
    pattern: /^(mysql|mariadb):\/\//i,
    open: async (url) => {
      const { openMysqlOrMariadb } = await import('../lib/server/mysql')
      const live = await openMysqlOrMariadb(url.replace(/^mariadb:/i, 'mysql:'))
      return { live, engine: live.engine }
    }
  },
  {
    pattern: /^firebird:\/\//i,
    open: async (url) => {
      const { openFirebird } = await import('../lib/server/firebird')
      return { live: await openFirebird(url), engine: 'firebird' }
    }
  }
]

async function openDatabase(url: string, opener: Opener, seconds: number): Promise<OpenSource> {
  const could = (what: string) => (error: unknown) => {
    if (error instanceof CouldNot) throw error
    const message = error instanceof Error ? error.message || 'no answer' : String(error)
    throw new CouldNot(`${shown(url)} cannot be ${what}: ${withoutSecret(message, url)}`)
  }
  // A scheme may be in any case; what the drivers know is in small letters.
  const address = url.replace(/^[a-z]+:/i, (scheme) => scheme.toLowerCase())
  const { live, engine } = await within(seconds, opener.open(address)).catch(could('reached'))
  const reading = within(seconds * READING, live.catalog())
  // Nobody may wait for it any more when it fails.
  reading.catch(() => undefined)
  return {
    name: nameIn(url),
    engine: () => engine,
    version: () => undefined,
    read: async (dialect) => {
      try {
        if (engine !== dialect.profile.id)
          throw new CouldNot(`${shown(url)} is a database of ${engine}; the engine asked for is ${dialect.profile.id}.`)
        const catalog = withoutLedger(await reading.catch(could('read')))
        return { catalog, notices: catalog.unread.map(unheld) }
      } finally {
        await live.close()
      }
    }
  }
}

/** Reading a large catalogue takes longer than being answered at all. */
const READING = 6

/** Rejects when something is not there in time; what is under way ends with the program. */
function within<T>(seconds: number, work: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`no answer within ${seconds} s`)), seconds * 1000)
  })
  return Promise.race([work, late]).finally(() => clearTimeout(timer))
}

/** What an engine or a driver says, without the password of the address. */
function withoutSecret(message: string, url: string): string {
  const [, password = ''] = /^[^:]+:\/\/[^:@/]*:([^@/]*)@/.exec(url) ?? []
  const plain = (text: string) => {
    try {
      return decodeURIComponent(text)
    } catch {
      return text
    }
  }
  return password === '' ? message : message.replaceAll(password, '…').replaceAll(plain(password), '…')
}

/** Read only: a file is never written to. */
async function openSqliteFile(file: string): Promise<LiveDatabase> {
  const bytes = await readFile(file).catch((error: NodeJS.ErrnoException) => {
    throw new CouldNot(
      error.code === 'ENOENT' ? `There is no file ${file}.` : `${file} cannot be read: ${error.message}`
    )
  })
  for (const ending of ['-wal', '-journal'])
    if (((await stat(file + ending).catch(() => undefined))?.size ?? 0) > 0)
      throw new CouldNot(
        `${file} is in use: what stands in ${file}${ending} would be missed. Close what has it open, or let the sqlite3 tool open and close it once.`
      )
  // "Database File Format", 1.3.3: 2 says that there may be a write-ahead log. There is none, and here there can be none.
  const header = new TextDecoder('latin1').decode(bytes.subarray(0, 15))
  if (header === 'SQLite format 3' && bytes[18] === 2) bytes.fill(1, 18, 20)
  const [{ default: initSqlJs }, { openSqlite }] = await Promise.all([import('sql.js'), import('../lib/live/sqlite')])
  return openSqlite(await initSqlJs(), { load: async () => bytes, save: async () => undefined })
}

/** A database's address without what must not be shown. */
function shown(url: string): string {
  try {
    const { protocol, host, pathname } = new URL(url)
    return protocol === 'sqlite:' ? pathname : `${host}${pathname}`
  } catch {
    return 'The address'
  }
}

const textOf = (file: string) =>
  readFile(file, 'utf8').catch((error: NodeJS.ErrnoException) => {
    throw new CouldNot(
      error.code === 'ENOENT' ? `There is no file ${file}.` : `${file} cannot be read: ${error.message}`
    )
  })

/** What a script leaves in an empty database. */
async function openScript(file: string): Promise<OpenSource> {
  const script = await textOf(file)
  return {
    name: nameIn(file),
    engine: () => engineOf(script),
    version: () => undefined,
    read: async (dialect) => {
      if (!dialect.readScript)
        throw new CouldNot(
          `Scripts of ${dialect.profile.label} cannot be read yet: run ${file} in an empty database, and name that.`
        )
      const { catalog, statements } = dialect.readScript(script)
      const line = lineCounter(script)
      const notices = statements.flatMap(({ how, at, why = '' }): Notice[] =>
        how === 'unknown' || why !== ''
          ? [
              {
                code: how === 'unknown' ? 'not-understood' : 'remark',
                severity: how === 'unknown' ? 'warning' : 'info',
                where: `${line(at)}`,
                message: `${file}:${line(at)}: ${why}`
              }
            ]
          : []
      )
      return { catalog, notices: [...notices, ...catalog.unread.map(unheld)], statements }
    }
  }
}

/** What a database's own client has answered to the questions of `ramblet questions`. */
async function openAnswers(file: string): Promise<OpenSource> {
  const could = (error: unknown): never => {
    throw new CouldNot(`${file} cannot be read: ${error instanceof Error ? error.message : String(error)}`)
  }
  const text = await textOf(file)
  const answers = await Promise.resolve(text).then(answersByHand).catch(could)
  if (!answers) throw new CouldNot(`${file} holds no answers to the questions of “ramblet questions”.`)
  return {
    name: nameIn(file),
    engine: () => answers.engine,
    version: () => answers.version,
    read: async (dialect) => {
      if (answers.engine !== dialect.profile.id)
        throw new CouldNot(`${file} is of ${answers.engine}; the engine asked for is ${dialect.profile.id}.`)
      const catalog = withoutLedger(await answers.catalog(dialect).catch(could))
      return { catalog, notices: catalog.unread.map(unheld) }
    }
  }
}

/** The line, from 1, of places asked for in their order. */
function lineCounter(text: string): (at: number) => number {
  let [line, from] = [1, 0]
  return (at) => {
    if (at < from) [line, from] = [1, 0]
    for (; from < at; from++) if (text.charCodeAt(from) === 10) line++
    return line
  }
}

const unheld = ({ kind, name }: UnreadObject): Notice => ({
  code: 'not-described',
  severity: 'warning',
  where: name,
  message: `The ${kind} ${name} is left out: it is no part of a script or a comparison.`
})

async function openDesignFile(file: string): Promise<OpenSource> {
  const text = await textOf(file)
  // Read when it is first asked for: by then databases are at work.
  let parsed: Design | undefined
  const design = () => (parsed ??= parse(text, file))
  const targets = () => Object.values(design().targets)
  return {
    name: nameIn(file),
    engine: (name) =>
      targets().find((target) => name === undefined || target.name === name)?.engine ??
      design().settings.scriptFor?.engine,
    version: (name, engine) => meant(targets(), name, engine)?.version,
    read: async (dialect, targetName) => {
      const target = meant(targets(), targetName, dialect.profile.id) ?? targets().find((t) => t.name === targetName)
      if (targetName !== undefined && !target) throw new CouldNot(`${design().name} has no target “${targetName}”.`)
      if (target && target.engine !== dialect.profile.id)
        throw new CouldNot(
          `The target “${target.name}” is of ${target.engine}; the engine asked for is ${dialect.profile.id}.`
        )
      const wanted = target ?? plainTarget(dialect)
      const opened = session(design(), wanted, dialect)
      return {
        catalog: opened.catalog,
        notices: opened.notices,
        session: opened,
        designed: { design: design(), target: wanted },
        ...(target ? { scope: target } : {})
      }
    }
  }
}

function parse(text: string, file: string): Design {
  if (JOT.test(file)) return parseJot(text, file)
  const read = readDesign(text)
  if (read.ok) return read.value
  throw new CouldNot(read.notices.map((n) => `${file}${n.where ? `:${n.where}` : ''}: ${n.message}`).join('\n'))
}

/** A design in words. */
const JOT = /\.jot$/i

function parseJot(text: string, file: string): Design {
  const { design, notices } = readJot(text, newDesign(nameIn(file)))
  const errors = notices.filter(({ severity }) => severity === 'error')
  if (errors.length === 0) return design
  throw new CouldNot(errors.map((n) => `${file}${n.where ? `:${n.where}` : ''}: ${n.message}`).join('\n'))
}

/** The target of that name, or the only one of an engine. */
function meant(targets: readonly Target[], name: string | undefined, engine: string): Target | undefined {
  const own = targets.filter((target) => target.engine === engine && (name === undefined || target.name === name))
  return own.length === 1 || name !== undefined ? own[0] : undefined
}

/** The last part of an address or a path, without its ending. */
const nameIn = (source: string): string =>
  (/([^/\\:]+?)(\.\w+)?\/?(\?.*)?$/.exec(source)?.[1] ?? source).replace(/^./, (first) => first.toUpperCase())

/** A target that says nothing but which engine it is of. */
const plainTarget = ({ profile }: Dialect): Target => ({
  id: '',
  name: '',
  engine: profile.id,
  version: profile.version,
  environment: 'development',
  connection: 'none',
  subtypeTables: {},
  schemas: {}
})
