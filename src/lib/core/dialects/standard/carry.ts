// What stands by its own text: views and triggers the SQL standard's way (ISO/IEC 9075-2, 11.32, 11.49 and 12, from
// memory), with what is said of any object from outside. An engine gives the words that are its own.
import {
  isFree,
  KIND_WORDS,
  namesOf,
  propertyOf,
  withProperty,
  type Address,
  type CatalogObject,
  type Change,
  type Kind,
  type Right,
  type View
} from '../../catalog'
import type { Carried, Carrier, StepDraft, Writer } from '../dialect'
import { hazard, step } from './alter'
import { literal } from './write'

export interface CarryHabits {
  readonly kinds: readonly Kind[]
  /** The statement that makes an object, without its comment and rights. */
  define?(object: Carried): string | undefined
  /** What it is called behind ALTER, DROP and COMMENT ON: `VIEW "a"."b"`. */
  what?(object: Carried): string | undefined
  /** What it is called behind GRANT … ON. */
  grantable?(object: Carried): string
  /** Somebody that rights are given to. */
  holder?(name: string): string
  /** More statements that belong to its making. */
  after?(object: Carried): StepDraft[]
  /** A property in place. */
  alter?(object: Carried, property: string, to: unknown, held?: boolean): StepDraft[] | undefined
  readonly replaced?: Carrier['replaced']
  /** It says who owns what. */
  readonly owners?: boolean
  readonly comments?: boolean
  /** How a text is written. */
  readonly text?: (value: string) => string
}

export function standardCarrier(write: Writer, habits: CarryHabits): Carrier {
  const { text = literal } = habits
  const nameOf = ({ address }: Carried) => {
    const { kind, schema, name } = namesOf(address)
    return isFree(kind) ? write.table(schema, name) : write.quote(name)
  }
  const what = (object: Carried) =>
    habits.what?.(object) ?? `${KIND_WORDS[object.kind].toUpperCase()} ${nameOf(object)}`

  const define = (object: Carried): string => {
    const own = habits.define?.(object)
    if (own !== undefined) return own
    const { value } = object
    if (object.kind === 'view') return viewStatement(object.value, write)
    return String(propertyOf(value, 'definition') ?? '')
  }

  const comment = (object: Carried, to: string | undefined): StepDraft[] =>
    habits.comments === false
      ? []
      : [
          step(
            `COMMENT ON ${what(object)} IS ${to === undefined ? 'NULL' : text(to)}`,
            `describes ${namesOf(object.address).name}`,
            altered(object, 'comment', to)
          )
        ]

  const rights = (object: Carried, to: readonly Right[] | undefined): StepDraft[] => {
    const column = object.kind === 'column' ? ` (${write.quote(namesOf(object.address).name)})` : ''
    const on = habits.grantable?.(object) ?? write.table(...relationOf(object.address))
    let now: readonly Right[] = (propertyOf(object.value, 'rights') as readonly Right[] | undefined) ?? []
    const drafts: StepDraft[] = []
    for (const { statement, after } of rightsBetween(now, to ?? [], {
      on,
      column,
      holder: habits.holder ?? write.quote
    })) {
      const value = after.length ? after : to === undefined ? undefined : after
      drafts.push(
        step(statement, `who may use ${namesOf(object.address).name}`, {
          ...altered(object, 'rights', value),
          from: now.length ? now : undefined
        } as Change)
      )
      now = after
    }
    return drafts
  }

  const alterOutside: Carrier['alter'] = (object, property, to) => {
    if (property === 'comment') return comment(object, to as string | undefined)
    if (property === 'rights') return rights(object, to as readonly Right[] | undefined)
    if (property === 'owner')
      return habits.owners && typeof to === 'string'
        ? [
            step(
              `ALTER ${ownerOf(object)} OWNER TO ${write.quote(to)}`,
              `gives ${namesOf(object.address).name} back to its owner`,
              altered(object, 'owner', to)
            )
          ]
        : []
    return undefined
  }
  const ownerOf = (object: Carried) => (object.kind === 'table' ? `TABLE ${nameOf(object)}` : what(object))

  return {
    kinds: new Set(habits.kinds),
    create: (object) => {
      const bare = withoutSayings(object)
      const { comment: words, rights: given } = object.value as { comment?: string; rights?: readonly Right[] }
      return [
        step(define(object), `makes the ${KIND_WORDS[object.kind]} ${namesOf(object.address).name}`, {
          action: 'create',
          address: object.address,
          object: bare
        }),
        ...(habits.after?.(object) ?? []),
        ...(words === undefined ? [] : comment({ ...object, value: bare.value } as Carried, words)),
        ...(given === undefined ? [] : rights({ ...object, value: bare.value } as Carried, given))
      ]
    },
    drop: (object) => {
      const { address, ...rest } = object
      return [
        step(
          `DROP ${what(object)}`,
          `removes the ${KIND_WORDS[object.kind]} ${namesOf(address).name}`,
          { action: 'drop', address, object: rest as CatalogObject },
          object.kind === 'view' && object.value.materialized
            ? [hazard('locks table', 'its rows are worked out again when it is made again')]
            : []
        )
      ]
    },
    alter: (object, property, to, held) =>
      habits.alter?.(object, property, to, held) ?? alterOutside(object, property, to),
    ...(habits.replaced ? { replaced: habits.replaced } : {})
  }
}

const relationOf = (address: Address): [string, string] => {
  const { schema, table } = namesOf(address)
  return [schema, table]
}

export const viewStatement = (
  { schema, name, columns, query, materialized }: View,
  write: Writer,
  options = ''
): string =>
  `CREATE ${materialized ? 'MATERIALIZED ' : ''}VIEW ${write.table(schema, name)}` +
  (columns?.length ? ` (${columns.map(write.quote).join(', ')})` : '') +
  `${options} AS\n${query}`

/** One property of an object, from what it has. */
export const altered = (object: Carried, property: string, to: unknown): Change => ({
  action: 'alter',
  address: object.address,
  property,
  from: propertyOf(object.value, property),
  to,
  certain: true
})

/** An object without what is said of it by statements of their own, and without what stands in it. */
function withoutSayings({ address: _, ...object }: Carried): CatalogObject {
  const sayings = ['comment', 'rights', 'owner', 'notes', 'ownedBy', 'triggers', 'rules', 'enabled']
  const without = [...sayings, ...(object.kind === 'view' ? ['indexes'] : [])]
  const value = without.reduce((value: object, property) => withProperty(value, property, undefined), object.value)
  return { ...object, value } as CatalogObject
}

interface Grant {
  readonly statement: string
  /** The rights once it is said. */
  readonly after: readonly Right[]
}

const same = (a: Right, b: Right) => a.to === b.to && a.may === b.may
const exactly = (a: Right, b: Right) => same(a, b) && a.grantable === b.grantable && a.revoked === b.revoked

/** GRANT and REVOKE, holder by holder, from one list of rights to another. */
function rightsBetween(
  from: readonly Right[],
  to: readonly Right[],
  { on, column, holder }: { readonly on: string; readonly column: string; readonly holder: (name: string) => string }
): Grant[] {
  const lost = from.filter(
    (right) =>
      !to.some((other) => same(right, other)) || to.some((other) => same(right, other) && !exactly(right, other))
  )
  const won = to.filter((right) => !from.some((other) => exactly(right, other)))
  const grants: Grant[] = []
  let now = from
  const say = (rights: readonly Right[], take: boolean) => {
    const groups = new Map<string, Right[]>()
    for (const right of rights) {
      const key = JSON.stringify([right.to, right.grantable ?? false])
      groups.set(key, [...(groups.get(key) ?? []), right])
    }
    for (const group of groups.values()) {
      const [first] = group
      if (!first) continue
      const who = first.to === 'PUBLIC' ? 'PUBLIC' : holder(first.to)
      const may = group.map((right) => right.may + column).join(', ')
      const statement = take
        ? `REVOKE ${may} ON ${on} FROM ${who}`
        : `GRANT ${may} ON ${on} TO ${who}${first.grantable ? ' WITH GRANT OPTION' : ''}`
      const said = new Set(group)
      now = take === (first.revoked === true) ? [...now, ...group] : now.filter((right) => !said.has(right))
      grants.push({ statement, after: now })
    }
  }
  say(
    lost.filter((right) => !right.revoked),
    true
  )
  say(
    lost.filter((right) => right.revoked),
    false
  )
  say(
    won.filter((right) => right.revoked),
    true
  )
  say(
    won.filter((right) => !right.revoked),
    false
  )
  return grants
}
