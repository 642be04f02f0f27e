// Changes of one table in one statement: it is written again once, and not once for each ("ALTER TABLE": several specifications are
// carried out together, or none of them).
import { addressKey, type Change } from '../../catalog'
import type { Hazard, StepDraft } from '../dialect'
import { dearest } from './costs'

const HEAD = /^ALTER TABLE (`(?:[^`]|``)+`|\S+) (ADD COLUMN|ADD CONSTRAINT|MODIFY COLUMN|DROP COLUMN) /
const COSTS: ReadonlySet<string> = new Set(['rewrites table', 'locks table'])
const LOSSES: ReadonlySet<string> = new Set(['loses data', 'cannot be undone'])

/** What is counted beforehand, or may be lost or refused, is told and consented to by itself. */
const hasASay = ({ preflight, changed, hazards }: StepDraft): boolean =>
  Boolean(preflight ?? changed) || hazards.some(({ kind }) => !COSTS.has(kind))

/** Columns that go at the cost of all rows written again go at that cost once; each is named for what is lost with it. */
const goesDearly = ({ preflight, changed, hazards }: StepDraft): boolean =>
  !(preflight ?? changed) &&
  hazards.some(({ kind }) => kind === 'rewrites table') &&
  hazards.every(({ kind }) => COSTS.has(kind) || LOSSES.has(kind))

/** Two changes as one; nothing where one has its own say, or a way back of its own. */
export function joined(first: StepDraft, second: StepDraft): StepDraft | undefined {
  const [a, b] = [HEAD.exec(first.statement), HEAD.exec(second.statement)]
  if (!a || !b || a[1] !== b[1]) return undefined
  const isAlone = ({ undo, about, repeatable }: StepDraft) => Boolean(undo ?? about ?? repeatable)
  if (isAlone(first) || isAlone(second)) return undefined
  const drop = [a[2], b[2]].filter((word) => word === 'DROP COLUMN').length
  // What holds rows goes at last, once all that can fail has not.
  if (drop === 1) return undefined
  const bothMay = (may: (draft: StepDraft) => boolean) => may(first) && may(second)
  if (!bothMay((draft) => !hasASay(draft)) && !(drop === 2 && bothMay(goesDearly))) return undefined
  // A foreign key is looked up in all rows, and may be refused by itself.
  const kinds = new Set([...first.effects, ...second.effects].map(({ address }) => address.kind))
  if (kinds.has('foreignKey')) return undefined
  const places = new Set(first.effects.map(placeOf))
  if (second.effects.some((effect) => places.has(placeOf(effect)))) return undefined
  return {
    ...first,
    ...second,
    statement: `${first.statement}, ${second.statement.slice(`ALTER TABLE ${b[1] ?? ''} `.length)}`,
    why: `${first.why}; ${second.why}`,
    effects: [...first.effects, ...second.effects],
    hazards: once(dearest([...first.hazards, ...second.hazards]))
  }
}

/** No column stands twice in one statement; a check that is said with its column, and called like it, is stated by that. */
const placeOf = ({ address }: Change): string =>
  addressKey(address.kind === 'check' ? { ...address, kind: 'column' } : address)

const once = (hazards: readonly Hazard[]): Hazard[] => [
  ...new Map(hazards.map((one) => [`${one.kind} ${one.sentence}`, one])).values()
]
