// Engines that take names for the same whatever their case keep the spelling that they were first given.
import { apply, invert, type Catalog } from '../catalog'
import { sameName, type Dialect } from '../dialects'
import type { CompareInput } from './compare'
import { match } from './match'

/**
 * What is wanted, in the database's spelling: a name that differs by nothing but its case is no difference in an engine
 * that does not tell the two apart. Names that it does tell apart stay as they are.
 */
export function asSpelled(input: CompareInput, dialect: Dialect): Catalog {
  if (!dialect.profile.names.caseless) return input.wanted
  const back = invert(match(input, dialect).renames).filter(
    (change) => change.action === 'rename' && sameName(change.address.kind, change.address.name, change.to, dialect)
  )
  return apply(back, input.wanted, dialect.write)
}
