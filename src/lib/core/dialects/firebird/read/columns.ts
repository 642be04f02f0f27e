// Columns as CREATE TABLE and ALTER TABLE say them, and the type of what is computed and says none.
import type { Column, ForeignKey } from '../../../catalog'
import { NotUnderstood, significant, textOf, type Cursor, type Lexis } from '../../../sql'
import type { TypeSystem } from '../../dialect'
import { references } from './constraints'
import { readTypeAt } from './types'

/** What a column says that is not its own. */
export interface ReadColumn {
  readonly column: Column
  readonly members: readonly {
    readonly name?: string
    readonly kind: 'primary' | 'unique' | 'check' | 'foreign'
    readonly expression?: string
    readonly fk?: Omit<ForeignKey, 'name'>
  }[]
}

export interface Telling {
  readonly types: TypeSystem
  readonly lexis: Lexis
  /** The columns that are known by then. */
  readonly known: readonly Column[]
  /** What a domain is made of. */
  baseOf(column: Column): Column['type']
}

const STOPS = new Set([
  'not',
  'null',
  'constraint',
  'primary',
  'unique',
  'references',
  'check',
  'collate',
  'generated',
  'computed'
])

export function readColumn(item: Cursor, telling: Telling): ReadColumn {
  const name = item.name()
  const isBare =
    item.is('computed') ||
    (item.is('generated') && item.word(1) === 'always' && item.word(2) === 'as' && item.word(3) === '(')
  const type = isBare ? undefined : readTypeAt(item, telling.types)
  let column: Column = { name, type: type ?? { name: '' }, nullable: true }
  const members: ReadColumn['members'][number][] = []
  while (!item.done) {
    const label = item.take('constraint') ? { name: item.name() } : {}
    if (item.take('not', 'null')) column = { ...column, nullable: false }
    else if (item.take('null')) continue
    else if (item.take('default')) column = { ...column, default: item.until(STOPS) }
    else if (item.take('primary', 'key')) {
      members.push({ kind: 'primary', ...label })
      column = { ...column, nullable: false }
    } else if (item.take('unique')) members.push({ kind: 'unique', ...label })
    else if (item.take('check')) members.push({ kind: 'check', expression: item.inside(), ...label })
    else if (item.word() === 'references') members.push({ kind: 'foreign', fk: references(item, [name]), ...label })
    else if (item.take('using')) usingIndex(item)
    else if (item.take('collate')) column = { ...column, collation: item.name() }
    else if (item.take('generated', 'by', 'default', 'as', 'identity')) {
      if (item.word() === '(') item.inside()
      column = { ...column, identity: 'by default', nullable: false }
    } else if (item.take('generated', 'always', 'as', 'identity')) {
      if (item.word() === '(') item.inside()
      column = { ...column, identity: 'always', nullable: false }
    } else if (item.take('generated', 'always', 'as') || item.take('computed', 'by') || item.take('computed'))
      column = { ...column, generated: item.inside() }
    else throw new NotUnderstood(`Nothing is known of what is said of ${name} from “${item.rest().slice(0, 40)}” on.`)
  }
  if (column.generated !== undefined && type === undefined)
    column = { ...column, type: computedType(name, column.generated, telling) }
  return { column, members }
}

/** "CONSTRAINT … USING INDEX": what the index is called that a key has. */
export function usingIndex(item: Cursor): void {
  item.takeOne('asc', 'ascending', 'desc', 'descending')
  item.expect('index')
  item.name()
}

/** "Data Types of Expressions", for what is put together or reckoned of columns; of anything else only the engine knows the type. */
function computedType(name: string, expression: string, { types, lexis, known, baseOf }: Telling): Column['type'] {
  const tokens = significant(expression, lexis)
  const own = tokens.flatMap((token) => {
    const named = known.find(
      (column) => column.name === lexis.fold(token.text.replaceAll('"', ''), token.text.startsWith('"'))
    )
    return named && textOf(token, lexis) === undefined ? [baseOf(named)] : []
  })
  const isCalled = tokens.some(
    ({ kind, text }, i) => kind === 'word' && tokens[i + 1]?.text === '(' && !/^(and|or)$/i.test(text)
  )
  const operators = tokens.flatMap(({ text }) => (/^(\|\||[-+*/])$/.test(text) ? [text] : []))
  const only = (test: RegExp) => own.length > 0 && own.every((type) => test.test(type.name))
  if (!isCalled && operators.includes('||') && only(/^(var)?char$/)) {
    const literals = tokens.reduce((sum, token) => sum + (textOf(token, lexis)?.length ?? 0), 0)
    const length = own.reduce((sum, { args = [] }) => sum + Number(args[0] ?? 0), literals)
    return types.read(`varchar(${length})`)
  }
  if (!isCalled && operators.length > 0) {
    if (own.some((type) => /^(float|double precision)$/.test(type.name))) return types.read('double precision')
    if (only(/^(date|timestamp)$/) && operators.join() === '-') return types.read('numeric(18,9)')
    if (only(/^(smallint|integer|bigint|numeric|decimal)$/)) {
      const scales = own.map(({ args = [] }) => Number(args[1] ?? 0))
      const scale = operators.some((one) => /[*/]/.test(one)) ? scales.reduce((a, b) => a + b, 0) : Math.max(...scales)
      return types.read(scale === 0 && own.every((type) => !type.args) ? 'bigint' : `numeric(18,${scale})`)
    }
  }
  throw new NotUnderstood(`Of which type ${name} is, only the engine knows: say it before COMPUTED.`)
}
