// Differences in words.
import {
  KIND_WORDS,
  propertyOf,
  namesOf,
  typeText,
  type DataType,
  type Right,
  type TypeField
} from '../../core/catalog'
import type { Difference } from '../../core/compare'
import type { EngineProfile } from '../../core/dialects'

export interface Described {
  readonly what: string
  readonly detail: string
  readonly wanted: string
  readonly agreed: string
  readonly live: string
}

/** One difference as the row of a table says it: what it is, and all three sides; in the words of the engine. */
export function describe(
  { change, agreed, who = 'not known' }: Pick<Difference, 'change'> & Partial<Difference>,
  words: EngineProfile['words'] = {}
): Described {
  const { address } = change
  const [kind = KIND_WORDS[address.kind]] = words[address.kind] ?? []
  const [, columns = 'columns'] = words.column ?? []
  const short = (object: object) => inShort(object, columns)
  const was = who === 'not known' ? '' : agreed === undefined ? 'none' : undefined
  const whole = was ?? (typeof agreed === 'object' && agreed !== null ? short(agreed) : String(agreed))
  switch (change.action) {
    case 'create':
      return {
        what: namesOf(address).name,
        detail: kind,
        wanted: short(change.object.value),
        agreed: whole,
        live: 'none'
      }
    case 'drop':
      return {
        what: namesOf(address).name,
        detail: kind,
        wanted: 'none',
        agreed: whole,
        live: short(change.object.value)
      }
    case 'rename':
      return {
        what: change.to,
        detail: `${kind}, name`,
        wanted: change.to,
        agreed: was ?? String(agreed),
        live: namesOf(address).name
      }
    case 'alter':
      return {
        what: namesOf(address).name,
        detail: address.kind === 'table' ? property(change.property) : `${kind}, ${property(change.property)}`,
        wanted: value(change.property, change.to),
        agreed: who === 'not known' ? '' : value(change.property, agreed),
        live: value(change.property, change.from)
      }
  }
}

const property = (name: string) =>
  ({
    nullable: 'may be empty',
    onDelete: 'on delete',
    onUpdate: 'on update',
    comment: 'meaning',
    parts: 'columns',
    expression: 'condition',
    query: 'what it reads',
    enabled: 'when it acts',
    ownedBy: 'goes with',
    counting: 'numbering',
    notes: 'what is said of columns',
    values: 'values',
    fields: 'fields'
  })[name] ?? name

function value(name: string, v: unknown): string {
  if (v === undefined) return 'none'
  if (name === 'nullable') return v === true ? 'may be empty' : 'required'
  if (name === 'columns' && Array.isArray(v)) return v.join(', ')
  if (name === 'parts' && Array.isArray(v)) return parts(v)
  if (name === 'values' && Array.isArray(v)) return v.join(', ')
  if (name === 'rights' && Array.isArray(v)) return (v as readonly Right[]).map(right).join('; ')
  if (name === 'options' || name === 'counting') return pairs(v as Readonly<Record<string, unknown>>)
  if (name === 'checks' && Array.isArray(v)) return (v as { expression: string }[]).map((c) => c.expression).join('; ')
  if (name === 'fields' && Array.isArray(v))
    return (v as readonly TypeField[]).map((f) => `${f.name} ${typeText(f.type)}`).join(', ')
  if ((name === 'type' || name === 'base') && typeof v === 'object') return typeText(v as DataType)
  if (name === 'ownedBy') {
    const { table, column } = v as { table: string; column: string }
    return `${table}.${column}`
  }
  if (name === 'references') {
    const { table, columns } = v as { table: string; columns: readonly string[] }
    return `${table} (${columns.join(', ')})`
  }
  return typeof v === 'string' ? v : JSON.stringify(v)
}

const parts = (list: readonly unknown[]) =>
  list
    .map(
      (p) =>
        String(propertyOf(p as object, 'column') ?? propertyOf(p as object, 'expression')) +
        (propertyOf(p as object, 'descending') === true ? ' desc' : '')
    )
    .join(', ')

const right = ({ to, may, grantable, revoked }: Right) =>
  `${to} ${revoked ? 'may not' : 'may'} ${may.toLowerCase()}${grantable ? ', and hand it on' : ''}`

const pairs = (options: Readonly<Record<string, unknown>>) =>
  Object.entries(options)
    .map(([name, v]) => (v === 'yes' || v === true ? name : `${name} ${String(v)}`))
    .join(', ')

/** A text of many words, on both sides: shown line by line. */
export function linesOf({ change }: Difference): { readonly live: string; readonly wanted: string } | undefined {
  if (change.action !== 'alter' || !TEXTS.has(change.property)) return undefined
  const { from, to } = change
  return typeof from === 'string' && typeof to === 'string' ? { live: from, wanted: to } : undefined
}
const TEXTS: ReadonlySet<string> = new Set(['definition', 'query'])

/** What an object is, in a few words. */
function inShort(object: object, many: string): string {
  const get = (name: string) => propertyOf(object, name)
  const columns = get('columns')
  const [type, base] = [get('type'), get('base')]
  if (typeof type === 'object') return `${value('type', type)}${get('nullable') === true ? '' : ', required'}`
  if (typeof get('expression') === 'string') return String(get('expression'))
  for (const text of ['query', 'definition'])
    if (typeof get(text) === 'string') return String(get(text)).replace(/\s+/g, ' ')
  if (Array.isArray(get('values'))) return (get('values') as string[]).join(', ')
  if (Array.isArray(get('fields'))) return value('fields', get('fields'))
  if (base !== undefined) return value('base', base)
  if (get('references')) return `${value('columns', columns)} → ${value('references', get('references'))}`
  if (Array.isArray(get('parts'))) return parts(get('parts') as unknown[])
  if (Array.isArray(columns))
    return columns.every((c) => typeof c === 'string') ? columns.join(', ') : `${columns.length} ${many}`
  return ''
}
