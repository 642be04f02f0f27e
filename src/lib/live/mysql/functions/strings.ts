// "String Functions and Operators" (14.8) of MySQL's manual, 8.4.
import { bytes, hex, number, text, whole, type Func, type Given } from './given'

const characters = (value: Given): string[] => [...text(value)]
const fill = (value: Given, length: Given, by: Given, isLeft: boolean): string => {
  const [own, filler] = [characters(value), characters(by)]
  const lacking = number(length) - own.length
  if (lacking <= 0 || filler.length === 0) return own.slice(0, number(length)).join('')
  const more = Array.from({ length: lacking }, (_, i) => filler[i % filler.length] ?? '')
  return (isLeft ? [...more, ...own] : [...own, ...more]).join('')
}

/** "String Functions" (14.8). */
export const STRINGS: Readonly<Record<string, Func>> = {
  length: whole((a) => bytes(a).length),
  octet_length: whole((a) => bytes(a).length),
  bit_length: whole((a) => bytes(a).length * 8),
  upper: whole((a) => text(a).toUpperCase()),
  ucase: whole((a) => text(a).toUpperCase()),
  lower: whole((a) => text(a).toLowerCase()),
  lcase: whole((a) => text(a).toLowerCase()),
  concat: whole((...all) => all.map(text).join('')),
  concat_ws: (mark, ...all) =>
    mark === null
      ? null
      : all
          .filter((one) => one !== null)
          .map(text)
          .join(text(mark)),
  hex: whole((a) => (typeof a === 'number' ? BigInt(Math.trunc(a)).toString(16).toUpperCase() : hex(bytes(a)))),
  unhex: whole((a) => {
    const said = text(a)
    if (!/^([0-9a-fA-F]{2})*$/.test(said)) return null
    return Uint8Array.from(said.match(/../g) ?? [], (pair) => parseInt(pair, 16))
  }),
  left: whole((a, n) =>
    characters(a)
      .slice(0, Math.max(0, number(n)))
      .join('')
  ),
  right: whole((a, n) => (number(n) <= 0 ? '' : characters(a).slice(-number(n)).join(''))),
  lpad: whole((a, n, by = ' ') => fill(a, n, by, true)),
  rpad: whole((a, n, by = ' ') => fill(a, n, by, false)),
  ltrim: whole((a) => text(a).replace(/^ +/, '')),
  rtrim: whole((a) => text(a).replace(/ +$/, '')),
  trim: whole((a, what, side) => {
    let said = text(a)
    const mark = text(what ?? '')
    if (mark === '') return said
    if (side !== 'trailing') while (said.startsWith(mark)) said = said.slice(mark.length)
    if (side !== 'leading') while (said.endsWith(mark)) said = said.slice(0, -mark.length)
    return said
  }),
  locate: whole(
    (what, a, from = 1) =>
      text(a)
        .toLowerCase()
        .indexOf(text(what).toLowerCase(), number(from) - 1) + 1
  ),
  substring_index: whole((a, mark, n) => {
    const parts = text(a).split(text(mark))
    const count = number(n)
    return (count >= 0 ? parts.slice(0, count) : parts.slice(count)).join(text(mark))
  }),
  repeat: whole((a, n) => text(a).repeat(Math.max(0, number(n)))),
  reverse: whole((a) => characters(a).reverse().join('')),
  space: whole((n) => ' '.repeat(Math.max(0, number(n)))),
  ascii: whole((a) => bytes(a)[0] ?? 0),
  strcmp: whole((a, b) => text(a).localeCompare(text(b))),
  field: (a, ...list) =>
    a === null ? 0 : list.findIndex((one) => one !== null && text(one).toLowerCase() === text(a).toLowerCase()) + 1,
  elt: (n, ...list) => (n === null ? null : (list[number(n) - 1] ?? null)),
  find_in_set: whole((a, list) => text(list).split(',').indexOf(text(a)) + 1),
  regexp_like: whole((a, pattern) => regexp(pattern, a)),
  char: (...codes) => String.fromCodePoint(...codes.filter((one) => one !== null).map(number))
}

/** "REGEXP": letters of both sorts alike. */
export const regexp = (pattern: Given, a: Given): boolean =>
  new RegExp(
    text(pattern)
      .replace(/\[\[:space:\]\]/g, '\\s')
      .replace(/\[:space:\]/g, '\\s')
      .replace(/\[:alnum:\]/g, 'a-zA-Z0-9')
      .replace(/\[:alpha:\]/g, 'a-zA-Z')
      .replace(/\[:digit:\]/g, '0-9')
      .replace(/\[:upper:\]/g, 'A-Z')
      .replace(/\[:lower:\]/g, 'a-z')
      .replace(/\[:punct:\]/g, '!-/:-@[-`{-~'),
    'iu'
  ).test(text(a))

/** "LIKE": letters of both sorts alike, a backslash before a sign that is meant as such. */
export const like = (pattern: Given, a: Given, escape: Given = '\\'): boolean => {
  const mark = text(escape)
  let said = ''
  const signs = characters(pattern)
  for (let i = 0; i < signs.length; i++) {
    const sign = signs[i] ?? ''
    if (sign === mark && i + 1 < signs.length) said += plain(signs[++i] ?? '')
    else said += sign === '%' ? '[\\s\\S]*' : sign === '_' ? '[\\s\\S]' : plain(sign)
  }
  return new RegExp(`^${said}$`, 'iu').test(text(a))
}
const plain = (sign: string): string => sign.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&')
