// What goes: in which order, and what goes with it.
import {
  addressKey as place,
  isWithin,
  memberAddress,
  namesOf,
  refsOfAll,
  tableAddress,
  type Address,
  type Catalog,
  type CatalogObject,
  type Change,
  type MemberKind,
  type Placed,
  type Table
} from '../catalog'
import type { Dialect, StepDraft } from '../dialects'
import type { AlteredColumn, Drop } from './altered'
import type { Builder } from './builder'
import { inNeededOrder } from './carried'
import { emit } from './emit'

export const ownTable = (address: Address): Address => {
  const { schema, table } = namesOf(address)
  return tableAddress({ schema, name: table })
}

export const dropOf = (table: Table, kind: MemberKind, member: { readonly name: string }): Change => ({
  action: 'drop',
  address: memberAddress(table, kind, member),
  object: { kind, value: member } as CatalogObject
})

/** Tells which fields stand in one that becomes something that holds nothing: they go before it does. */
export function emptied(columns: readonly AlteredColumn[], dialect: Dialect): (change: Drop) => boolean {
  const changing = new Map<string, string[]>()
  for (const { live: was, wanted, liveTable } of columns)
    if (!dialect.types.same(was.type, wanted.type)) {
      const key = place(tableAddress(liveTable))
      const own = changing.get(key)
      if (own) own.push(was.name)
      else changing.set(key, [was.name])
    }
  return ({ address }) =>
    address.kind === 'column' &&
    changing.get(place(ownTable(address)))?.some((holder) => isWithin(namesOf(address).name, holder)) === true
}

/** What goes for good once nothing else stands on it: users before what they use. */
export function dropInOrder(
  holders: readonly Drop[],
  others: readonly Placed[],
  { live, builder, makeDrop }: { live: Catalog; builder: Builder; makeDrop: (change: Drop) => void }
) {
  const byPlace = new Map(holders.map((change) => [place(change.address), change]))
  const going = [...holders.map(({ address, object }) => ({ ...object, address }) as Placed), ...others]
  for (const object of inNeededOrder(going.reverse(), live, refsOfAll).reverse()) {
    const change = byPlace.get(place(object.address))
    if (change) makeDrop(change)
    // It may have gone with its table by then.
    else if (builder.state.find(object.address)) builder.add(builder.dialect.carry.drop(object))
  }
}

/** Removes tables and columns; the sequences that go with them go without a word. */
export function dropsWithSequences(
  live: Catalog,
  removed: readonly Drop[],
  builder: Builder,
  told: (change: Drop, drafts: readonly StepDraft[]) => readonly StepDraft[]
): (change: Drop) => void {
  const { fields } = builder.dialect.profile.features
  const owned = removed.flatMap((change) =>
    change.object.kind === 'sequence' && change.object.value.ownedBy
      ? [{ change, by: change.object.value.ownedBy }]
      : []
  )
  return (change) => {
    const { kind, schema, table, name } = namesOf(change.address)
    // A field may have gone with what it was in.
    if (kind === 'column' && fields && !builder.state.find(change.address)) return
    const drafts = told(change, emit(change, builder.state, builder.dialect))
    const along = owned
      .filter(({ by }) => by.schema === schema && by.table === table && (kind === 'table' || by.column === name))
      .map((item) => item.change)
    const inside = kind === 'column' && fields ? fieldsIn(change, builder) : []
    // They go with the statement that says that it is gone, which is the last.
    builder.add(
      drafts.map((draft, i) => ({
        ...draft,
        effects: [...(i === drafts.length - 1 ? inside : []), ...draft.effects, ...(i === 0 ? along : [])]
      }))
    )
  }
}

/** The drops of what is in a field that goes. */
function fieldsIn({ address }: Drop, { state }: Builder): Change[] {
  const { schema, table: home, name } = namesOf(address)
  const table = state.table(schema, home)
  return (table?.columns ?? []).flatMap((column) =>
    table && isWithin(column.name, name) ? [dropOf(table, 'column', column)] : []
  )
}
