// Engines that take names for the same whatever their case keep the spelling that they were first given.
import { apply, inversePairs, type Catalog } from '../catalog'
import { nameKey, type Dialect } from '../dialects'
import type { CompareInput } from './compare'
import { match } from './match'

/**
 * What is wanted, in the database's spelling: a name that differs by nothing but its case is no difference in an engine
 * that does not tell the two apart. Names that it does tell apart stay as they are.
 */
export function asSpelled(input: CompareInput, dialect: Dialect): Catalog {
  if (!dialect.profile.names.caseless) return input.wanted
  const same = ({ kind, name }: { kind: Parameters<typeof nameKey>[0]; name: string }, to: string) =>
    nameKey(kind, name, dialect) === nameKey(kind, to, dialect)
  const back = inversePairs(match(input, dialect).renames)
    .filter(({ inverse }) => inverse.action === 'rename' && same(inverse.address, inverse.to))
    .map(({ inverse }) => inverse)
  return apply(back, input.wanted, dialect.write)
}
