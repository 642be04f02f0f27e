// Whether one property of an object means the same on both sides, in the engine's eyes.
import {
  sameValue,
  type CatalogObject,
  type Check,
  type Counting,
  type DataType,
  type ForeignKey,
  type Kind,
  type Options
} from '../catalog'
import { optionOf, type Dialect } from '../dialects'
import { compareExpressions, nameOf, significant, worst, type Lexis, type Sameness } from '../sql'

/** What a design says, and is none where it does not say it. The rest of an object is as the database has it. */
const SAID: ReadonlySet<string> = new Set([
  'comment',
  'default',
  'identity',
  'generated',
  'virtual',
  'include',
  'where',
  'method'
])

/** Whether a design, or a statement, does not speak of a property: then it is as the database has it. */
export const isLeftUnsaid = (property: string, value: unknown): boolean => value === undefined && !SAID.has(property)

/** Whether a property means the same on both sides, in the engine's eyes. */
export function compareProperty(
  kind: CatalogObject['kind'],
  property: string,
  from: unknown,
  to: unknown,
  dialect: Dialect
): Sameness {
  if (sameValue(from, to)) return 'equal'
  if (property === 'references') return sameReferences(from as References, to as References)
  const same = compareValues(kind, property, from, to, dialect)
  return same === 'different' && shownAlike(kind, property, from, to, dialect) ? 'cannot tell' : same
}

type Compared = Parameters<typeof compareProperty>

/** Whether two texts that differ are shown alike: the engine holds more than it shows of its own descriptions. */
export function shownAlike(...[kind, property, from, to, dialect]: Compared): boolean {
  const { told } = dialect.profile
  if (!told || typeof from !== 'string' || typeof to !== 'string') return false
  if (!/[\u{10000}-\u{10ffff}]/u.test(from + to)) return false
  return compareValues(kind, property, told(from), told(to), dialect) !== 'different'
}

function compareValues(...[kind, property, from, to, dialect]: Compared): Sameness {
  if (sameValue(from, to)) return 'equal'
  const { lexis } = dialect.write
  if (property === 'options')
    return sameValue(unusual(kind, from, dialect), unusual(kind, to, dialect)) ? 'equal' : 'different'
  if (kind === 'column' && property === 'type')
    return dialect.types.same(from as DataType, to as DataType) ? 'equal' : 'different'
  // A text of commands is kept to the letter.
  if (dialect.profile.features.commands) return 'different'
  if (['default', 'generated', 'expression', 'where'].includes(property))
    return compareExpressions(from as string | undefined, to as string | undefined, lexis)
  if (TEXTS.has(kind) && (property === 'definition' || property === 'query'))
    return sameText(String(from), String(to), lexis)
  if (kind === 'type' && property === 'checks') return worst(pairs(from, to, dialect))
  // What is shown no more once it is made is no difference.
  if (property === 'counting' && dialect.profile.features.counts === 'as made') return 'equal'
  if (property === 'counting') return sameCounting(from as Counting | undefined, to as Counting | undefined)
  if (property === 'parts' && Array.isArray(from) && Array.isArray(to)) {
    if (from.length !== to.length) return 'different'
    return worst(from.map((part: object, i) => comparePart(part, to[i] as object, dialect)))
  }
  return 'different'
}

/** Options but for those that are what they are when nothing is said. */
const unusual = (kind: Kind, options: unknown, dialect: Dialect): Options =>
  Object.fromEntries(
    Object.entries((options as Options | undefined) ?? {}).filter(
      ([name, value]) => optionOf(dialect, kind, name)?.usual !== value
    )
  )

/** Kinds whose text is of nothing but names and expressions: how it is spaced and quoted means nothing. */
const TEXTS: ReadonlySet<Kind> = new Set<Kind>(['view', 'trigger', 'policy', 'rule', 'exclusion'])

function sameText(a: string, b: string, lexis: Lexis): Sameness {
  const words = (sql: string) => significant(sql, lexis).map((token) => nameOf(token, lexis) ?? token.text)
  const [left, right] = [words(a), words(b)]
  if (sameValue(left, right)) return 'equal'
  return sameValue(withoutCasts(left), withoutCasts(right)) ? 'cannot tell' : 'different'
}

/** An engine prints what it was given with casts and parentheses of its own, and names with or without whose they are. */
const withoutCasts = (words: readonly string[]): string[] =>
  words
    .join(' ')
    .replace(/[^ .]+ \. (?=[^ ])/g, '')
    .replace(/ :: [\w.]+( \. [\w]+)?( varying| precision| with(out)? time zone)?( \( [\d ,]+ \))?( \[ \])*/g, '')
    .split(' ')
    .filter((word) => word !== '(' && word !== ')')

/** The checks of a domain, each with the one of its name. */
function pairs(from: unknown, to: unknown, dialect: Dialect): Sameness[] {
  const [a, b] = [from, to].map((list) => (list ?? []) as readonly Check[]) as [readonly Check[], readonly Check[]]
  if (a.length !== b.length) return ['different']
  return a.map(({ expression, ...rest }) => {
    const { expression: other, ...more } = b.find(({ name }) => name === rest.name) ?? { expression: '' }
    return sameValue(rest, more) ? compareExpressions(expression, other, dialect.write.lexis) : 'different'
  })
}

/** What counts is called as the engine calls it, unless somebody says so. */
function sameCounting(from: Counting = {}, to: Counting = {}): Sameness {
  const { name: _name, ...rest } = from
  return sameValue(to.name === undefined ? rest : from, to) ? 'equal' : 'different'
}

type References = ForeignKey['references']

/** Columns that are not named are the parent's key: where there is no parent, nobody knows them. */
function sameReferences(a: References, b: References): Sameness {
  if (a.schema !== b.schema || a.table !== b.table) return 'different'
  const unknown = (side: References) => side.unnamed === true && side.columns.length === 0
  return unknown(a) || unknown(b) || sameValue(a.columns, b.columns) ? 'equal' : 'different'
}

function comparePart(a: object, b: object, dialect: Dialect): Sameness {
  const { expression: left, ...restA } = a as { expression?: string }
  const { expression: right, ...restB } = b as { expression?: string }
  return sameValue(restA, restB) ? compareExpressions(left, right, dialect.write.lexis) : 'different'
}
