// A column in a new form: what differs, what may go wrong, and the way by a column beside it.
import { PROPERTIES, propertyOf, type Change, type Column, type Table } from '../../catalog'
import type { Hazard, StepDraft, Writer } from '../dialect'
import { altered, created, hazard, preflight, step } from './alter'

/** What differs between two forms of a column, as changes of the table’s column of the first one’s name. */
export const reshapes = (table: Table, from: Column, to: Column): Change[] =>
  PROPERTIES.column.flatMap((property) => {
    const [was, is] = [propertyOf(from, property), propertyOf(to, property)]
    return was === is ? [] : [altered(table, 'column', from.name, property, was, is)]
  })

/** What a conversion may do to the rows; both are a sentence or a condition of the engine, absent where it cannot happen. */
interface Outcome {
  readonly loses?: string
  /** Of the rows whose value does not fit; empty where they may not fit and no query of the engine tells which. */
  readonly failsWhere?: string
}

/** What is told before every row of a column is written again. */
export const rewriteHazards = (column: string, { loses, failsWhere }: Outcome): Hazard[] => [
  ...(loses === undefined ? [] : [hazard('loses data', loses)]),
  ...(failsWhere === undefined ? [] : [hazard('may fail', `fails if a value of ${column} does not fit`)]),
  hazard('rewrites table', 'every row is written again')
]

/** A column beside another that gets its values in a new form; what puts it in the other’s place is the engine’s own. */
export function writtenBeside(
  write: Writer,
  table: Table,
  from: Column,
  fresh: Column,
  value: string,
  { hazards, failsWhere }: { readonly hazards: Hazard[]; readonly failsWhere: string | undefined }
): StepDraft[] {
  const owner = write.quote(table.name)
  const about = created(table, { kind: 'column', value: from }).address
  const making = step(
    write.addColumn(table, fresh),
    `makes a column for what ${from.name} will be`,
    created(table, { kind: 'column', value: fresh })
  )
  return [
    { ...making, about },
    {
      statement: `UPDATE ${owner} SET ${write.quote(fresh.name)} = ${value}`,
      why: `writes the values of ${from.name} as ${write.type(fresh.type)}`,
      effects: [],
      about,
      hazards,
      undo: [],
      ...(failsWhere ? { preflight: preflight(`Which values of ${from.name} do not fit?`, owner, failsWhere) } : {})
    }
  ]
}
