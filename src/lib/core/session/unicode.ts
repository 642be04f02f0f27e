// Text that has not all of Unicode in a target, because the target says so; and the edit after which it has.
import { optionProperty, withProperty, type Options } from '../catalog'
import { ownerOf, type Departure, type Design, type Edit } from '../design'
import { dialect as dialectOf } from '../dialects'

export interface NotUnicode {
  /** How many tables and columns say a collation that has not. */
  readonly many: number
  /** Those collations, each once. */
  readonly collations: readonly string[]
  readonly edit: Edit
}

const COLLATION = 'collation'
const AS_OPTION = optionProperty(COLLATION)

/** The collation that a departure says, of a table or a column; nothing where it is about something else. */
function saidBy(one: Departure): string | undefined {
  if (!('property' in one)) return undefined
  const { property, value } = one
  const said = property === 'options' ? (value as Options | undefined)?.[COLLATION] : value
  return [AS_OPTION, COLLATION, 'options'].includes(property) && typeof said === 'string' ? said : undefined
}

/** Nothing where all that the target says of its text has all of Unicode. What says nothing is as the database is. */
export function notUnicode(design: Design, targetId: string): NotUnicode | undefined {
  const target = design.targets[targetId]
  const counterpart = target && dialectOf(target.engine, target.version)?.unicode
  if (!target || !counterpart) return undefined
  const { departures = [], ...rest } = target
  const ofTables = new Map(
    departures.flatMap((one) => {
      const said = one.part === 'table' ? saidBy(one) : undefined
      return said === undefined ? [] : [[one.id, counterpart(said)] as const]
    })
  )
  const collations: string[] = []
  const next = departures.flatMap((one): Departure[] => {
    const said = saidBy(one)
    if (said === undefined || counterpart(said) === said || !('property' in one)) return [one]
    collations.push(said)
    const value = counterpart(said)
    if (one.property === 'options')
      return [{ ...one, value: withProperty(one.value as Options & { collation?: string }, COLLATION, value) }]
    if (one.property === AS_OPTION) return [{ ...one, value }]
    // A column that is as its table is says nothing.
    const table = ofTables.get(ownerOf(design, one.id).entity?.id ?? '') ?? counterpart('')
    return value === table ? [] : [{ ...one, value }]
  })
  if (collations.length === 0) return undefined
  return {
    many: collations.length,
    collations: [...new Set(collations)].sort(),
    edit: {
      kind: 'object.set',
      collection: 'targets',
      object: { ...rest, ...(next.length > 0 ? { departures: next } : {}) }
    }
  }
}
