// A text as lines that belong to each other by how far they stand in. Remarks and blank lines mean nothing.

export interface Line {
  /** From 1. */
  readonly number: number
  /** Offset of its first character in the text. */
  readonly at: number
  /** Without the remark at its end, and without the space around it. */
  readonly text: string
  /** The lines that stand further in below it. */
  readonly inside: readonly Line[]
}

interface Open extends Line {
  readonly indent: number
  readonly inside: Open[]
}

/** A tab counts as two spaces; what all lines stand in by means nothing. */
export function linesOf(text: string): readonly Line[] {
  const found: Open[] = []
  const path: Open[] = []
  let at = 0
  const raw = text.split('\n')
  for (let i = 0; i < raw.length; i++) {
    const [number, from] = [i + 1, at]
    let line = raw[i] ?? ''
    at += line.length + 1
    // A meaning in quotes goes on over the lines until they are closed.
    while (/(^|\s)means\s+"/.test(line) && isOpen(line) && i + 1 < raw.length) {
      i += 1
      line += `\n${raw[i] ?? ''}`
      at += (raw[i] ?? '').length + 1
    }
    const lead = /^[ \t]*/.exec(line)?.[0] ?? ''
    const own = withoutRemark(line.slice(lead.length)).trimEnd()
    if (own === '') continue
    const indent = lead.replaceAll('\t', '  ').length
    const open: Open = { number, at: from + lead.length, text: own, indent, inside: [] }
    while (path.length > 0 && (path.at(-1)?.indent ?? 0) >= indent) path.pop()
    const above = path.at(-1)
    if (above) above.inside.push(open)
    else found.push(open)
    path.push(open)
  }
  return found
}

const isOpen = (line: string) => (line.match(/"/g)?.length ?? 0) % 2 === 1

/** `# …` at the beginning, or after a space, outside quotes and parentheses; what something means goes to the end of the line. */
export function withoutRemark(line: string): string {
  if (!line.includes('#')) return line
  if (line.startsWith('#')) return ''
  const means = /(?<![\w"])means\s/.exec(line)?.index ?? line.length
  let depth = 0
  for (let i = 0; i < means; i++) {
    const char = line[i]
    if (char === '"' || char === "'") {
      const end = line.indexOf(char, i + 1)
      if (end < 0) return line
      i = end
    } else if (char === '(') depth += 1
    else if (char === ')') depth -= 1
    else if (depth <= 0 && char === '#' && /\s/.test(line[i - 1] ?? '')) return line.slice(0, i)
  }
  return line
}
