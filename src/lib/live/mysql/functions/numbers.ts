// "Numeric Functions and Operators" (14.6) and what compares (14.4.2) of MySQL's manual, 8.4.
import { rounded } from '../values'
import { number, text, whole, type Func, type Given } from './given'

/** Digits after rounding, as text: the engine that keeps the rows takes as many as it can. */
function roundedText(value: Given, places: Given = 0): string {
  const to = Math.trunc(number(places))
  const said = typeof value === 'number' ? String(value) : text(value)
  return rounded(said, Math.max(to, 0)) ?? String(number(value))
}

/** "Numeric Functions" (14.6). */
export const NUMBERS: Readonly<Record<string, Func>> = {
  round: whole((a, places) => roundedText(a, places ?? 0)),
  truncate: whole((a, places) => {
    const by = 10 ** number(places)
    return String(Math.trunc(number(a) * by) / by)
  }),
  floor: whole((a) => Math.floor(number(a))),
  ceil: whole((a) => Math.ceil(number(a))),
  ceiling: whole((a) => Math.ceil(number(a))),
  sign: whole((a) => Math.sign(number(a))),
  mod: whole((a, b) => (number(b) === 0 ? null : number(a) % number(b))),
  pow: whole((a, b) => number(a) ** number(b)),
  power: whole((a, b) => number(a) ** number(b)),
  sqrt: whole((a) => (number(a) < 0 ? null : Math.sqrt(number(a)))),
  exp: whole((a) => Math.exp(number(a))),
  ln: whole((a) => (number(a) <= 0 ? null : Math.log(number(a)))),
  log10: whole((a) => (number(a) <= 0 ? null : Math.log10(number(a)))),
  rand: () => Math.random(),
  greatest: whole((...all) => outermost(all, 1)),
  least: whole((...all) => outermost(all, -1)),
  isnull: (a) => (a === null ? 1 : 0)
}

const outermost = (all: readonly Given[], side: 1 | -1): Given =>
  all.reduce((best, one) => {
    const bothNumbers = typeof one === 'number' && typeof best === 'number'
    const more = bothNumbers ? one - best : text(one).localeCompare(text(best))
    return more * side > 0 ? one : best
  })
