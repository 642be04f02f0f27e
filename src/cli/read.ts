// A database as a design: what a design can say for every engine, and a target that says the rest.
import { adopt } from '../lib/core/adopt'
import { printDesign, type Design } from '../lib/core/design'
import type { Dialect } from '../lib/core/dialects'
import type { Notice } from '../lib/core/notice'
import type { Source } from './source'

interface Read {
  readonly design: Design
  readonly notices: readonly Notice[]
  /** All of it is in the design or its target. */
  readonly whole: boolean
}

/** `name` is what the design is called. */
export function readInto({ catalog, notices }: Source, dialect: Dialect, name: string): Read {
  const { design, left } = adopt(catalog, dialect, { name, target: dialect.profile.label })
  const lost = left.map(({ action, address: { kind, path } }): Notice => ({
    code: 'not-adopted',
    severity: 'warning',
    where: path.join('.'),
    message: `The design does not say all of the ${kind} ${path.slice(1).join('.')}: ${action === 'drop' ? 'it is left out' : 'it is otherwise'}.`
  }))
  return { design, notices: [...notices, ...lost], whole: left.length + catalog.unread.length === 0 }
}

/** As the design file has it, for machines: collections as lists. */
export const designAsJson = (design: Design): unknown => JSON.parse(printDesign(design))
