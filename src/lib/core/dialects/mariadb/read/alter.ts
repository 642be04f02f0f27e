// ALTER TABLE, part by part: "ALTER TABLE" of the documentation.
import { readPartition } from '../partitions'
import { Cursor, nameOf, type Token } from '../../../sql'
import { Misplaced } from '../../structure'
import { mariadbLexis } from '../lexis'
import { readMember } from './constraints'
import type { ReadTable } from './tables'

/** Names are read as they are spelled. */
const lexis = { ...mariadbLexis, fold: (name: string) => name }
const small = mariadbLexis.fold

/** What a change of one table has to do with others. */
export interface Around {
  /** Whether a foreign key has this name. */
  readonly isNamed: (name: string) => boolean
  readonly rename: (table: ReadTable, to: string) => void
  readonly parted: (table: ReadTable) => void
}

/** One part of ALTER TABLE. */
export function changeTable(table: ReadTable, item: Cursor, around: Around): void {
  if (item.take('add')) return added(table, item, around)
  if (item.take('drop')) return dropped(table, item)
  if (item.take('modify')) {
    item.take('column')
    item.take('if', 'exists')
    return restated(table, item, item.copy().name(), around)
  }
  if (item.take('change')) {
    item.take('column')
    item.take('if', 'exists')
    return restated(table, item, item.name(), around)
  }
  if (item.take('alter')) {
    item.take('column')
    const name = item.name()
    const column = table.column(name)
    const { default: _default, ...bare } = column
    const said = item.take('set') ? ` ${item.rest()}` : ''
    const read = said === '' ? undefined : table.read(new Cursor(`x ${typeWords(column)}${said}`, lexis))
    table.columns = table.columns.map((one) =>
      one === column
        ? { ...bare, ...(read?.column.default === undefined ? {} : { default: read.column.default }) }
        : one
    )
    return
  }
  if (item.take('rename', 'column')) {
    const from = item.name()
    item.expect('to')
    return table.renameColumn(from, item.name())
  }
  if (item.take('rename', 'index') || item.take('rename', 'key')) {
    const from = item.name()
    item.expect('to')
    return table.renameIndex(from, item.name())
  }
  if (item.take('rename')) {
    item.takeOne('to', 'as')
    return around.rename(table, item.path().at(-1) ?? '')
  }
  if (item.take('partition', 'by')) {
    table.parted = readPartition(item)
    return
  }
  if (item.take('remove', 'partitioning')) {
    table.parted = undefined
    return
  }
  if (item.take('convert', 'to')) return table.readOptions(item, true)
  if (item.takeOne('disable', 'enable', 'force', 'algorithm', 'lock', 'order', 'discard', 'import', 'wait', 'nowait'))
    return
  table.readOptions(item)
  item.finish()
}

function added(table: ReadTable, item: Cursor, around: Around) {
  if (item.take('partition')) return around.parted(table)
  const isColumn = item.take('column')
  item.take('if', 'not', 'exists')
  if (item.word() === '(') {
    for (const part of item.group().parts()) table.add(part, around.isNamed)
    return
  }
  const kind = item.word()
  if (
    !isColumn &&
    ['constraint', 'primary', 'unique', 'key', 'index', 'fulltext', 'spatial', 'foreign', 'check'].includes(kind)
  )
    return table.addMember(readMember(item), around.isNamed)
  const { own, at } = placed(table, item)
  table.addColumn(table.read(own), around.isNamed, at)
}

/** A column's definition without where it is to stand, and that place. */
function placed(table: ReadTable, item: Cursor): { own: Cursor; at: number } {
  const left = item.left()
  const [before, last] = [left.at(-2), left.at(-1)]
  const upTo = (token: Token) => new Cursor(item.rest().slice(0, token.at - (left[0]?.at ?? 0)), lexis)
  const is = (token: Token | undefined, word: string) => token?.kind === 'word' && token.text.toLowerCase() === word
  if (last && is(last, 'first')) return { own: upTo(last), at: 0 }
  if (!before || !last || !is(before, 'after')) return { own: item, at: table.columns.length }
  return { own: upTo(before), at: table.columns.indexOf(table.column(nameOf(last, lexis) ?? '')) + 1 }
}

function restated(table: ReadTable, item: Cursor, old: string, around: Around) {
  const before = table.columns.indexOf(table.column(old))
  const { own, at } = placed(table, item)
  const moves = own.rest().length < item.rest().length
  table.replaceColumn(old, table.read(own), around.isNamed)
  if (!moves) return
  const [column] = table.columns.splice(before, 1)
  if (column) table.columns.splice(at > before ? at - 1 : at, 0, column)
}

function dropped(table: ReadTable, item: Cursor) {
  const missing = (what: string, name: string) =>
    new Misplaced(
      what === 'check' ? 'no check' : 'nothing to remove',
      name,
      `${table.name} has no ${what} ${name} by then.`
    )
  if (item.take('primary', 'key')) return table.dropPrimary()
  const kind = item.take('foreign', 'key')
    ? 'foreign key'
    : item.takeOne('index', 'key', 'constraint', 'check', 'column', 'partition')
  const gently = item.take('if', 'exists')
  const name = item.name()
  if (kind === 'partition') return
  const gone =
    kind === 'foreign key'
      ? table.dropLink(name)
      : kind === 'index' || kind === 'key'
        ? table.dropIndex(name)
        : kind === 'constraint' || kind === 'check'
          ? table.dropLink(name) || table.dropCheck(name) || table.dropIndex(name)
          : undefined
  if (gone === false && !gently) throw missing(kind === 'foreign key' || kind === 'check' ? kind : 'index', name)
  if (gone !== undefined) return
  const isThere = table.columns.some((one) => small(one.name) === small(name))
  if (!isThere && !gently) throw missing('column', name)
  if (isThere) table.dropColumn(name)
}

const typeWords = ({
  type
}: {
  readonly type: { readonly name: string; readonly args?: readonly string[] }
}): string => (type.args ? `${type.name}(${type.args.join(',')})` : type.name)
