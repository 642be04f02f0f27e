// Views, and what is said of their columns: manual, CREATE VIEW, CREATE MATERIALIZED VIEW and their ALTER.
import { namesOf, propertyOf, type ColumnNote, type Options, type View } from '../../../catalog'
import type { Carried, StepDraft, Writer } from '../../dialect'
import { literal, viewStatement } from '../../standard'
import { postgresOptions } from '../options'
import { parameterList, withParameters } from '../write'
import { hasRight, type Words } from './words'

/** Options for which a view is made again. */
const FIXED = postgresOptions.flatMap(({ name, on, changes }) =>
  changes === 'again' && on.includes('view') ? [name] : []
)

export function viewCarrier(write: Writer, { quote, freeName, what, more, asOne, who }: Words) {
  const viewOf = (view: View): string => {
    const { tablespace, 'access method': method } = view.options ?? {}
    const options =
      (method === undefined ? '' : ` USING ${quote(method)}`) +
      withParameters(view.options) +
      (tablespace === undefined ? '' : ` TABLESPACE ${quote(tablespace)}`)
    return viewStatement(view, write, options) + (view.options?.['no data'] ? '\nWITH NO DATA' : '')
  }

  /** What is said of a view's columns. */
  const notes = (object: Carried, to: readonly ColumnNote[] | undefined): StepDraft[] => {
    const from = (propertyOf(object.value, 'notes') as readonly ColumnNote[] | undefined) ?? []
    const name = freeName(object)
    const column = (of: string) => `${name}.${quote(of)}`
    const was = new Map(from.map((note) => [note.name, note]))
    const is = new Map((to ?? []).map((note) => [note.name, note]))
    const statements = [...new Set([...was.keys(), ...is.keys()])].flatMap((key) => {
      const [a, b] = [was.get(key), is.get(key)]
      const found: string[] = []
      if (a?.default !== b?.default)
        found.push(
          `ALTER VIEW ${name} ALTER COLUMN ${quote(key)} ${b?.default === undefined ? 'DROP DEFAULT' : `SET DEFAULT ${b.default}`}`
        )
      if (a?.comment !== b?.comment)
        found.push(`COMMENT ON COLUMN ${column(key)} IS ${b?.comment === undefined ? 'NULL' : literal(b.comment)}`)
      for (const right of a?.rights ?? [])
        if (!hasRight(b?.rights, right)) found.push(`REVOKE ${right.may} (${quote(key)}) ON ${name} FROM ${who(right)}`)
      for (const right of b?.rights ?? [])
        if (!hasRight(a?.rights, right))
          found.push(
            `GRANT ${right.may} (${quote(key)}) ON ${name} TO ${who(right)}${right.grantable ? ' WITH GRANT OPTION' : ''}`
          )
      return found
    })
    return statements.map((statement, i) =>
      i === statements.length - 1
        ? more(object, statement, 'notes', to)
        : { statement, why: `describes ${namesOf(object.address).name}`, effects: [], hazards: [], undo: [] }
    )
  }

  const alterView = (
    object: Carried & { readonly kind: 'view' },
    property: string,
    to: unknown
  ): StepDraft[] | undefined => {
    if (property === 'notes') return notes(object, to as readonly ColumnNote[] | undefined)
    if (property !== 'options') return undefined
    const [from, now] = [object.value.options ?? {}, (to as Options | undefined) ?? {}]
    if (FIXED.some((name) => from[name] !== now[name])) return undefined
    const gone = Object.keys(from).filter((name) => !(name in now))
    const set = parameterList(Object.fromEntries(Object.entries(now).filter(([name, value]) => from[name] !== value)))
    const alter = `ALTER ${what(object)}`
    return asOne(
      object,
      [
        ...(gone.length ? [`${alter} RESET (${gone.join(', ')})`] : []),
        ...(set === '' ? [] : [`${alter} SET (${set})`])
      ],
      'options',
      to,
      []
    )
  }

  return { viewOf, notes, alterView }
}
