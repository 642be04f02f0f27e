// What the editor says where one types: the type that a column is taken for, what something is, and how a mistake is mended.
import type { Action, Diagnostic } from '@codemirror/lint'
import { RangeSetBuilder, type Extension, type Line as Text } from '@codemirror/state'
import {
  Decoration,
  EditorView,
  hoverTooltip,
  ViewPlugin,
  WidgetType,
  type DecorationSet,
  type ViewUpdate
} from '@codemirror/view'
import { distance } from 'fastest-levenshtein'
import { attributeIn, fieldsOf, ownerOf, typeWords, type Design, type Target } from '../../core/design'
import { dialect } from '../../core/dialects'
import { guessedType, nameAmong, nameBefore } from '../../core/jot'
import type { Notice } from '../../core/notice'
import { printType, TYPE_CHOICES, type NeutralType } from '../../core/types'
import { engineLabel } from '../desk/words'
import { idOfLine, symbolAt, type Lines } from './symbols'

/** A column of which no more than the name is said. */
const BARE = /^\s+([^\s#:(),=][^:(),=#]*?)\s*(?:=[^:]*)?:\s*$/

/** The type that a line of a name alone is taken for, in words. */
export function typeOf(text: string): string | undefined {
  const name = BARE.exec(text)?.[1]
  return name === undefined ? undefined : printType(guessedType(name))
}

/** What such a line is taken for; it may lead to an entity that it is called by. */
function guessOf(line: Text, { design, lines }: Pick<Now, 'design' | 'lines'>) {
  const words = typeOf(line.text)
  if (words === undefined) return undefined
  const { link } = ownerOf(design, idOfLine(lines, line.number))
  const parent = link && design.entities[link.parent]?.name
  // By its own name it would be a role.
  return parent === undefined ? { words } : { words: nameAmong(parent), name: parent.toLowerCase() }
}

class Ghost extends WidgetType {
  constructor(readonly text: string) {
    super()
  }
  override eq = (other: Ghost) => other.text === this.text
  override toDOM() {
    const node = document.createElement('span')
    node.className = 'cm-ghost'
    node.setAttribute('aria-hidden', 'true')
    node.textContent = ` ${this.text}`
    return node
  }
}

function ghosts({ visibleRanges, state }: EditorView, now: Now): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>()
  for (const { from, to } of visibleRanges)
    for (let pos = from; pos <= to;) {
      const line = state.doc.lineAt(pos)
      const next = state.doc.lines > line.number ? state.doc.line(line.number + 1).text : ''
      // What holds lines is an object.
      const holds = /^\s*/.exec(next)?.[0].length ?? 0
      const own = /^\s*/.exec(line.text)?.[0].length ?? 0
      const guess = guessOf(line, now)
      if (guess)
        builder.add(
          line.to,
          line.to,
          Decoration.widget({ widget: new Ghost(holds > own && next.trim() !== '' ? 'object' : guess.words), side: 1 })
        )
      pos = line.to + 1
    }
  return builder.finish()
}

/** The guessed types of columns, faint behind their names. */
export const ghostTypes = (now: () => Now): Extension =>
  ViewPlugin.fromClass(
    class {
      decorations: DecorationSet
      known: Now
      constructor(view: EditorView) {
        this.known = now()
        this.decorations = ghosts(view, this.known)
      }
      update({ docChanged, viewportChanged, view }: ViewUpdate) {
        const { lines, design } = this.known
        this.known = now()
        if (docChanged || viewportChanged || lines !== this.known.lines || design !== this.known.design)
          this.decorations = ghosts(view, this.known)
      }
    },
    { decorations: (plugin) => plugin.decorations }
  )

/** Writes the guessed type of the line that the cursor ends. */
export function acceptGhost(view: EditorView, now: Now): boolean {
  const { head, empty } = view.state.selection.main
  const line = view.state.doc.lineAt(head)
  const guess = guessOf(line, now)
  if (!empty || !guess || head < line.from + line.text.trimEnd().length) return false
  const from = guess.name === undefined ? line.from + line.text.trimEnd().length : line.from + line.text.search(/\S/)
  const insert = guess.name === undefined ? ` ${guess.words}` : `${nameBefore(guess.name)}: ${guess.words}`
  view.dispatch({
    changes: { from, to: line.to, insert },
    selection: { anchor: from + insert.length },
    userEvent: 'input.complete'
  })
  return true
}

interface Now {
  readonly design: Design
  readonly lines: Lines
  readonly shown: Target
}

/** What something is and becomes, over its name. */
export const aboutNames = (now: () => Now): Extension =>
  hoverTooltip((view, pos) => {
    const { design, lines, shown } = now()
    const line = view.state.doc.lineAt(pos)
    const symbol = symbolAt(view.state, pos, design, lines)
    const said = symbol ? aboutSymbol(symbol, design, shown) : aboutLine(idOfLine(lines, line.number), design, shown)
    if (said.length === 0) return null
    return {
      pos: symbol?.from ?? line.from + line.text.search(/\S|$/),
      end: symbol?.to ?? line.to,
      create: () => {
        const dom = document.createElement('div')
        dom.className = 'cm-about'
        for (const sentence of said) {
          const part = document.createElement('p')
          part.textContent = sentence
          dom.append(part)
        }
        return { dom }
      }
    }
  })

function aboutSymbol(
  { kind, id, entity }: { readonly kind: string; readonly id: string; readonly entity?: { readonly id: string } },
  design: Design,
  shown: Target
): string[] {
  if (kind === 'column') return aboutLine(id, design, shown, entity?.id)
  const domain = design.domains[id]
  if (domain) return [`${domain.name}: a domain, ${printType(domain.type)}.`, ...(domain.means ? [domain.means] : [])]
  const found = design.entities[id]
  if (!found) return []
  const columns = found.attributes.length
  return [
    `${found.name}: ${found.collection ? 'a collection' : 'an entity'} of ${columns} ${columns === 1 ? 'column' : 'columns'}.`,
    ...(found.means ? [found.means] : [])
  ]
}

function aboutLine(id: string | undefined, design: Design, shown: Target, of?: string): string[] {
  const { entity, attribute, link } = ownerOf(design, id)
  if (link) return [`A link to ${design.entities[link.parent]?.name ?? ''}: ${link.kind.replaceAll('-', ' ')}.`]
  const home = design.entities[of ?? entity?.id ?? '']
  const own = attribute && home && attributeIn(home, attribute.id)
  if (!own) return []
  const fields = fieldsOf(own).length
  return [
    `${own.name}: ${typeWords(design, own)}${fields > 0 ? `, with ${fields} ${fields === 1 ? 'field' : 'fields'}` : ''}.`,
    ...(own.leadsTo === undefined ? becomes(own.type, shown) : []),
    ...(own.means ? [own.means] : [])
  ]
}

function becomes(type: NeutralType, shown: Target): string[] {
  const engine = dialect(shown.engine, shown.version)
  if (!engine) return []
  const { type: made, note } = engine.types.fromNeutral(type)
  return [`On ${engineLabel(shown)}: ${engine.write.type(made)}${note === undefined ? '' : `. ${note}`}.`]
}

const OPENERS = ['entity', 'collection', 'subtype', 'domain', 'every', 'area', 'namespace', 'view']

/** Mistakes where they stand, with what would mend them. */
export function diagnosticsOf(view: EditorView, notices: readonly Notice[], design: Design): Diagnostic[] {
  const { doc } = view.state
  return notices.flatMap(({ where = '1:1', message, severity, code }): Diagnostic[] => {
    const [row = 1, column = 1] = where.split(':').map(Number)
    if (row > doc.lines) return []
    const line = doc.line(row)
    const start = Math.min(line.from + column - 1, line.to)
    const text = line.text.slice(start - line.from)
    const quoted = /^“([^”]+)”/.exec(message)?.[1] ?? /has no column “([^”]+)”/.exec(message)?.[1]
    const at = quoted === undefined ? -1 : line.text.indexOf(quoted, start - line.from)
    const from = at < 0 ? start + (text.length - text.trimStart().length) : line.from + at
    const length = at < 0 ? (/^[^\s,:]+/.exec(text.trimStart())?.[0].length ?? 1) : (quoted?.length ?? 1)
    const to = Math.min(from + length, line.to)
    return [{ from, to, message, severity, actions: quoted === undefined ? [] : mends(code, quoted, message, design) }]
  })
}

function mends(code: string, word: string, message: string, design: Design): Action[] {
  const write = (name: string): Action => ({
    name: `Write ${name}`,
    apply: (view, from, to) => view.dispatch({ changes: { from, to, insert: name } })
  })
  if (code === 'jot-line' && /opens nothing/.test(message)) return nearest(word, OPENERS).map(write)
  if (code === 'jot-unknown') {
    const [, name] = /^(.*?) has no column/.exec(message) ?? []
    const entity = Object.values(design.entities).find((one) => one.name === name)
    return nearest(
      word,
      (entity?.attributes ?? []).map((one) => one.name)
    ).map(write)
  }
  if (!/is no type/.test(message)) return []
  const names = [...Object.values(design.entities), ...Object.values(design.domains)].map(({ name }) => nameAmong(name))
  const types = TYPE_CHOICES.map(({ type }) => printType(type))
  const bare = word.replace(/\s*\(.*$/, '')
  const args = word.slice(bare.length)
  const near = nearest(bare, [...names, ...new Set(types.map((type) => type.replace(/\(.*$/, '')))])
  const make: Action = {
    name: `Make an entity ${word}`,
    apply: (view) => view.dispatch({ changes: { from: view.state.doc.length, insert: `\nentity ${word}\n` } })
  }
  return [...near.map((name) => write(name + args)), ...(/^[\p{L}][\p{L}\p{N} ]*$/u.test(word) ? [make] : [])]
}

/** Those that a slip of the keys could have been meant for, the nearest first; two at most. */
function nearest(word: string, all: readonly string[]): string[] {
  const wanted = word.toLowerCase()
  const most = Math.max(1, Math.floor(wanted.length / 3))
  return [...new Set(all)]
    .map((name) => ({ name, far: distance(wanted, name.toLowerCase()) }))
    .filter(({ far }) => far > 0 && far <= most)
    .sort((a, b) => a.far - b.far)
    .slice(0, 2)
    .map(({ name }) => name)
}
