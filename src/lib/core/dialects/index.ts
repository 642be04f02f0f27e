// Every engine Ramblet knows. Adding one means a folder beside this file, a line in `known.ts` and one below.
import type { Address, Kind } from '../catalog'
import type { DeclaredOption, Dialect, Quoting } from './dialect'
export { Misplaced, type Structure, type Touched } from './structure'
import { KNOWN, type EngineId, type Known } from './known'
import { firebird } from './firebird'
import { mariadb, mysql } from './mariadb'
import { mongodb } from './mongodb'
import { postgres } from './postgres'
import { sqlite } from './sqlite'

const MAKERS: Readonly<Record<EngineId, Make>> = { postgres, mariadb, mysql, firebird, sqlite, mongodb }

type Make = (version: string, quoting?: Quoting) => Dialect

interface Engine extends Known {
  readonly make: Make
}

export const ENGINES: readonly Engine[] = KNOWN.map((known) => ({ ...known, make: MAKERS[known.id] }))

/** The dialect of an engine and version (the newest known when none is given); nothing for an unknown engine. */
export function dialect(engine: string, version?: string, quoting?: Quoting): Dialect | undefined {
  const found = ENGINES.find(({ id }) => id === engine)
  if (!found) return undefined
  const known = (version !== undefined && found.versions.includes(version) ? version : found.versions.at(-1)) ?? ''
  const key = `${engine} ${known} ${quoting ?? ''}`
  const made = resolved.get(key) ?? found.make(known, quoting)
  resolved.set(key, made)
  return made
}

const resolved = new Map<string, Dialect>()

/**
 * The engine that a script was written for: by what stands in it and, where that says little, by who makes the most of it.
 * Nothing for a script that no engine makes anything of.
 */
export function engineOf(script: string): string | undefined {
  const told = script.slice(0, ENOUGH)
  const signs = (id: string) => dialect(id)?.profile.signs.filter((sign) => sign.test(told)).length ?? 0
  // Of those that make as much of it, one that runs here comes first.
  const scores = [...ENGINES]
    .sort((a, b) => Number(b.here === 'embedded') - Number(a.here === 'embedded'))
    .map(({ id }) => ({ id, signs: signs(id) }))
    .sort((a, b) => b.signs - a.signs)
  const [first, second] = scores
  if (first && first.signs > 1 && first.signs > (second?.signs ?? 0)) return first.id
  const understood = scores.flatMap(({ id, signs: own }) => {
    const read = dialect(id)?.readScript?.(told)?.statements ?? []
    const good = read.filter(({ how }) => how === 'read' || how === 'carried').length
    return good > 0 ? [{ id, bad: read.filter(({ how }) => how === 'unknown').length, signs: own }] : []
  })
  const [best] = understood.sort((a, b) => a.bad - b.bad || b.signs - a.signs)
  if (best && (best.bad === 0 || !first?.signs)) return best.id
  return first?.signs ? first.id : undefined
}
/** In characters: what a script is written for shows soon. */
const ENOUGH = 200_000

/** One form for all spellings of an object's name that the engine takes for the same. */
export const nameKey = (kind: Address['kind'], name: string, { profile, write }: Dialect): string =>
  (kind === 'table' || kind === 'view') && profile.names.caseless !== 'all' ? name : write.lexis.fold(name, true)

/** Whether the engine takes two names of a kind for one. */
export const sameName = (kind: Address['kind'], a: string, b: string, dialect: Dialect): boolean =>
  nameKey(kind, a, dialect) === nameKey(kind, b, dialect)

/** What an engine declares of an option; nothing for one that it does not know. */
export const optionOf = ({ options }: Pick<Dialect, 'options'>, kind: Kind, name: string): DeclaredOption | undefined =>
  options.find((option) => option.name === name && option.on.includes(kind)) ??
  options.find((option) => option.every?.test(name) && option.on.includes(kind))

export { answersByHand, commandByHand, questionsByHand } from './by-hand'
export { printScript, printStatement } from './print'
export { MADE_BY, PATIENCE } from './dialect'
export type * from './dialect'
