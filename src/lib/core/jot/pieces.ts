// A line taken apart: words, texts in quotes, what stands in parentheses, commas.

export interface Piece {
  readonly kind: 'word' | 'quoted' | 'group' | ','
  /** As it stands; of what is quoted or in parentheses, all of it. */
  readonly text: string
  readonly at: number
}

const PIECE = /\s*(?:(,)|("(?:[^"]|"")*"?)|(\()|([^\s,("]+))/y

export function piecesOf(text: string): Piece[] {
  const pieces: Piece[] = []
  PIECE.lastIndex = 0
  for (let found = PIECE.exec(text); found; found = PIECE.exec(text)) {
    const [all, comma, quoted, open, word = ''] = found
    const own = comma ?? quoted ?? open ?? word
    const at = found.index + all.length - own.length
    if (open !== undefined) {
      const end = closing(text, at)
      pieces.push({ kind: 'group', text: text.slice(at, end), at })
      PIECE.lastIndex = end
    } else pieces.push({ kind: comma ? ',' : quoted !== undefined ? 'quoted' : 'word', text: own, at })
  }
  return pieces
}

/** Where what begins with a parenthesis ends: behind the one that closes it, or at the end of the text. */
function closing(text: string, from: number): number {
  let depth = 0
  for (let i = from; i < text.length; i++) {
    const char = text[i]
    if (char === '"' || char === "'") {
      const end = text.indexOf(char, i + 1)
      if (end < 0) return text.length
      i = end
    } else if (char === '(') depth += 1
    else if (char === ')' && --depth === 0) return i + 1
  }
  return text.length
}

/** Where a mark stands outside quotes and parentheses; less than 0 where it does not. */
export function outside(text: string, mark: string): number {
  let depth = 0
  for (let i = 0; i < text.length; i++) {
    const char = text[i]
    if (char === '"') {
      const end = text.indexOf('"', i + 1)
      if (end < 0) return -1
      i = end
    } else if (char === '(') depth += 1
    else if (char === ')') depth -= 1
    else if (depth === 0 && char === mark) return i
  }
  return -1
}

/** The texts between commas outside quotes and parentheses. */
export function listed(text: string): string[] {
  const list: string[] = []
  let rest = text
  for (let at = outside(rest, ','); at >= 0; at = outside(rest, ',')) {
    list.push(rest.slice(0, at))
    rest = rest.slice(at + 1)
  }
  return [...list, rest].map((part) => part.trim()).filter((part) => part !== '')
}

export const unquoted = (text: string): string => {
  const plain = text.trim()
  return /^"[\s\S]*"$/.test(plain) && plain.length > 1
    ? plain.slice(1, -1).replaceAll('""', '"')
    : plain.replace(/\s+/g, ' ')
}
export const inQuotes = (text: string): string => `"${text.replaceAll('"', '""')}"`
/** What stands between parentheses. */
export const inner = (group: string): string => group.replace(/^\(/, '').replace(/\)$/, '').trim()
