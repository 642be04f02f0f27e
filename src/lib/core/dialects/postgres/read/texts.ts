// Texts that name things: every name in them as the server prints it, and what they stand on.
import {
  addressKey,
  addressOf,
  freeAddress,
  isView,
  namesOf,
  type Address,
  type Ref,
  type Table,
  type View
} from '../../../catalog'
import { nameOf, referencesIn, significant, textOf, type NamedTable, type Token } from '../../../sql'
import { DEFAULT_SCHEMA } from '../profile'
import { bareRoutine, type Reading } from './reading'
import { mustBeSound } from './sound'

export interface SaidText {
  readonly text: string
  readonly refs?: readonly Ref[]
}

interface Edit {
  readonly at: number
  readonly length: number
  readonly text: string
}

/**
 * An expression of a table: what is in the schema `public` goes by its bare name, all else by its schema's too; a sequence
 * is named as such.
 */
export function tableText(sql: string, reading: Reading): SaidText {
  mustBeSound(sql, reading)
  return partsText(sql, reading)
}

/** The same of a list of them, with whatever stands between. */
export function partsText(sql: string, reading: Reading): SaidText {
  // Most are a constant, or name nothing but columns.
  if (!/[(.]|::|\bas\b/i.test(sql)) return { text: sql }
  const { edits, refs } = namedThings(significant(sql, reading.lexis), reading, (schema) => schema !== DEFAULT_SCHEMA)
  return said(edited(sql, edits), refs)
}

/** A query, trigger, rule or policy: everything goes by its schema's name too. `home`: the table that it is of. */
export function fullText(sql: string, reading: Reading, home?: Table): SaidText {
  const tokens = significant(sql, reading.lexis)
  const { edits, refs } = namedThings(tokens, reading, () => true)
  const places = new Map<NamedTable, Table | View>()
  const known = new Map<Table | View, NamedTable>()
  const namedTable = (found: Table | View): NamedTable => {
    let named = known.get(found)
    if (!named) {
      const columns = isView(found) ? [] : found.columns.map(({ name }) => [name, name] as const)
      named = { columns: new Map(columns) }
      known.set(found, named)
      places.set(named, found)
    }
    return named
  }
  const { quote, keywords } = reading.write
  const { sources, columns, all } = referencesIn(tokens, {
    lexis: reading.lexis,
    quote,
    keywords,
    table: (schema, name) => {
      const found = reading.relation(schema === undefined ? [name] : [schema, name])
      return found && namedTable(found)
    }
  })
  const named = new Set<Table | View>()
  const add = (to: Address) => void refs.set(addressKey(to), { to })
  for (const { table, token, schema } of sources) {
    const place = places.get(table)
    if (!place) continue
    if (schema === undefined) edits.push({ at: token.at, length: 0, text: `${quote(place.schema)}.` })
    if (isView(place)) add(freeAddress('view', place))
    else if (all) for (const column of place.columns) add(addressOf('column', place.schema, place.name, column.name))
    named.add(place)
  }
  const withColumns = new Set<Table | View>()
  for (const { table, column } of columns) {
    const place = places.get(table)
    if (!place || isView(place)) continue
    withColumns.add(place)
    add(addressOf('column', place.schema, place.name, column))
  }
  for (const place of named)
    if (!isView(place) && place !== home && !withColumns.has(place) && !all) add(freeAddress('table', place))
  return said(edited(sql, edits), refs)
}

const said = (text: string, refs: ReadonlyMap<string, Ref>): SaidText =>
  refs.size ? { text, refs: [...refs.values()] } : { text }

function edited(sql: string, edits: readonly Edit[]): string {
  if (edits.length === 0) return sql
  let result = ''
  let from = 0
  for (const { at, length, text } of [...edits].sort((a, b) => a.at - b.at)) {
    result += sql.slice(from, at) + text
    from = at + length
  }
  return result + sql.slice(from)
}

/** Functions, types and sequences that a text names. `whole`: whether a name of that schema has it before it. */
function namedThings(tokens: readonly Token[], reading: Reading, whole: (schema: string) => boolean) {
  const { quote } = reading.write
  const edits: Edit[] = []
  const refs = new Map<string, Ref>()
  const isName = (token: Token | undefined) => token?.kind === 'word' || token?.kind === 'quoted'
  /** The names from a place on, joined by full stops, and where they end. */
  const chainAt = (at: number): readonly Token[] => {
    const chain: Token[] = []
    for (let i = at; isName(tokens[i]); i += 2) {
      const token = tokens[i]
      if (token) chain.push(token)
      if (tokens[i + 1]?.text !== '.') break
    }
    return chain
  }
  const spelled = (chain: readonly Token[], { schema }: { readonly schema: string }) => {
    const [first, last] = [chain[0], chain.at(-1)]
    if (!first || !last) return
    if (chain.length === 1 && whole(schema)) edits.push({ at: first.at, length: 0, text: `${quote(schema)}.` })
    if (chain.length === 2 && !whole(schema)) edits.push({ at: first.at, length: last.at - first.at, text: '' })
  }
  for (let i = 0; i < tokens.length; i++) {
    const token = tokens[i]
    if (!token || !isName(token) || tokens[i - 1]?.text === '.') continue
    const chain = chainAt(i)
    const after = i + chain.length * 2 - 1
    const path = chain.map((part) => nameOf(part, reading.lexis) ?? '')
    const before = tokens[i - 1]?.text
    if (before === '::' || (before?.toLowerCase() === 'as' && token.kind === 'word')) {
      const type = reading.lookFor('type', path)
      if (!type) continue
      const to = freeAddress('type', type)
      refs.set(addressKey(to), { to })
      spelled(chain, type)
    } else if (tokens[after]?.text === '(') {
      const routines = reading.routines(path)
      const [first] = routines
      for (const to of fitting(routines, tokens, after)) refs.set(addressKey(to), { to })
      if (first) spelled(chain, namesOf(first))
      const argument = tokens[after + 1]
      if (!first && argument && /^(nextval|currval|setval)$/.test(path.at(-1) ?? '')) sequence(argument, after + 1)
    }
  }
  /** `nextval('ticket')` is the sequence, whatever is looked through: manual, 8.19 Object Identifier Types. */
  function sequence(argument: Token, at: number) {
    const said = textOf(argument, reading.lexis)
    const found = said === undefined ? undefined : reading.lookFor('sequence', reading.cursor(said).path())
    if (!found) return
    const cast = tokens[at + 1]?.text === '::' ? tokens[at + 2] : undefined
    // Named by a text, it is looked for when it is asked: nothing stands on it.
    if (cast?.kind === 'word' && cast.text.toLowerCase() === 'text') {
      const end = cast.at + cast.text.length
      edits.push({ at: argument.at, length: end - argument.at, text: `(${argument.text}::text)::regclass` })
      return
    }
    const to = freeAddress('sequence', found)
    refs.set(addressKey(to), { to })
    const name = `${whole(found.schema) ? `${quote(found.schema)}.` : ''}${quote(found.name)}`
    const text = `'${name.replaceAll("'", "''")}'${cast ? '' : '::regclass'}`
    edits.push({ at: argument.at, length: argument.text.length, text })
  }
  return { edits, refs }
}

/** Those of several functions of a name that take as many arguments; all where none does. */
function fitting(routines: readonly Address[], tokens: readonly Token[], open: number): readonly Address[] {
  if (routines.length < 2) return routines
  let [depth, commas, any] = [0, 0, false]
  for (let i = open; i < tokens.length; i++) {
    const text = tokens[i]?.text
    if (text === '(' || text === '[') depth++
    else if (text === ')' || text === ']') {
      if (--depth === 0) break
    } else {
      any = true
      if (text === ',' && depth === 1) commas++
    }
  }
  const given = any ? commas + 1 : 0
  const fit = routines.filter((routine) => {
    const { name } = namesOf(routine)
    const args = name.slice(name.indexOf('(', bareRoutine(name).length) + 1, -1)
    return (args === '' ? 0 : args.split(',').length) === given
  })
  return fit.length ? fit : routines
}
