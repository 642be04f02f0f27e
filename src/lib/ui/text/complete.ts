// What may stand where one types: openers, types, the names of a design, words.
import {
  acceptCompletion,
  completionStatus,
  selectedCompletionIndex,
  setSelectedCompletion,
  type Completion,
  type CompletionContext,
  type CompletionResult
} from '@codemirror/autocomplete'
import type { EditorView } from '@codemirror/view'
import type { Design } from '../../core/design'
import { nameAmong } from '../../core/jot'
import { printType, TYPE_CHOICES } from '../../core/types'
import { typeOf } from './hints'

/** Takes the word that is chosen in the list, or the first of it. */
export function takeWord(view: EditorView): boolean {
  if (completionStatus(view.state) !== 'active') return false
  if ((selectedCompletionIndex(view.state) ?? -1) < 0) view.dispatch({ effects: setSelectedCompletion(0) })
  return acceptCompletion(view)
}

const OPENERS = [
  'entity ',
  'collection ',
  'subtype ',
  'view ',
  'domain ',
  'area ',
  'namespace ',
  'every entity has ',
  'every table begins '
]
const CLAUSES = ['part of ', 'means ', 'check (', 'index (', 'unique (', 'key (', 'no ']
const WORDS = [
  'required',
  'unique',
  'key',
  'index',
  'default ',
  'min ',
  'max ',
  'upper',
  'lower',
  'on delete cascade',
  'on delete set null',
  'at least one',
  'drawn only',
  'embedded',
  'sample ',
  'means '
]
const words = (list: readonly string[], type: string, boost = 0): Completion[] =>
  list.map((label) => ({ label, type, boost }))

export function completionsOf(design: Design, { state, pos, explicit }: CompletionContext): CompletionResult | null {
  const line = state.doc.lineAt(pos)
  const before = line.text.slice(0, pos - line.from)
  if (/(^|\s)means\s|#/.test(before)) return null
  const [word = ''] = /[\p{L}\p{N}_]*$/u.exec(before) ?? []
  if (word === '' && !explicit && !/:\s$/.test(before)) return null
  const from = pos - word.length
  const result = (options: Completion[]) => ({ from, options, validFor: /^[\p{L}\p{N}_ ]*$/u })
  if (/^\S*$/.test(before)) return result(words(OPENERS, 'keyword'))
  const entities = Object.values(design.entities).map(({ name }) => nameAmong(name))
  const subtype = /^subtype\s.*\sof\s+[^,]*$/.test(before) || /^\s+part\s+of\s+[^,]*$/.test(before)
  if (subtype) return result(words(entities, 'class'))
  if (/\([^)]*$/.test(before)) return result(words(columnsAbove(state.doc.toString(), line.number), 'property'))
  if (!before.includes(':')) return /^\s+/.test(before) ? result(words(CLAUSES, 'keyword', -1)) : null
  const domains = Object.values(design.domains).map(({ name }) => nameAmong(name))
  const types = TYPE_CHOICES.map(({ type, use }): Completion => ({ label: printType(type), type: 'type', detail: use }))
  const guess = typeOf(before)
  const first = /:\s*(one\s|many\s|(list\s+of\s+|map\s+of\s.*?\sto\s+)+)?[\p{L}\p{N}_]*$/u.test(before)
  return result([
    ...(guess === undefined ? [] : [{ label: guess, type: 'type', detail: 'by its name', boost: 99 }]),
    ...(first ? [...words(domains, 'type', 2), ...words(entities, 'class', 1), ...types] : []),
    ...(first ? words(['one of ('], 'type') : words(WORDS, 'keyword'))
  ])
}

/** The names of what stands in the block of a line. */
function columnsAbove(text: string, number: number): string[] {
  const lines = text.split('\n')
  let top = number - 1
  while (top > 0 && !/^\S/.test(lines[top] ?? '')) top--
  const names: string[] = []
  for (let i = top + 1; i < lines.length && !/^\S/.test(lines[i] ?? ''); i++) {
    const [, name] = /^\s+([^:=(#]+?)\s*(?:=[^:]*)?:/.exec(lines[i] ?? '') ?? []
    if (name) names.push(name)
  }
  return names
}
