// Columns as CREATE TABLE and ALTER TABLE say them: "CREATE TABLE", "Column Definitions", and what the server makes of each type.
import type { Check, Column, DataType, ForeignKey, Options } from '../../../catalog'
import { textOf, NotUnderstood, type Cursor } from '../../../sql'
import { mariadbLexis } from '../lexis'
import { typeOf } from '../types'
import { asShown, isText, literal, ON_UPDATE, WITH_COLUMN } from '../words'
import { binaryOf, collationNamed, collationOf } from './charsets'
import { references } from './constraints'

/** What a column says that is not its own. */
export interface ReadColumn {
  readonly column: Column
  readonly key?: 'primary' | 'unique'
  readonly check?: Check
  readonly link?: Omit<ForeignKey, 'name'>
  readonly linkName?: string
}

const NUMBERS = /^(tinyint|smallint|mediumint|int|bigint|decimal|float|double)\b/
const isNumeric = ({ name }: DataType): boolean => NUMBERS.test(name)
const ENDS = new Set(
  (
    'not null default auto_increment unique primary key comment collate character charset generated as check references on constraint ' +
    'virtual persistent stored invisible visible first after column_format storage unsigned signed zerofill binary ascii unicode byte without with ref_system_id serial compressed'
  ).split(' ')
)

/** "String Data Types", "Numeric Data Type Overview": names that stand for others, and lengths that choose a type. */
function nameOfType(words: string, args: string | undefined): string {
  const said = words.replace(/^national\s+/, '').replace(/\s+/g, ' ')
  const whole = args === undefined ? said : `${said}(${args})`
  if (/^(char varying|character varying|nvarchar|nchar varchar|nchar varying|varcharacter)$/.test(said))
    return `varchar(${args ?? ''})`
  if (/^(character|nchar)$/.test(said)) return `char(${args ?? '1'})`
  if (/^(boolean|bool)$/.test(said)) return 'tinyint(1)'
  if (said === 'int1') return 'tinyint'
  if (said === 'int2') return 'smallint'
  if (said === 'int3' || said === 'middleint') return 'mediumint'
  if (said === 'int4') return 'int'
  if (said === 'int8') return 'bigint'
  if (said === 'real' || said === 'float8') return args === undefined ? 'double' : `double(${args})`
  if (said === 'float4') return 'float'
  if (said === 'long varchar' || said === 'long') return 'mediumtext'
  if (said === 'long varbinary') return 'mediumblob'
  if (said === 'char byte') return `binary(${args ?? '1'})`
  if (said === 'bit' || said === 'binary') return `${said}(${args ?? '1'})`
  if (said === 'year') return 'year(4)'
  if (said === 'float' && args !== undefined && !args.includes(',')) return Number(args) > 24 ? 'double' : 'float'
  if ((said === 'text' || said === 'blob') && args !== undefined) {
    // A text of a length in characters is the least that holds as many in four bytes each.
    const bytes = Number(args) * (said === 'text' ? 4 : 1)
    return (bytes < 256 ? 'tiny' : bytes < 65_536 ? '' : bytes < 16_777_216 ? 'medium' : 'long') + said
  }
  return whole
}

/** A default as the server prints it: a number without quotes and with all of its digits, a moment by its function. */
function defaultOf(item: Cursor, type: DataType): string | undefined {
  if (item.word() === '(') return item.inside()
  if (item.take('null')) return undefined
  const moment = item.takeOne('current_timestamp', 'now', 'localtime', 'localtimestamp')
  if (moment !== undefined) return momentOf(item, type)
  const date = item.takeOne('curdate', 'current_date')
  if (date !== undefined) {
    if (item.word() === '(') item.inside()
    return 'curdate()'
  }
  const sign = item.takeOne('-', '+') ?? ''
  const next = item.left()[0]
  // `b'0'`, `x'00'`, `_utf8'…'` are one token; so is a text.
  const raw = item.next()
  const call = item.word() === '(' ? `(${item.inside()})` : ''
  const text = next && textOf(next, mariadbLexis)
  const said = text ?? sign + raw + call
  if (isNumeric(type) && /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(said)) {
    const scale = type.name === 'decimal' ? Number(type.args?.[1] ?? 0) : undefined
    return scale === undefined ? String(Number(said)) : Number(said).toFixed(scale)
  }
  if (isNumeric(type) && /^(true|false)$/i.test(said)) return /^true$/i.test(said) ? '1' : '0'
  // "BINARY": filled up with zeros.
  if (text !== undefined && type.name === 'binary') {
    const lacking = Number(type.args?.[0] ?? 1) - text.length
    return `${literal(text).slice(0, -1)}${'\\0'.repeat(Math.max(0, lacking))}'`
  }
  if (text !== undefined) return asShown(literal(text), type)
  // A number for a column of text is a text.
  return isText(type) && /^[-+]?\d/.test(said) ? literal(said) : said
}

/** "Microseconds in MariaDB": a moment has as many digits as its column. */
function momentOf(item: Cursor, { args }: DataType): string {
  const said = item.word() === '(' ? item.inside() : ''
  return `current_timestamp(${args?.[0] ?? said})`
}

export function readColumn(item: Cursor, tableCollation: string, wide: string): ReadColumn {
  const name = item.name()
  let words = item.next().toLowerCase()
  while (!item.done && item.word() !== '(' && /^[a-z]/.test(item.word()) && !ENDS.has(item.word()))
    words += ` ${item.next().toLowerCase()}`
  const args = item.word() === '(' ? item.inside() : undefined
  const serial = words === 'serial'
  let suffix = ''
  let collation = tableCollation
  let [charset, collated]: (string | undefined)[] = []
  let bin = false
  for (;;) {
    if (item.take('unsigned')) suffix = ' unsigned' + suffix.replace(' unsigned', '')
    else if (item.take('zerofill')) suffix = ' unsigned zerofill'
    else if (item.take('signed')) continue
    else if (item.take('character', 'set') || item.take('charset')) charset = item.nameOrText()
    else if (item.take('collate')) collated = item.nameOrText()
    else if (item.take('ascii')) charset = 'latin1'
    else if (item.take('unicode')) charset = 'ucs2'
    else if (item.take('binary')) bin = true
    else break
  }
  if (/^(national|nchar|nvarchar)/.test(words)) charset = 'utf8'
  let type = typeOf(serial ? 'bigint unsigned' : nameOfType(words, args) + suffix)
  let column: Column = { name, type, nullable: true }
  const options: Record<string, string> = {}
  const rest: { key?: 'primary' | 'unique'; check?: Check; link?: Omit<ForeignKey, 'name'>; linkName?: string } = {}
  if (serial) {
    column = { ...column, nullable: false, identity: 'by default' }
    rest.key = 'unique'
  }
  while (!item.done) {
    const label = item.take('constraint')
      ? ['check', 'references', 'unique', 'primary'].includes(item.word())
        ? ''
        : item.name()
      : ''
    if (item.take('not', 'null')) column = { ...column, nullable: false }
    else if (item.take('null')) column = { ...column, nullable: true }
    else if (item.take('default')) {
      const value = defaultOf(item, type)
      if (value !== undefined) column = { ...column, default: value }
    } else if (item.take('on', 'update')) {
      item.next()
      options[ON_UPDATE] = momentOf(item, type)
    } else if (item.take('auto_increment')) column = { ...column, identity: 'by default', nullable: false }
    else if (item.take('serial', 'default', 'value')) {
      column = { ...column, identity: 'by default', nullable: false }
      rest.key = 'unique'
    } else if (item.take('primary', 'key') || item.take('primary') || item.take('key')) rest.key = 'primary'
    else if (item.take('unique')) {
      item.take('key')
      rest.key = 'unique'
    } else if (item.take('comment')) {
      const said = item.nameOrText()
      if (said !== '') column = { ...column, comment: said }
    } else if (item.take('collate')) collated = item.nameOrText()
    else if (item.take('character', 'set') || item.take('charset')) charset = item.nameOrText()
    else if (item.take('generated', 'always', 'as') || item.take('as')) {
      column = { ...column, generated: item.inside(), virtual: true }
    } else if (item.takeOne('stored', 'persistent')) {
      const { virtual: _virtual, ...stored } = column
      column = stored
    } else if (item.takeOne('virtual', 'visible')) continue
    else if (item.take('invisible')) options['invisible'] = 'yes'
    else if (item.take('check'))
      rest.check = {
        name: label === '' ? name : label,
        expression: item.inside(),
        ...(label === '' ? { options: { [WITH_COLUMN]: 'yes' } } : {})
      }
    else if (item.word() === 'references') {
      // "Foreign Keys": what is said beside a column is held since 10.5.
      rest.link = references(item, [name])
      if (label !== '') rest.linkName = label
    } else if (item.takeOne('column_format', 'storage')) item.next()
    else if (item.take('binary')) bin = true
    else throw new NotUnderstood(`Nothing is known of what is said of ${name} from “${item.rest().slice(0, 40)}” on.`)
  }
  if (isText(type)) {
    if (charset !== undefined) collation = collationOf(charset, wide)
    if (collated !== undefined) collation = collationNamed(collated)
    if (bin) collation = binaryOf(collation)
    if (collation === 'binary') type = inBytes(type)
    else if (collation !== tableCollation) column = { ...column, collation }
  }
  const held: Options = options
  return { column: { ...column, type, ...(Object.keys(held).length > 0 ? { options: held } : {}) }, ...rest }
}

/** "binary": text of that character set is bytes. */
const inBytes = (type: DataType): DataType => ({
  ...type,
  name: type.name
    .replace(/^varchar$/, 'varbinary')
    .replace(/^char$/, 'binary')
    .replace(/text$/, 'blob')
})
