// Changes of one table in one statement: it is written again once, and not once for each ("ALTER TABLE": several specifications are
// carried out together, or none of them).
import { addressKey } from '../../catalog'
import type { StepDraft } from '../dialect'

const HEAD = /^ALTER TABLE (`(?:[^`]|``)+`|\S+) (ADD COLUMN|ADD CONSTRAINT|MODIFY COLUMN|DROP COLUMN) /

/** What is counted beforehand, or may be lost or refused, is told and consented to by itself. */
const hasASay = ({ preflight, changed, hazards }: StepDraft): boolean =>
  Boolean(preflight ?? changed) || hazards.some(({ kind }) => kind !== 'rewrites table' && kind !== 'locks table')

/** Two changes of a kind as one; nothing where one has its own say, or a way back of its own. */
export function joined(first: StepDraft, second: StepDraft): StepDraft | undefined {
  const [a, b] = [HEAD.exec(first.statement), HEAD.exec(second.statement)]
  if (!a || !b || a[1] !== b[1] || a[2] !== b[2]) return undefined
  const isAlone = ({ undo, about, repeatable }: StepDraft) => Boolean(undo ?? about ?? repeatable)
  if (isAlone(first) || isAlone(second)) return undefined
  if (hasASay(first) || hasASay(second)) return undefined
  // A foreign key is looked up in all rows, and may be refused by itself.
  if ([first, second].some(({ effects }) => effects.some(({ address }) => address.kind === 'foreignKey')))
    return undefined
  // A check that is said with its column is stated by that: no column stands twice in one statement.
  const isOfColumns = ({ effects }: StepDraft) => effects.every(({ address }) => address.kind === 'column')
  if (a[2] !== 'ADD CONSTRAINT' && !(isOfColumns(first) && isOfColumns(second))) return undefined
  const places = new Set(first.effects.map(({ address }) => addressKey(address)))
  if (second.effects.some(({ address }) => places.has(addressKey(address)))) return undefined
  return {
    ...first,
    ...second,
    statement: `${first.statement}, ${second.statement.slice(`ALTER TABLE ${b[1] ?? ''} `.length)}`,
    why: `${first.why}; ${second.why}`,
    effects: [...first.effects, ...second.effects],
    hazards: [
      ...first.hazards,
      ...second.hazards.filter((one) => !first.hazards.some(({ sentence }) => sentence === one.sentence))
    ]
  }
}
