// What comes back from a query, field by field.
import type { Options, Right } from '../../catalog'

export type Row = Readonly<Record<string, unknown>>

export const str = (row: Row, key: string): string => String(row[key] ?? '')

export const optional = (row: Row, key: string): string | undefined => {
  const value = row[key]
  return value === null || value === undefined ? undefined : String(value)
}

export const list = (row: Row, key: string): string[] => {
  const value = row[key]
  return Array.isArray(value) ? value.map(String) : []
}

export const rowsOf = (row: Row, key: string): readonly Row[] => {
  const value = row[key]
  return Array.isArray(value) ? (value as Row[]) : []
}

export const inner = (row: Row, key: string): Row | undefined => {
  const value = row[key]
  return typeof value === 'object' && value !== null ? (value as Row) : undefined
}

export const isTrue = (row: Row, key: string): boolean => row[key] === true || row[key] === 'true'

/** `{ [key]: value }`, or nothing when the value is undefined. */
export const some = <K extends string, V>(key: K, value: V | undefined) =>
  value === undefined ? {} : ({ [key]: value } as { [P in K]: V })

/** `{ [key]: true }`, or nothing. */
export const flag = <K extends string>(key: K, value: boolean) => (value ? ({ [key]: true } as { [P in K]: true }) : {})

/** Options with a value; nothing when there are none. */
export function optionsOf(values: Readonly<Record<string, string | undefined>>): { readonly options?: Options } {
  let options: Record<string, string> | undefined
  for (const [name, value] of Object.entries(values)) if (value !== undefined) (options ??= {})[name] = value
  return options ? { options } : {}
}

/** `name=value` as the catalogue lists storage parameters. */
export const parameters = (settings: readonly string[], before = ''): Record<string, string> =>
  Object.fromEntries(
    settings.map((text) => {
      const at = text.indexOf('=')
      return [before + text.slice(0, at), text.slice(at + 1)]
    })
  )

export function rightsOf(row: Row): { readonly rights?: readonly Right[] } {
  const rights = rowsOf(row, 'rights').map((right): Right => ({
    to: str(right, 'to'),
    may: str(right, 'may'),
    ...flag('grantable', isTrue(right, 'grantable')),
    ...flag('revoked', isTrue(right, 'revoked'))
  }))
  return rights.length ? { rights } : {}
}

/** Who owns it and what is said of it. */
export const sayings = (row: Row) => ({
  ...some('comment', optional(row, 'comment')),
  ...some('owner', optional(row, 'owner')),
  ...rightsOf(row)
})

/** Rows by a key of theirs. */
export function groupBy(rows: readonly Row[], key: (row: Row) => string): (value: string) => readonly Row[] {
  const groups = new Map<string, Row[]>()
  for (const row of rows) {
    const value = key(row)
    const group = groups.get(value)
    if (group) group.push(row)
    else groups.set(value, [row])
  }
  return (value) => groups.get(value) ?? []
}

/** A row by what it is a part of and its `number` there. */
export function partsOf(rows: readonly Row[], whole: (row: Row) => string) {
  const found = new Map<string, Map<string, Row>>()
  for (const row of rows) {
    const key = whole(row)
    const parts = found.get(key)
    if (parts) parts.set(str(row, 'number'), row)
    else found.set(key, new Map([[str(row, 'number'), row]]))
  }
  return (key: string, number: unknown): Row | undefined => found.get(key)?.get(String(number))
}
