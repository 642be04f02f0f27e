// How a design in words looks, and how its blocks are folded.
import { foldService, indentService, StreamLanguage } from '@codemirror/language'
import type { Extension } from '@codemirror/state'

const OPENERS = /^(jot|entity|collection|subtype|view|domain|every|area|namespace)\b/
const CLAUSE = /^(part of|key is|no(?=\s[^:]*$)|(check|index|unique|key)(?=\s*\())/
const WORDS =
  /^(required|optional|key|unique|index|default|min|max|upper|lower|on delete|on update|restrict|cascade|set null|set default|no action|at least one|drawn only|embedded|filled|check|where|part of|as|of|by|complete|exclusive|desc|no|has|one of|one|many|list of|map of|to|or|sample|native)\b/

interface State {
  /** Behind the colon of a line. */
  said: boolean
  /** A type may stand there. */
  typed: boolean
  means: boolean
}

const language = StreamLanguage.define<State>({
  name: 'jot',
  startState: () => ({ said: false, typed: false, means: false }),
  token(stream, state) {
    if (stream.sol()) {
      state.said = state.typed = state.means = false
      if (stream.match(OPENERS)) {
        state.said = true
        return 'keyword'
      }
      if (stream.match(/^\s*#.*/)) return 'comment'
      stream.eatSpace()
      // What says something of an entity is no name.
      if (stream.match(CLAUSE)) {
        state.said = true
        return 'keyword'
      }
    }
    if (stream.eatSpace()) return null
    if (state.means) {
      stream.skipToEnd()
      return 'string'
    }
    if (stream.match(/^#.*/)) return 'comment'
    if (stream.match(/^means\b/)) {
      state.means = true
      return 'keyword'
    }
    if (stream.match(/^"(?:[^"]|"")*"?/)) return 'string'
    if (stream.match(/^-?\d+(\.\d+)?/)) return 'number'
    if (stream.match(/^:/)) {
      state.said = state.typed = true
      return null
    }
    if (state.said && stream.match(WORDS)) return 'keyword'
    if (stream.match(/^[\p{L}\p{N}_-]+/u)) return state.said && state.typed ? 'typeName' : null
    stream.next()
    return null
  }
})

/** What stands further in belongs to the line above. */
const folds = foldService.of((state, from, to) => {
  const first = state.doc.lineAt(from)
  if (!/^\S/.test(first.text)) return null
  let last = first
  for (let n = first.number + 1; n <= state.doc.lines; n++) {
    const line = state.doc.line(n)
    if (/^\S/.test(line.text)) break
    if (line.text.trim() !== '') last = line
  }
  return last.number > first.number ? { from: to, to: last.to } : null
})

const OPENS_LINES = /^((entity|collection|subtype|view)\b|every\s+entity\s+has\b)/
const HOLDS_FIELDS = /:.*\bobject\b/

/** A new line goes on where the one above is, or in it; behind an empty one something new begins. */
const indents = indentService.of((context, pos) => {
  const { text } = context.lineAt(pos, -1)
  if (text.trim() === '') return 0
  const own = /^\s*/.exec(text)?.[0].replaceAll('\t', '  ').length ?? 0
  return OPENS_LINES.test(text) || HOLDS_FIELDS.test(text.replace(/\smeans\s.*/, '')) ? own + 2 : own
})

export const jot = (): Extension => [language, folds, indents]
