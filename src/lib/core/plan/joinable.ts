// Which earlier step a later one may be carried out with, where an engine does several changes of a table in one statement: the last one of
// the same table, as long as all that comes between them is of other tables alone.
import { namesOf, tableKey } from '../catalog'
import type { StepDraft } from '../dialects'

export interface Earlier<B> {
  readonly draft: StepDraft
  readonly before: B
  /** Where it stands among the steps. */
  readonly at: number
}

/** What is of one table alone: nothing of another stands on it, or looks into it. */
const OF_A_TABLE: ReadonlySet<string> = new Set(['column', 'check', 'unique', 'primaryKey', 'index'])

export class Joinable<B> {
  private readonly last = new Map<string, Earlier<B>>()
  /** The last step with a check: their names may be one space. */
  private checked = -1

  /** `onlyNeighbours`: where what comes in between may take from one table to another. */
  constructor(private readonly onlyNeighbours: boolean) {}

  /** The step that comes into question, in time that does not grow with their number. */
  before(draft: StepDraft): Earlier<B> | undefined {
    const table = onlyTable(draft)
    const earlier = table === undefined ? undefined : this.last.get(table)
    return earlier && hasCheck(draft) && this.checked > earlier.at ? undefined : earlier
  }

  keep(step: Earlier<B>): void {
    const table = onlyTable(step.draft)
    if (table === undefined || this.onlyNeighbours) this.close()
    if (table !== undefined) this.last.set(table, step)
    if (hasCheck(step.draft)) this.checked = Math.max(this.checked, step.at)
  }

  /** What comes now may be of anything: nothing before it is joined by what comes later. */
  close(): void {
    this.last.clear()
  }
}

const hasCheck = ({ effects }: StepDraft): boolean => effects.some(({ address }) => address.kind === 'check')

/** The table that all of a draft is of; nothing where it is of none, of several, or of what others speak of by name. */
function onlyTable({ effects }: StepDraft): string | undefined {
  const tables = effects.map(({ action, address }) => {
    const { schema, table } = namesOf(address)
    const isOwn = OF_A_TABLE.has(address.kind) || (address.kind === 'table' && action === 'create')
    return isOwn && action !== 'rename' ? tableKey(schema, table) : undefined
  })
  return tables.every((table) => table === tables[0]) ? tables[0] : undefined
}
