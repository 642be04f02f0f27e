// Types as statements say them: "Data Types and Subtypes". A name that is no type is a domain's.
import { readType, type DataType } from '../../../catalog'
import type { Cursor } from '../../../sql'
import type { TypeSystem } from '../../dialect'

const OWN =
  /^(smallint|int|integer|bigint|int128|float|real|double|decfloat|numeric|decimal|dec|char|character|varchar|nchar|national|binary|varbinary|boolean|date|time|timestamp|blob|long)$/
const MORE: Readonly<Record<string, readonly string[]>> = {
  double: ['precision'],
  long: ['float'],
  char: ['varying'],
  character: ['varying'],
  national: ['character', 'char', 'varying'],
  nchar: ['varying']
}

/** "BLOB": by its number or its name; how large its segments are is nobody's to see. */
function blob(item: Cursor): string {
  let sub = '0'
  if (item.word() === '(') {
    const [, second = '0'] = item.inside().split(',')
    sub = second.trim()
  }
  if (item.take('sub_type')) sub = `${item.takeOne('-') ?? ''}${item.next()}`.toLowerCase()
  if (item.take('segment', 'size')) item.next()
  return sub === '0' || sub === 'binary' ? 'blob' : `blob sub_type ${sub === '1' ? 'text' : sub}`
}

/** From here on: the type, with its character set and the bounds of an array. */
export function readTypeAt(item: Cursor, types: TypeSystem): DataType {
  if (!OWN.test(item.word())) return { name: item.name(), schema: 'main' }
  const first = item.next().toLowerCase()
  let text = first
  if (first === 'blob') text = blob(item)
  else {
    for (const word of MORE[first] ?? []) if (item.take(word)) text += ` ${word}`
    if (item.word() === '(') text += `(${item.inside().replace(/\s+/g, '')})`
    if (item.take('with', 'time', 'zone')) text += ' with time zone'
    else item.take('without', 'time', 'zone')
  }
  const isNational = /^(national|nchar)/.test(text)
  text = text.replace(/^(national (character|char)|nchar)( varying)?/, (_, _kind, _name, varying?: string) =>
    varying ? 'varchar' : 'char'
  )
  if (item.take('character', 'set')) text += ` character set ${item.name().toLowerCase()}`
  else if (isNational) text += ' character set iso8859_1'
  const type = types.read(text)
  const bounds = arrayAt(item)
  return bounds === '' ? type : readType(`${textOf(type)} [${bounds}]`)
}

const textOf = ({ name, args, more }: DataType): string =>
  `${name}${args ? `(${args.join(',')})` : ''}${more === undefined ? '' : ` ${more}`}`

/** `[5]` goes from 1; `[2:4,3]` has two dimensions. */
function arrayAt(item: Cursor): string {
  if (item.word() !== '[') return ''
  item.next()
  const dimensions: string[] = []
  let said = ''
  while (!item.done) {
    const word = item.next()
    if (word === ',' || word === ']') {
      dimensions.push(said.includes(':') ? said : `1:${said}`)
      said = ''
      if (word === ']') break
    } else said += word
  }
  return dimensions.join(',')
}
