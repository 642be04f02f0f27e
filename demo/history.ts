// What each of the demo's databases was left as: what it last agreed on with the design, and what happened to it since.
import { edit, type Design, type Edit, type Target } from '../src/lib/core/design'
import { harbour } from './harbour'
import { documents, misfits } from './documents'
import { rows, withoutClock } from './rows'

interface History {
  /** The design as the database last had it. */
  readonly agreed: Design
  /** Statements that somebody ran behind everyone's back. */
  readonly later: readonly string[]
}

const lastSpring: readonly Edit[] = [
  { kind: 'attribute.set', entity: 'ent_vessel', id: 'att_vessel_length_overall', set: { dbName: 'length_m' } },
  {
    kind: 'attribute.set',
    entity: 'ent_vessel',
    id: 'att_vessel_trade',
    set: { type: { kind: 'oneOf', values: ['bulk', 'tanker', 'ferry'] } }
  },
  {
    kind: 'attribute.set',
    entity: 'ent_berth',
    id: 'att_berth_depth',
    set: { type: { kind: 'decimal', precision: 3, scale: 1 } }
  },
  { kind: 'attribute.set', entity: 'ent_visit', id: 'att_visit_arrives_at', set: { required: false } },
  { kind: 'attribute.remove', entity: 'ent_visit', id: 'att_visit_draught' },
  { kind: 'attribute.remove', entity: 'ent_invoice', id: 'att_invoice_paid_on' },
  {
    kind: 'attribute.add',
    entity: 'ent_agent',
    attribute: { id: 'att_agent_fax', name: 'fax', type: { kind: 'text', length: 30 }, required: false }
  },
  { kind: 'object.remove', collection: 'entities', id: 'ent_finding' }
]

/** In production the harbour office widened a column, and somebody else changed one that the design changed too. */
const behindOurBack = [
  `ALTER TABLE tariff ALTER COLUMN service TYPE varchar(160)`,
  `ALTER TABLE berth ALTER COLUMN depth TYPE numeric(5,2)`,
  `CREATE VIEW in_port AS SELECT v.name, b.code AS berth, s.arrives_at FROM visit s JOIN vessel v ON v.id = s.vessel_id
    LEFT JOIN berth b ON b.code = s.berth_code WHERE s.departs_at IS NULL`
]

const earlier = (design: Design): Design => lastSpring.reduce(edit, design)

/** The archive does not know yet that a finding may have a vessel detained. */
const beforeDetention: Edit = {
  kind: 'attribute.set',
  entity: 'ent_finding',
  id: 'att_finding_severity',
  set: { type: { kind: 'oneOf', values: ['minor', 'major'] } }
}

export function history(target: Target): History {
  if (target.name === 'archive') return { agreed: edit(harbour(), beforeDetention), later: misfits }
  if (target.name === 'test') return { agreed: harbour(), later: [] }
  return { agreed: earlier(harbour()), later: target.name === 'production' ? behindOurBack : [] }
}

/** Rows for a target's database as it last agreed with the design. */
export const rowsOf = ({ name }: Target): readonly string[] =>
  name === 'archive' ? documents : name === 'test' ? withoutClock : rows
