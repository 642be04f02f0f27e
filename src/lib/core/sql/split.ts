// A script to its statements.
import { tokenize, type Token } from './tokens'

export interface SqlStatement {
  readonly sql: string
  /** Offset of its first character in the script. */
  readonly at: number
}

/** Splits at semicolons; not inside quotes, comments, or the BEGIN … END of a trigger or routine. Total: nothing fails. */
export function splitStatements(script: string): SqlStatement[] {
  const result: SqlStatement[] = []
  let tokens: Token[] = []
  let depth = 0
  const end = () => {
    const meaning = tokens.filter((token) => token.kind !== 'space' && token.kind !== 'comment')
    const [first, last] = [meaning[0], meaning.at(-1)]
    if (first && last) result.push({ sql: script.slice(first.at, last.at + last.text.length), at: first.at })
    tokens = []
    depth = 0
  }
  for (const token of tokenize(script)) {
    if (token.text === ';' && depth === 0) {
      end()
      continue
    }
    tokens.push(token)
    if (token.kind === 'word') depth = Math.max(0, depth + step(token.text.toLowerCase(), tokens))
  }
  end()
  return result
}

/**
 * `BEGIN` opens a body only in a statement that makes a trigger or routine; `CASE` opens what its own `END` closes. What
 * `EXECUTE BLOCK` opens begins with the word itself: its declarations end in semicolons before the first `BEGIN`.
 */
function step(word: string, tokens: readonly Token[]): number {
  if (word === 'end') return -1
  if (word === 'case') return 1
  if (word !== 'begin' && word !== 'block') return 0
  const words = tokens.filter((token) => token.kind === 'word').map((token) => token.text.toLowerCase())
  if (words[0] === 'execute' && words[1] === 'block')
    return word === 'block' ? (words.length === 2 ? 1 : 0) : words.filter((w) => w === 'begin').length > 1 ? 1 : 0
  return word === 'begin' && words[0] === 'create' && words.some((w) => /^(trigger|procedure|function)$/.test(w))
    ? 1
    : 0
}
