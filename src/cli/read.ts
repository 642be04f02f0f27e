// A database as a design: what a design can say for every engine, and a target that says the rest.
import { adopt } from '../lib/core/adopt'
import { printDesign, type Design } from '../lib/core/design'
import type { Dialect, ReadStatement } from '../lib/core/dialects'
import type { Notice } from '../lib/core/notice'
import type { Source } from './source'

interface Read {
  readonly design: Design
  readonly notices: readonly Notice[]
  /** All of it is in the design or its target. */
  readonly whole: boolean
  /** Of a script: how many statements there are of each sort. */
  readonly statements?: Readonly<Record<ReadStatement['how'], number>>
}

/** `name` is what the design is called. */
export function readInto({ catalog, notices, statements }: Source, dialect: Dialect, name: string): Read {
  const { design, left } = adopt(catalog, dialect, { name, target: dialect.profile.label })
  const lost = left.map(({ action, address: { kind, path } }): Notice => ({
    code: 'not-adopted',
    severity: 'warning',
    where: path.join('.'),
    message: `The design does not say all of the ${kind} ${path.slice(1).join('.')}: ${action === 'drop' ? 'it is left out' : 'it is otherwise'}.`
  }))
  const counts = { read: 0, carried: 0, data: 0, unknown: 0 }
  for (const { how } of statements ?? []) counts[how]++
  return {
    design,
    notices: [...notices, ...lost],
    whole: left.length + catalog.unread.length + counts.unknown === 0,
    ...(statements ? { statements: counts } : {})
  }
}

/** As the design file has it, for machines: collections as lists. */
export const designAsJson = (design: Design): unknown => JSON.parse(printDesign(design))
