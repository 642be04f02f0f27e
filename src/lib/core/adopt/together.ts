// Several scripts that make one database, read as one.
import { dialect, engineOf, type ScriptRead } from '../dialects'

/** Past so many scripts, they are taken as they come: each is tried behind the others. */
const MANY = 12

export interface ScriptsRead extends ScriptRead {
  /** The engine that they were read as scripts of. */
  readonly engine: string
  /** The scripts in the order in which they were read, as one. */
  readonly order: readonly number[]
}

/**
 * Scripts that make one database, in whatever order they are given: the one that needs nothing of the others comes first.
 * Nothing for what no engine makes anything of.
 */
export function readTogether(
  scripts: readonly string[],
  id = engineOf(scripts.join('\n')),
  version?: string
): ScriptsRead | undefined {
  const engine = id === undefined ? undefined : dialect(id, version)
  if (!engine) return undefined
  const { readScript, profile } = engine
  if (!readScript) throw new Error(`Scripts of ${profile.label} cannot be read yet.`)
  const order: number[] = []
  const left = scripts.map((_, i) => i)
  const together = (list: readonly number[]) => list.map((i) => scripts[i] ?? '').join('\n')
  const lost = (list: readonly number[]) =>
    readScript(together(list)).statements.filter(({ how }) => how === 'unknown').length
  while (left.length > 1 && scripts.length <= MANY) {
    const before = order.length ? lost(order) : 0
    const next = left.find((i) => lost([...order, i]) === before) ?? left[0] ?? 0
    order.push(next)
    left.splice(left.indexOf(next), 1)
  }
  order.push(...left)
  return { ...readScript(together(order)), engine: profile.id, order }
}
