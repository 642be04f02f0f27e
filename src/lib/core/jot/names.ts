// Names as a text has them: bare where they cannot be taken for anything else, in quotes otherwise.
import { significant } from '../sql'
import { dialect } from '../dialects'
import { inQuotes } from './pieces'

/** Words that a line, or what is said behind its colon, begins with. */
const TAKEN =
  /^(entity|collection|subtype|domain|view|every|area|namespace|jot|check|index|unique|key|part|means|no|required|optional|default|min|max|upper|lower|on|at|to|drawn|filled|one|many|list|map|object|native|computed|sample)$/i

/** Before a colon. */
export const nameBefore = (name: string): string => (/[:=,"#()\n]|^\s|\s$|\s\s/.test(name) ? inQuotes(name) : name)

/** In the place of a type, or behind a word: it must not be read as more than a name. */
export const nameAmong = (name: string): string =>
  /^[\p{L}\p{N}_-]+( [\p{L}\p{N}_-]+)*$/u.test(name) && !name.split(' ').some((word) => TAKEN.test(word))
    ? name
    : inQuotes(name)

const lexis = () => {
  const found = dialect('postgres')
  if (!found) throw new Error('PostgreSQL is known')
  return found.write.lexis
}

export const escaped = (name: string) => name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** A condition on one line: how it is spaced means nothing, but in quotes. */
export const onOneLine = (condition: string): string =>
  condition.trim().replace(/'(?:[^']|'')*'|"(?:[^"]|"")*"|\s+/g, (found) => (/^['"]/.test(found) ? found : ' '))

/** A condition with the names of columns in the place of `{path}`; nothing where it would be read as another one. */
export function printCondition(given: string, names: ReadonlyMap<string, string>): string | undefined {
  const condition = onOneLine(given)
  const paths = new Map([...names].map(([path, name]) => [name.toLowerCase(), path]))
  const written = (quote: (name: string) => string) =>
    condition.replace(/\{([^{}]+)\}/g, (whole, path: string) => {
      const name = names.get(path)
      return name === undefined ? whole : quote(name)
    })
  const isWord = (name: string) => /^[\p{L}_][\p{L}\p{N}_]*( [\p{L}\p{N}_]+)*$/u.test(name)
  const tries = [written((name) => (isWord(name) ? name : inQuotes(name))), written(inQuotes)]
  return tries.find((text) => !text.includes('\n') && readCondition(text, paths) === condition)
}

/** A condition with `{path}` for each name of a column; `paths` by names in small letters. */
export function readCondition(text: string, paths: ReadonlyMap<string, string>): string {
  // Names of several words stand as they are, too.
  const spaced = [...paths.keys()].filter((name) => name.includes(' ')).sort((a, b) => b.length - a.length)
  const whole = spaced.map((name) => escaped(name).replaceAll(' ', '\\s+')).join('|')
  const pattern = new RegExp(
    `'(?:[^']|'')*'|"(?:[^"]|"")*"${whole ? `|(?<![\\p{L}\\p{N}_])(?:${whole})(?![\\p{L}\\p{N}_])` : ''}`,
    'giu'
  )
  const quoted = text.replace(pattern, (found) => (/^['"]/.test(found) ? found : inQuotes(found.replace(/\s+/g, ' '))))
  let result = ''
  let from = 0
  const tokens = significant(quoted, lexis())
  for (const [i, token] of tokens.entries()) {
    const name =
      token.kind === 'quoted' ? token.text.slice(1, -1).replaceAll('""', '"') : token.kind === 'word' ? token.text : ''
    const path = name === '' || tokens[i + 1]?.text === '(' ? undefined : paths.get(name.toLowerCase())
    if (path === undefined) continue
    result += `${quoted.slice(from, token.at)}{${path}}`
    from = token.at + token.text.length
  }
  return result + quoted.slice(from)
}
