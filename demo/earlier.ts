// The state that the demo's database was left in: a few changes behind the design.
import { edit, type Design, type Edit } from '../src/lib/core/design'

const steps: readonly Edit[] = [
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
  { kind: 'entity.remove', id: 'ent_finding' }
]

export const earlier = (design: Design): Design => steps.reduce(edit, design)
