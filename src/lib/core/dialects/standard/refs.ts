// What a text stands on, where an engine does not tell: whatever it has a word for. It may be more than it stands on, and is never less.
import { addressOf, type Address, type Catalog, type Ref } from '../../catalog'
import { nameOf, significant, type Lexis } from '../../sql'

type Named = Pick<Catalog, 'tables' | 'views' | 'routines' | 'sequences' | 'defaultSchema'>

/** For each text, the views, tables with their columns, routines and sequences that it names; never what it is the text of itself. */
export function refsByWords(
  catalog: Named,
  lexis: Lexis
): (own: string, sql: string) => { readonly refs?: readonly Ref[] } {
  const { defaultSchema: schema, tables, views = [], routines = [], sequences = [] } = catalog
  const small = (name: string) => lexis.fold(name)
  const byName = <T extends { readonly name: string }>(list: readonly T[]) =>
    new Map(list.map((one) => [small(one.name), one]))
  const [viewsByName, tablesByName] = [byName(views), byName(tables)]
  const [routinesByName, sequencesByName] = [byName(routines), byName(sequences)]
  return (own, sql) => {
    const names = new Set(
      significant(sql, lexis)
        .flatMap((token) => nameOf(token, lexis) ?? [])
        .map(small)
    )
    const named = <T extends { readonly name: string }>(of: ReadonlyMap<string, T>): T[] =>
      [...names]
        .flatMap((name) => of.get(name) ?? [])
        .filter(({ name }) => name !== own)
        .sort((a, b) => (a.name < b.name ? -1 : 1))
    const addresses: Address[] = [
      ...named(viewsByName).map(({ name }) => addressOf('view', schema, name)),
      ...named(tablesByName).flatMap((table) => [
        addressOf('table', schema, table.name),
        ...table.columns
          .filter((column) => names.has(small(column.name)))
          .map((column) => addressOf('column', schema, table.name, column.name))
      ]),
      ...named(routinesByName).map(({ name }) => addressOf('routine', schema, name)),
      ...named(sequencesByName).map(({ name }) => addressOf('sequence', schema, name))
    ]
    return addresses.length > 0 ? { refs: addresses.map((to) => ({ to })) } : {}
  }
}
