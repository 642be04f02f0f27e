// What an object names of the database's own, from the server's record of dependencies: manual, 52.18 pg_depend.
import { addressOf, addressKey, type Address, type Ref } from '../../catalog'
import { groupBy, optional, str, type Row } from './rows'

export interface Answers {
  readonly tables: readonly Row[]
  readonly views: readonly Row[]
  readonly sequences: readonly Row[]
  readonly types: readonly Row[]
  readonly routines: readonly Row[]
  readonly extensionParts: readonly Row[]
  readonly refs: readonly Row[]
}

/** The references of an object by the catalogue that it is in, its number there, and the part of it. */
export type RefsOf = (catalog: string, oid: unknown, part?: unknown) => { readonly refs?: readonly Ref[] }

/** `nameOf`: a column by its table and its number there. */
export function references(answers: Answers, nameOf: (table: unknown, number: unknown) => string): RefsOf {
  const places = new Map<string, Address>()
  const put = (catalog: string, oid: string | undefined, address: Address) => {
    if (oid !== undefined && oid !== '0') places.set(`${catalog} ${oid}`, address)
  }
  const kinds = [
    ['table', answers.tables],
    ['view', answers.views],
    ['sequence', answers.sequences],
    ['type', answers.types],
    ['routine', answers.routines]
  ] as const
  for (const [kind, rows] of kinds)
    for (const row of rows) {
      const address = addressOf(kind, str(row, 'schema'), str(row, 'name'))
      put(kind === 'type' ? 'pg_type' : kind === 'routine' ? 'pg_proc' : 'pg_class', str(row, 'oid'), address)
      // A row's own type, a list of a type, and the columns of a composite one.
      put('pg_type', optional(row, 'row_type'), address)
      put('pg_type', optional(row, 'list'), address)
      put('pg_class', optional(row, 'relation'), address)
    }
  for (const row of answers.extensionParts)
    put(str(row, 'class'), str(row, 'oid'), addressOf('extension', str(row, 'name')))
  const place = (row: Row): Address | undefined => {
    const found = places.get(`${str(row, 'to_class')} ${str(row, 'to_oid')}`)
    const part = Number(row['to_part'])
    if (!found || part === 0 || found.kind !== 'table') return found
    const column = nameOf(row['to_oid'], part)
    return column === '' ? found : addressOf('column', ...found.path, column)
  }
  const byObject = groupBy(answers.refs, (row) => `${str(row, 'class')} ${str(row, 'oid')}`)
  return (catalog, oid, part) => {
    if (oid === null || oid === undefined) return {}
    const found = new Map<string, Ref>()
    const own = places.get(`${catalog} ${String(oid)}`)
    for (const row of byObject(`${catalog} ${String(oid)}`)) {
      if (part !== undefined && Number(row['part']) !== Number(part)) continue
      const to = place(row)
      if (to && !(own && addressKey(own) === addressKey(to))) found.set(addressKey(to), { to })
    }
    return found.size ? { refs: [...found.values()] } : {}
  }
}

/** References of several parts of an object as one list. */
export function together(...parts: readonly { readonly refs?: readonly Ref[] }[]): { readonly refs?: readonly Ref[] } {
  if (parts.every(({ refs }) => refs === undefined)) return {}
  const found = new Map<string, Ref>()
  for (const { refs = [] } of parts) for (const ref of refs) found.set(addressKey(ref.to), ref)
  return found.size ? { refs: [...found.values()] } : {}
}
