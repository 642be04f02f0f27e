// Engines that take names for the same whatever their case keep the spelling that they were first given; and a name that a
// rule made keeps its number, whatever comes later to have a claim on the same name.
import {
  applied,
  invert,
  isFree,
  MEMBER_KINDS,
  memberAddress,
  members,
  namesOf,
  type Address,
  type Catalog,
  type Change
} from '../catalog'
import { sameName, type Dialect } from '../dialects'
import type { CompareInput } from './compare'
import { match } from './match'

type Rename = Change & { action: 'rename' }

/**
 * What is wanted, in the database's spelling: a name that differs by nothing but its case is no difference in an engine
 * that does not tell the two apart; nor is `ix_visit_berth` for `ix_visit_berth_2`, which a rule has counted. Names that
 * differ otherwise stay as they are.
 */
export function asSpelled(input: CompareInput, dialect: Dialect): Catalog {
  const renames = invert(match(input, dialect).renames).filter((change): change is Rename => change.action === 'rename')
  const back = renames.filter(
    (c) => sameName(c.address.kind, namesOf(c.address).name, c.to, dialect) || sameButNumber(c)
  )
  if (back.length === 0) return input.wanted
  return applied([...back, ...givingWay(back, input.wanted, dialect)], input.wanted, dialect.write)
}

const sameButNumber = ({ address, to }: Rename): boolean => {
  const { kind, name } = namesOf(address)
  return !isFree(kind) && kind !== 'column' && name !== to && withoutNumber(name) === withoutNumber(to)
}

const withoutNumber = (name: string) => name.replace(/_\d+$/, '')

/** Whatever wanted has a name that another keeps takes the name that this one would have had. */
function givingWay(back: readonly Rename[], wanted: Catalog, dialect: Dialect): Rename[] {
  const { namesInSchema } = dialect.profile.features
  const scope = (address: Address) => {
    const { kind, schema, table } = namesOf(address)
    return !isFree(kind) && kind !== 'column' && namesInSchema.includes(kind) ? schema : JSON.stringify([schema, table])
  }
  const kept = new Map(back.filter(sameButNumber).map((c) => [`${scope(c.address)} ${c.to}`, namesOf(c.address).name]))
  if (kept.size === 0) return []
  const moved = new Set(back.map((c) => JSON.stringify(c.address)))
  return wanted.tables.flatMap((table) =>
    MEMBER_KINDS.flatMap((kind) =>
      kind === 'column'
        ? []
        : (members(table, kind) as readonly { readonly name: string }[]).flatMap((member): Rename[] => {
            const address = memberAddress(table, kind, member)
            const to = kept.get(`${scope(address)} ${member.name}`)
            return to === undefined || moved.has(JSON.stringify(address)) ? [] : [{ action: 'rename', address, to }]
          })
    )
  )
}
