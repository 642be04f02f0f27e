// Where the application may not connect: the questions of an engine's catalogue as a script that somebody runs with the engine's
// own client, and the file that comes of it, read in the place of a database.
import type { Catalog } from '../catalog'
import type { AskedByHand, CatalogQueries, Dialect, RunQuery } from './dialect'

/** The first line of a file of answers; the others are `{ question, row }`, and `{ answered }` at the end. */
interface Heading {
  readonly ramblet: 'answers'
  readonly engine: string
  /** The version that the questions are for. */
  readonly version: string
  /** When they were asked, as the server's clock had it. */
  readonly taken: string
}

export interface Answers extends Heading {
  /** What they say of the database. Rejects with a sentence where they are not whole. */
  catalog(dialect: Dialect): Promise<Catalog>
}

/** The script; nothing for an engine whose client prints no such answers. */
export async function questionsByHand(dialect: Dialect): Promise<string | undefined> {
  const { profile, introspect } = dialect
  const byHand = introspect?.byHand
  if (!introspect || !byHand) return undefined
  const asked = await questionsOf(introspect, profile.version)
  const heading = { ramblet: 'answers', engine: profile.id, version: profile.version }
  return [
    `-- What a database of ${profile.label} ${profile.version} holds; nothing is changed. Run it with its own client:`,
    `--   ${commandByHand(byHand)}`,
    ...byHand.before,
    byHand.heading(heading),
    ...asked.map((sql, question) => (isQuestion(sql) ? byHand.each(sql, question) : `${sql};`)),
    byHand.ending(asked.length),
    ''
  ].join('\n')
}

export const commandByHand = ({ command }: AskedByHand): string => `${command} < questions.sql > answers.jsonl`

const isQuestion = (sql: string) => /^\s*(SELECT|WITH)\b/i.test(sql)

/** All that reading a database of this version asks it. */
async function questionsOf({ read }: CatalogQueries, version: string): Promise<string[]> {
  const asked: string[] = []
  const note: RunQuery = (sql) => {
    asked.push(sql)
    return Promise.resolve([])
  }
  await read(note, undefined, version)
  return asked
}

/** A file of answers; nothing for any other text. Throws a sentence where it is one and cannot be read. */
export function answersByHand(text: string): Answers | undefined {
  const [first = '', ...lines] = text.replace(/^\ufeff/, '').split(/\r?\n/)
  const heading = parsed(first)
  if (!isHeading(heading)) return undefined
  const rows = new Map<number, Readonly<Record<string, unknown>>[]>()
  let answered: number | undefined
  lines.forEach((line, i) => {
    if (line.trim() === '') return
    const told = parsed(line) as { question?: unknown; row?: unknown; answered?: unknown } | undefined
    if (typeof told?.answered === 'number') answered = told.answered
    else if (typeof told?.question === 'number' && typeof told.row === 'object' && told.row !== null) {
      const list = rows.get(told.question)
      if (list) list.push(told.row as Readonly<Record<string, unknown>>)
      else rows.set(told.question, [told.row as Readonly<Record<string, unknown>>])
    } else throw new Error(`Line ${i + 2} of the answers cannot be read: ${line.slice(0, 80)}`)
  })
  return {
    ...heading,
    catalog: async ({ introspect, profile }) => {
      if (!introspect?.byHand) throw new Error(`${profile.label} is not asked by hand.`)
      const asked = await questionsOf(introspect, heading.version)
      if (answered === undefined)
        throw new Error('The answers have no end: the client stopped before the last question. See what it printed.')
      if (answered !== asked.length)
        throw new Error(
          'The answers are to other questions than these: ask them anew, with the questions of this application.'
        )
      const number = new Map(asked.map((sql, i) => [sql, i]))
      const answer: RunQuery = (sql) => Promise.resolve(rows.get(number.get(sql) ?? -1) ?? [])
      return introspect.read(answer, undefined, heading.version)
    }
  }
}

function parsed(line: string): unknown {
  try {
    return JSON.parse(line) as unknown
  } catch {
    return undefined
  }
}

const isHeading = (value: unknown): value is Heading =>
  typeof value === 'object' &&
  value !== null &&
  'ramblet' in value &&
  value.ramblet === 'answers' &&
  ['engine', 'version', 'taken'].every((key) => typeof (value as Record<string, unknown>)[key] === 'string')
