// A database as a design: what a design can say for every engine, and a target that says the rest.
import { adopt, leftOut } from '../lib/core/adopt'
import type { Table } from '../lib/core/catalog'
import { inScope } from '../lib/core/compare'
import { printDesign, type Design } from '../lib/core/design'
import type { Dialect, ReadStatement } from '../lib/core/dialects'
import { accepted, isGuess, suggestions, type Suggestion } from '../lib/core/infer'
import type { Notice } from '../lib/core/notice'
import type { Source } from './source'

/** What is taken only where it is sure: the rest does no harm. */
const DOUBTFUL: readonly Suggestion['kind'][] = ['link', 'word']

interface Read {
  readonly design: Design
  readonly notices: readonly Notice[]
  /** All of it is in the design or its target. */
  readonly whole: boolean
  /** Of a script: how many statements there are of each sort. */
  readonly statements?: Readonly<Record<ReadStatement['how'], number>>
}

interface Reading {
  /** What the design is called. */
  readonly name: string
  /** Of what is left unsaid, the sorts that it says. */
  readonly infer: readonly Suggestion['kind'][]
  /** The tables that are brought in. */
  readonly chosen?: ((table: Table) => boolean) | undefined
}

export function readInto(
  { catalog: whole, notices, statements }: Source,
  dialect: Dialect,
  { name, infer, chosen }: Reading
): Read {
  const ignored = chosen ? leftOut(whole, chosen) : []
  const catalog = inScope(whole, ignored)
  const also = infer.length
    ? suggestions(catalog, dialect).filter(
        (one) => infer.includes(one.kind) && !isGuess(one) && (one.usual || !DOUBTFUL.includes(one.kind))
      )
    : []
  const { design, left } = adopt(whole, dialect, {
    name,
    ignored,
    target: dialect.profile.label,
    ...accepted(also)
  })
  const said = also.map(({ kind, says, why, word }): Notice => ({
    code: 'inferred',
    severity: 'info',
    where: says,
    message: word ? `“${word.short}” is said “${word.long}”: ${why}.` : `The design has the ${kind} ${says}: ${why}.`
  }))
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
    notices: [...notices, ...said, ...lost],
    whole: left.length + catalog.unread.length + counts.unknown === 0,
    ...(statements ? { statements: counts } : {})
  }
}

/** As the design file has it, for machines: collections as lists. */
export const designAsJson = (design: Design): unknown => JSON.parse(printDesign(design))
