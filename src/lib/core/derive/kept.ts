// What an engine cannot keep of a catalogue, or keeps otherwise, in words: nothing of it is changed without one.
import { findTable, type Catalog, type Table } from '../catalog'
import type { Notice } from '../notice'

/** Holds what is wanted against what the dialect settled it to; `engine` is its label. */
export function notKept(wanted: Catalog, settled: Catalog, engine: string): Notice[] {
  const views = (wanted.views ?? []).filter(({ name }) => !(settled.views ?? []).some((view) => view.name === name))
  return [
    ...wanted.tables.flatMap((table) => {
      const held = findTable(settled, table.schema, table.name)
      return held ? [...actions(table, held, engine), ...leftOut(table, held, engine)] : []
    }),
    ...views.map(({ origin, name }) =>
      warning('not-kept', origin, `${name} is left out: ${engine} cannot read its query.`)
    )
  ]
}

const warning = (code: string, origin: { readonly id: string } | undefined, message: string): Notice => ({
  code,
  severity: 'warning',
  message,
  ...(origin ? { where: origin.id } : {})
})

const named = <T extends { readonly name: string }>(list: readonly T[], name: string) =>
  list.find((item) => item.name === name)

/** What happens to a row whose parent goes. */
function actions(table: Table, held: Table, engine: string): Notice[] {
  return table.foreignKeys.flatMap((fk) =>
    (['onDelete', 'onUpdate'] as const).flatMap((what) => {
      const now = named(held.foreignKeys, fk.name)?.[what]
      if (now === undefined || now === fk[what]) return []
      const when = what === 'onDelete' ? 'on delete' : 'on update'
      return [
        warning(
          'link-action-changed',
          fk.origin,
          `${engine} cannot do “${fk[what]}” ${when} here: ${table.name} gets “${now}”.`
        )
      ]
    })
  )
}

/** Rules and numbering. */
function leftOut(table: Table, held: Table, engine: string): Notice[] {
  const ways = (parts: readonly { readonly descending: boolean }[]) =>
    new Set(parts.map((part) => part.descending)).size
  const say = (origin: { readonly id: string } | undefined, message: string) => warning('not-kept', origin, message)
  return [
    ...table.columns
      .filter((column) => column.identity && !named(held.columns, column.name)?.identity)
      .map(({ origin, name }) =>
        say(origin, `${engine} cannot number ${table.name}.${name}: whoever adds a row must give the number.`)
      ),
    ...table.uniques
      .filter(({ name }) => !named(held.uniques, name) && !named(held.indexes, name))
      .map(({ origin, name }) => say(origin, `${name} is left out: ${engine} keeps the same columns as a key once.`)),
    ...table.foreignKeys
      .filter(({ name }) => !named(held.foreignKeys, name))
      .map(({ origin, references }) =>
        say(origin, `${engine} does not check the link from ${table.name} to ${references.table}: whoever writes does.`)
      ),
    ...table.checks
      .filter(({ name }) => !named(held.checks, name))
      .map(({ origin, name }) => say(origin, `${name} is left out: ${engine} has no words for it.`)),
    ...table.foreignKeys
      .filter((fk) => fk.deferrable !== 'no' && named(held.foreignKeys, fk.name)?.deferrable === 'no')
      .map(({ origin, name }) =>
        say(origin, `${engine} cannot put ${name} off to the end of a transaction: it is asked at once.`)
      ),
    ...table.indexes
      .filter(({ name }) => !named(held.indexes, name))
      .map(({ origin, name }) => say(origin, `${name} is left out: ${engine} has one index of the same columns.`)),
    ...table.indexes
      .filter(({ name, where }) => where !== undefined && named(held.indexes, name)?.where === undefined)
      .map(({ origin, name }) => say(origin, `${name} is of all rows: ${engine} cannot read its condition.`)),
    ...table.indexes
      .filter(({ name, parts }) => ways(parts) > 1 && ways(named(held.indexes, name)?.parts ?? parts) === 1)
      .map(({ origin, name }) =>
        say(origin, `${name} runs one way for all its columns: ${engine} has no index that runs both.`)
      )
  ]
}
