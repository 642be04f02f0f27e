// What the embedded engine that keeps the rows hands to a function, as MySQL takes it.
import { printed, type Value } from '../values'

/** What the embedded engine hands to a function, and takes from it. */
export type Given = null | number | string | Uint8Array
export type Func = (...given: Given[]) => Given | bigint | boolean

const utf8 = new TextEncoder()
export const text = (value: Given): string =>
  value instanceof Uint8Array
    ? new TextDecoder().decode(value)
    : typeof value === 'number'
      ? printed(value)
      : (value ?? '')
/** A text's number is what it begins with ("Type Conversion in Expression Evaluation", 14.3). */
export const number = (value: Given): number =>
  typeof value === 'number' ? value : Number(/^\s*[-+]?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?/.exec(text(value))?.[0] ?? 0)
export const bytes = (value: Given): Uint8Array => (value instanceof Uint8Array ? value : utf8.encode(text(value)))
/** Bytes in capital digits. */
export const hex = (value: Uint8Array): string =>
  [...value]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('')
    .toUpperCase()

/** Of nothing there is nothing. */
export const whole =
  (func: Func): Func =>
  (...given) =>
    given.includes(null) ? null : func(...given)

/** Bytes as the characters that they are; nothing where they are none. */
export const decoded = (value: Given): string | undefined => {
  try {
    return value instanceof Uint8Array ? new TextDecoder('utf-8', { fatal: true }).decode(value) : text(value)
  } catch {
    return undefined
  }
}

/** A value of the engine that keeps the rows, by the sort that it has there. */
export const valueOf = (sort: Given, value: Given): Value =>
  value === null ? null : sort === 'integer' ? BigInt(text(value)) : value
