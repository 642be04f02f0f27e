// How the rows of a table are parted: "Partitioning Tables". Whoever says it, a script or the server, it is printed in one way.
import { Cursor, NotUnderstood, significant } from '../../sql'
import { mariadbLexis } from './lexis'
import { literal } from './words'

interface Part {
  readonly name: string
  /** Behind VALUES: `LESS THAN (2024)`, `IN (1,2)`. */
  readonly values?: string
  readonly comment?: string
}

interface By {
  /** `RANGE`, `LIST COLUMNS`, `LINEAR HASH`. */
  readonly method: string
  readonly expression: string
}

interface Parting extends By {
  readonly parts: readonly Part[]
  readonly sub?: By & { readonly count: number }
}

/** Names are read as they are spelled. */
const lexis = { ...mariadbLexis, fold: (name: string) => name }

/** The part of all values that no other lists. */
const DEFAULT = 'DEFAULT'

const quote = (name: string) => `\`${name.replaceAll('`', '``')}\``

/** An expression in one spelling: names in quotes, functions in small letters, blanks only between words. */
function spelled(expression: string): string {
  const tokens = significant(expression, mariadbLexis)
  return tokens
    .map(({ kind, text }, i) => {
      if (kind !== 'word') return text
      if (tokens[i + 1]?.text === '(') return text.toLowerCase()
      return /^(null|maxvalue|default|div|mod|and|or|xor|not|is|interval|year|month|day|hour|minute|second)$/i.test(
        text
      )
        ? text.toUpperCase()
        : quote(text)
    })
    .join(' ')
    .replace(/ ?([(),]) ?/g, '$1')
    .trim()
}

const byWords = ({ method, expression }: By): string => `${method} (${spelled(expression)})`

/** Parts that say nothing but how many they are. */
const isCounted = ({ method, parts }: Parting): boolean =>
  /HASH|KEY/.test(method) && parts.every(({ name, comment }, i) => name === `p${i}` && comment === undefined)

function printed(parting: Parting): string {
  const { parts, sub } = parting
  const list = parts.map(({ name, values, comment }) =>
    [
      `PARTITION ${quote(name)}`,
      values !== undefined && (values === DEFAULT ? DEFAULT : `VALUES ${values}`),
      comment !== undefined && `COMMENT ${literal(comment)}`
    ]
      .filter(Boolean)
      .join(' ')
  )
  return [
    byWords(parting),
    sub && `SUBPARTITION BY ${byWords(sub)} SUBPARTITIONS ${sub.count}`,
    isCounted(parting) ? `PARTITIONS ${parts.length}` : `(${list.join(', ')})`
  ]
    .filter(Boolean)
    .join(' ')
}

/** What a person says of it, printed as the server would; throws `NotUnderstood` where it is nothing of the sort. */
export const partition = (said: string): string =>
  readPartition(new Cursor(said.replace(/^\s*partition\s+by\s/i, ''), lexis))

/** Where a table's own statement tells it, which is the last of it ("SHOW CREATE TABLE"); nothing where it is parted in a way that is not held. */
export function partedBy(shown: string): string | undefined {
  const [, said] = /^\s*(?:\/\*!\d+ )?PARTITION BY ([\s\S]*)/m.exec(shown) ?? []
  if (said === undefined) return undefined
  try {
    return readPartition(new Cursor(said.replace(/\*\/\s*$/, ''), lexis))
  } catch (error) {
    if (error instanceof NotUnderstood) return undefined
    throw error
  }
}

function valuesOf(method: string, said: string): string {
  // Of a list, the part of all other values is told by the word for the greatest.
  if (said === DEFAULT || (said === 'MAXVALUE' && !method.startsWith('RANGE'))) return DEFAULT
  if (!method.startsWith('RANGE')) return `IN (${spelled(said)})`
  return said === 'MAXVALUE' && method === 'RANGE' ? 'LESS THAN MAXVALUE' : `LESS THAN (${spelled(said)})`
}

/** From behind PARTITION BY on. */
export function readPartition(item: Cursor): string {
  const by = readBy(item)
  let count = item.take('partitions') ? Number(item.next()) : undefined
  let sub: Parting['sub']
  if (item.take('subpartition', 'by')) {
    const within = readBy(item)
    sub = { ...within, count: item.take('subpartitions') ? Number(item.next()) : 1 }
  }
  if (item.take('partitions')) count = Number(item.next())
  const parts =
    item.word() === '('
      ? item
          .group()
          .parts()
          .map((part) => readPart(part, by.method))
      : undefined
  item.finish()
  return printed({
    ...by,
    parts: parts ?? Array.from({ length: count ?? 1 }, (_, i) => ({ name: `p${i}` })),
    ...(sub ? { sub } : {})
  })
}

function readBy(item: Cursor): By {
  const linear = item.take('linear') ? 'LINEAR ' : ''
  const kind = item.takeOne('range', 'list', 'hash', 'key')
  if (kind === undefined) throw new NotUnderstood(`Nothing is known of parts by ${item.word()}.`)
  const columns = item.take('columns') ? ' COLUMNS' : ''
  if (item.take('algorithm')) {
    item.take('=')
    item.next()
  }
  return { method: `${linear}${kind.toUpperCase()}${columns}`, expression: item.inside() }
}

function readPart(item: Cursor, method: string): Part {
  item.expect('partition')
  const name = item.name()
  let part: Part = { name }
  while (!item.done) {
    if (item.take('values', 'less', 'than'))
      part = { ...part, values: valuesOf(method, item.take('maxvalue') ? 'MAXVALUE' : item.inside()) }
    else if (item.take('values', 'in')) part = { ...part, values: valuesOf(method, item.inside()) }
    else if (item.take('default')) part = { ...part, values: DEFAULT }
    else if (item.take('comment')) {
      item.take('=')
      part = { ...part, comment: item.nameOrText() }
    } else if (
      item.takeOne('storage', 'engine', 'max_rows', 'min_rows', 'nodegroup', 'tablespace', '=') !== undefined ||
      item.take('data', 'directory') ||
      item.take('index', 'directory')
    ) {
      item.take('=')
      if (!item.done && !item.is('engine')) item.next()
    } else
      throw new NotUnderstood(
        `Nothing is known of what is said of the part ${name} from “${item.rest().slice(0, 40)}” on.`
      )
  }
  return part
}
