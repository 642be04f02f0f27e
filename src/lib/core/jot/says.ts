// What stands behind the colon of a line: a type, or an entity that it leads to, and words about it.
import { parseType, spokenType, type NeutralType } from '../types'
import { leadingType, type Common, type Domain, type Entity, type Link } from '../design'
import { inner, piecesOf, unquoted, type Piece } from './pieces'

export interface Says {
  readonly type?: NeutralType
  readonly domain?: Domain
  readonly entity?: Entity
  /** The entity that a list or a map holds keys of. */
  readonly leadsTo?: Entity
  readonly link: Link['kind']
  readonly required: boolean
  readonly key: boolean
  readonly unique: boolean
  readonly index: boolean
  readonly default?: string
  readonly sample?: string
  readonly computed?: string
  readonly min?: number
  readonly max?: number
  readonly letters?: 'upper' | 'lower'
  readonly onDelete?: Link['onDelete']
  readonly onUpdate?: Link['onUpdate']
  readonly childRequired: boolean
  readonly drawnOnly: boolean
  /** Documents of its own are kept in those that it leads to. */
  readonly embedded: boolean
  /** What these call them. */
  readonly embeddedAs?: string
  /** The columns of the other's key that it leads to. */
  readonly to?: string
  readonly kept?: NonNullable<Common['kept']>
  readonly check?: string
  readonly means?: string
  /** What was not understood. */
  readonly odd: readonly { readonly text: string; readonly at: number; readonly why: string }[]
}

/** What a name stands for where a type is. */
export interface Known {
  entity(name: string): Entity | undefined
  domain(name: string): Domain | undefined
}

export const FILLED = {
  'when made': 'made at',
  'when changed': 'changed at',
  'by maker': 'made by',
  'by changer': 'changed by'
} as const satisfies Readonly<Record<string, NonNullable<Common['kept']>>>

const ACTIONS = ['restrict', 'cascade', 'set null', 'set default', 'no action'] as const
/** Words that something is said with: where a type is missing, one of them may stand in its place. */
const BEGIN =
  /^(required|optional|key|unique|index|default|min|max|upper|lower|on|at|to|drawn|filled|check|means|computed|sample)$/

/** The words of a type, as many as make one. */
const LONGEST = 6

export function saysOf(text: string, known: Known): Says {
  const pieces = piecesOf(text)
  const said: { -readonly [K in keyof Says]: Says[K] } = {
    link: 'one-to-many',
    required: false,
    key: false,
    unique: false,
    index: false,
    childRequired: false,
    drawnOnly: false,
    embedded: false,
    odd: []
  }
  const odd: { text: string; at: number; why: string }[] = []
  let i = takeType(pieces, known, said)
  if (i === 0 && pieces[0] && !BEGIN.test(pieces[0].text) && pieces[0].kind !== ',') {
    // Up to the first word that says something of it.
    let end = 1
    while (end < pieces.length && pieces[end]?.kind !== ',' && !BEGIN.test(pieces[end]?.text ?? '')) end += 1
    const whole = text.slice(pieces[0].at, behind(pieces[end - 1]))
    odd.push({ text: whole, at: pieces[0].at, why: `“${whole}” is no type, no domain and no entity.` })
    i = end
  }
  const next = () => pieces[++i]
  const take = (...words: string[]) => {
    if (!words.every((word, k) => pieces[i + k]?.text.toLowerCase() === word)) return false
    i += words.length - 1
    return true
  }
  for (; i < pieces.length; i++) {
    const piece = pieces[i]
    if (!piece || piece.kind === ',') continue
    const refuse = (why: string) => odd.push({ text: piece.text, at: piece.at, why })
    const action = (): Link['onDelete'] | undefined => {
      const found = ACTIONS.find((words) => {
        const list = words.split(' ')
        return list.every((word, k) => pieces[i + 1 + k]?.text.toLowerCase() === word)
      })
      if (found) i += found.split(' ').length
      return found
    }
    if (take('required')) said.required = true
    else if (take('optional')) said.required = false
    else if (take('key')) said.key = true
    else if (take('unique')) said.unique = true
    else if (take('index')) said.index = true
    else if (take('upper') || take('lower')) said.letters = piece.text.toLowerCase() as 'upper'
    else if (take('drawn', 'only')) said.drawnOnly = true
    else if (take('embedded')) {
      said.embedded = true
      if (pieces[i + 1]?.text.toLowerCase() !== 'as') continue
      next()
      const name = next()
      if (said.link === 'many-to-many') refuse('What many are called there stands at the head of the line.')
      else if (!name || name.kind === ',') refuse('Say what they are called there: embedded as crew.')
      else said.embeddedAs = name.kind === 'quoted' ? unquoted(name.text) : name.text
    } else if (take('at', 'least', 'one')) said.childRequired = true
    else if (take('on', 'delete')) {
      const found = action()
      if (found) said.onDelete = found
      else refuse(`On delete: ${ACTIONS.join(', ')}.`)
    } else if (take('on', 'update')) {
      const found = action()
      if (found) said.onUpdate = found
      else refuse(`On update: ${ACTIONS.join(', ')}.`)
    } else if (take('default')) {
      const value = next()
      if (!value || value.kind === ',')
        refuse('Say the default: a number, a word, a text in quotes, now, or (an expression).')
      else said.default = defaultOf(value)
    } else if (take('computed')) {
      const group = next()
      if (group?.kind === 'group') said.computed = inner(group.text)
      else refuse('Say what it is worked out from: computed (length * 2).')
    } else if (take('sample')) {
      const value = next()
      if (!value || value.kind === ',') refuse('Say a sample: a number, a word or a text in quotes.')
      else said.sample = value.kind === 'quoted' ? unquoted(value.text) : value.text
    } else if (take('min') || take('max')) {
      const value = next()
      if (!value || !/^-?\d+(\.\d+)?$/.test(value.text)) refuse('Say a number.')
      else said[piece.text.toLowerCase() as 'min'] = Number(value.text)
    } else if (take('filled')) {
      const words = `${pieces[i + 1]?.text ?? ''} ${pieces[i + 2]?.text ?? ''}`.toLowerCase()
      if (words in FILLED) {
        said.kept = FILLED[words as keyof typeof FILLED]
        i += 2
      } else refuse(`Filled ${Object.keys(FILLED).join(', ')}.`)
    } else if (take('check') && pieces[i + 1]?.kind === 'group') said.check = inner(next()?.text ?? '')
    else if (take('to') && pieces[i + 1]?.kind === 'group') said.to = inner(next()?.text ?? '')
    else if (take('means')) {
      const rest = text.slice(behind(piece)).trim()
      if (rest !== '') said.means = /^"[\s\S]*"$/.test(rest) ? unquoted(rest) : rest
      break
    } else refuse(`“${piece.text}” says nothing here.`)
  }
  return { ...said, odd }
}

const behind = (piece: Piece | undefined) => (piece ? piece.at + piece.text.length : 0)

/** A text in quotes is a default as it stands: it is text, whatever it says. */
const defaultOf = ({ kind, text }: Piece): string => (kind === 'quoted' ? `"${unquoted(text)}"` : text)

/** How many pieces the type takes: none where there is none. */
function takeType(pieces: readonly Piece[], known: Known, said: { -readonly [K in keyof Says]: Says[K] }): number {
  const [first] = pieces
  if (!first) return 0
  const kind = { one: 'one-to-one', many: 'many-to-many' }[first.text.toLowerCase()] as Link['kind'] | undefined
  const textOf = (from: number, to: number) =>
    pieces
      .slice(from, to)
      .map(({ text }) => text)
      .join(' ')
  const end = pieces.findIndex((piece) => piece.kind === ',')
  const longest = Math.min(end < 0 ? pieces.length : end, 12)
  for (let to = longest; to > 0; to--) {
    const name = unquoted(textOf(0, to))
    // One that is called like a word of this language stands in quotes.
    const bare = to === 1 && first.kind === 'word' && BEGIN.test(first.text)
    const domain = bare ? undefined : known.domain(name)
    const entity = bare ? undefined : known.entity(name)
    if (domain) {
      said.domain = domain
      said.type = domain.type
      return to
    }
    if (entity) {
      said.entity = entity
      return to
    }
    const led = /^(list|map)$/i.test(first.text)
      ? leadingType(textOf(0, to), (last) => known.entity(unquoted(last)))
      : undefined
    if (led) {
      said.type = led.type
      said.leadsTo = led.to
      return to
    }
    const other = kind && to > 1 ? known.entity(unquoted(textOf(1, to))) : undefined
    if (kind && other) {
      said.entity = other
      said.link = kind
      return to
    }
  }
  const isLong = /^(list|map)$/i.test(first.text) || pieces.some(({ text }) => /^or$/i.test(text))
  for (let to = Math.min(longest, isLong ? 2 * LONGEST : LONGEST); to > 0; to--) {
    const text = textOf(0, to).replace(/(?<!\b(?:of|or|to)) \(/gi, '(')
    const plain = parseType(text)
    const spoken = plain.ok ? { ok: true as const, value: { type: plain.value } } : spokenType(text)
    if (spoken.ok && !(to === 1 && BEGIN.test(first.text))) {
      said.type = spoken.value.type
      return to
    }
  }
  return 0
}
