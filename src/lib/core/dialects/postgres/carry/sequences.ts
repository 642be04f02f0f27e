// Sequences: manual, CREATE SEQUENCE and ALTER SEQUENCE.
import type { Change, Options, Sequence } from '../../../catalog'
import type { Carried, StepDraft } from '../../dialect'
import { hazard, preflight } from '../../standard'
import { countingClauses } from '../write'
import type { Words } from './words'

type Numbers = Carried & { readonly kind: 'sequence' }

/** What a sequence counts by. */
const COUNTED: ReadonlySet<string> = new Set(['type', 'start', 'increment', 'min', 'max', 'cache', 'cycle'])

export function sequenceCarrier({ quote, place, freeName, more }: Words) {
  const sequenceStatement = (sequence: Sequence): string =>
    [
      `CREATE ${sequence.options?.['persistence'] === 'unlogged' ? 'UNLOGGED ' : ''}SEQUENCE ${place(sequence.schema, sequence.name)}`,
      sequence.type && `AS ${sequence.type}`,
      ...countingClauses(sequence)
    ]
      .filter((part) => part)
      .join(' ')

  /** One setting of a sequence, as a clause. */
  const sequenceClause = (value: Sequence, property: string, to: unknown): string | undefined => {
    const text = typeof to === 'string' ? to : undefined
    switch (property) {
      case 'type':
        return `AS ${text ?? 'bigint'}`
      case 'start':
        return `START WITH ${text ?? (value.increment?.startsWith('-') ? '-1' : '1')}`
      case 'increment':
        return `INCREMENT BY ${text ?? '1'}`
      case 'min':
        return text === undefined ? 'NO MINVALUE' : `MINVALUE ${text}`
      case 'max':
        return text === undefined ? 'NO MAXVALUE' : `MAXVALUE ${text}`
      case 'cache':
        return `CACHE ${text ?? '1'}`
      case 'cycle':
        return to === true ? 'CYCLE' : 'NO CYCLE'
      case 'ownedBy': {
        const owner = to as Sequence['ownedBy']
        return `OWNED BY ${owner ? `${place(owner.schema, owner.table)}.${quote(owner.column)}` : 'NONE'}`
      }
      case 'options':
        return (to as Options | undefined)?.['persistence'] === 'unlogged' ? 'SET UNLOGGED' : 'SET LOGGED'
      default:
        return undefined
    }
  }
  const alterSequence = (object: Numbers, property: string, to: unknown): StepDraft[] | undefined => {
    const clause = sequenceClause(object.value, property, to)
    return clause === undefined
      ? undefined
      : [more(object, `ALTER SEQUENCE ${freeName(object)} ${clause}`, property, to)]
  }
  /**
   * Limits and beginning are judged together; a number that was given out beyond the new limits stops it. `rest` are the
   * changes that are said each by itself.
   */
  const countedOtherwise = (object: Numbers, changes: readonly (Change & { readonly action: 'alter' })[]) => {
    const counted = changes.filter(({ property }) => COUNTED.has(property))
    const rest = changes.filter((change) => !counted.includes(change))
    const name = freeName(object)
    const limit = (property: 'min' | 'max', sign: string) =>
      counted.flatMap((change) =>
        change.property === property && change.to !== undefined ? [`last_value ${sign} ${String(change.to)}`] : []
      )
    const outside = [...limit('min', '<'), ...limit('max', '>')].join(' OR ')
    const clauses = counted.map(({ property, to }) => sequenceClause(object.value, property, to))
    const drafts: StepDraft[] =
      counted.length === 0
        ? []
        : [
            {
              statement: `ALTER SEQUENCE ${name} ${clauses.join(' ')}`,
              why: `how ${object.value.name} counts; where it stands, it stays`,
              effects: counted,
              hazards: outside === '' ? [] : [hazard('may fail', 'fails if it has come beyond the new limits')],
              ...(outside === '' ? {} : { preflight: preflight('Has it come beyond the new limits?', name, outside) })
            }
          ]
    return { drafts, rest }
  }

  return { sequenceStatement, alterSequence, countedOtherwise }
}
