// Tidewell Harbour: the demo design. Everything in it is made up.
import type { Departure, Design, Place } from '../src/lib/core/design'
import { builder } from './build'

const required = { required: true } as const

export function harbour(): Design {
  const b = builder('Tidewell Harbour')
  b.area('are_registers', 'Registers', 0)
  b.area('are_quayside', 'Quayside', 1)
  b.area('are_ledger', 'Ledger', 2)

  b.entity('are_registers', 'Country', 'A flag state, from the port register', [
    ['iso', 'char(2)', { key: true, ...required }],
    ['name', 'text(80)', { ...required, unique: true }]
  ])
  b.entity('are_registers', 'Port', 'A port that vessels come from or go to', [
    ['code', 'char(5)', { key: true, ...required, means: 'country and three letters' }],
    ['name', 'text(80)', required]
  ])
  b.entity('are_registers', 'Agent', 'Who acts for a vessel in the harbour', [
    ['name', 'text(100)', required],
    ['email', 'text(120)']
  ])
  b.entity('are_registers', 'Vessel', 'Anything that floats and pays', [
    ['imo', 'integer', { ...required, unique: true, means: 'the number painted on the hull' }],
    ['name', 'text(100)', required],
    ['length overall', 'decimal(6,2)', { dbName: 'loa', min: 0, means: 'in metres' }],
    ['trade', 'one of (bulk, tanker, ferry, cruise)', { default: 'ferry' }],
    ['registered', 'date', { default: 'now' }]
  ])
  b.entity('are_registers', 'Tug', 'A vessel that moves others', [
    ['bollard pull', 'decimal(6,1)', { ...required, min: 0, means: 'in tonnes' }]
  ])
  b.entity('are_registers', 'Barge', 'A vessel without an engine', [
    ['deck area', 'decimal(8,2)', { means: 'in square metres' }],
    ['hopper', 'boolean', { ...required, default: 'no' }]
  ])

  b.entity('are_quayside', 'Tide gauge', 'Where the height of the water is read', [
    ['name', 'text(60)', { ...required, unique: true }],
    ['datum', 'decimal(5,2)', { ...required, default: '0' }]
  ])
  b.entity('are_quayside', 'Tide reading', 'The height of the water at a moment', [
    ['taken at', 'timestamp with zone', { key: true, ...required }],
    ['height', 'decimal(5,2)', { ...required, means: 'above the datum, in metres' }]
  ])
  b.entity('are_quayside', 'Berth', 'A place at the quay', [
    ['code', 'text(8)', { key: true, ...required }],
    ['quay', 'text(60)', required],
    ['depth', 'decimal(4,1)', { min: 0 }]
  ])
  b.entity('are_quayside', 'Visit', 'A vessel’s stay, from the roads to the roads', [
    ['arrives at', 'timestamp', required],
    ['departs at', 'timestamp'],
    ['draught', 'decimal(4,1)', { min: 0, means: 'deepest, in metres' }]
  ])
  b.entity('are_quayside', 'Cargo line', 'One kind of goods on one visit', [
    ['line no', 'small', { key: true, ...required }],
    ['goods', 'text(120)', required],
    ['weight', 'decimal(10,3)', { min: 0, means: 'in tonnes' }],
    ['dangerous', 'boolean', { ...required, default: 'no' }]
  ])
  b.entity('are_quayside', 'Pilot', 'Who may take a vessel in', [
    ['licence', 'text(12)', { ...required, unique: true }],
    ['name', 'text(100)', required]
  ])
  b.entity('are_quayside', 'Pilotage job', 'A pilot taking a vessel in or out', [
    ['direction', 'one of (inbound, outbound, shift)', required],
    ['boarded at', 'timestamp'],
    ['left at', 'timestamp']
  ])
  b.entity('are_quayside', 'Inspection', 'A look at a vessel by the harbour office', [
    ['taken on', 'date', required],
    ['passed', 'boolean', { means: 'empty until it is decided' }]
  ])
  b.entity('are_quayside', 'Finding', 'What an inspection found', [
    ['line no', 'small', { key: true, ...required }],
    ['severity', 'one of (minor, major, detained)', required],
    ['remark', 'text']
  ])

  b.entity('are_ledger', 'Tariff', 'What a service costs', [
    ['code', 'text(10)', { key: true, ...required }],
    ['service', 'text(100)', required],
    ['rate', 'decimal(10,2)', { ...required, min: 0 }]
  ])
  b.entity('are_ledger', 'Invoice', 'What a visit costs its agent', [
    ['number', 'text(14)', { ...required, unique: true }],
    ['issued on', 'date', required],
    ['paid on', 'date']
  ])
  b.entity('are_ledger', 'Invoice line', 'One service on an invoice', [
    ['line no', 'small', { key: true, ...required }],
    ['quantity', 'decimal(10,3)', { ...required, default: '1' }],
    ['amount', 'decimal(12,2)', required]
  ])

  b.link('Port', 'Country')
  b.link('Agent', 'Country', { parentRequired: false })
  b.link('Agent', 'Agent', { parentRequired: false })
  b.link('Vessel', 'Country', { role: 'flag', before: 'length overall' })
  b.link('Vessel', 'Agent', { parentRequired: false })
  b.link('Tide reading', 'Tide gauge', { identifying: true, onDelete: 'cascade' })
  b.link('Berth', 'Tide gauge', { parentRequired: false })
  b.link('Visit', 'Vessel', { before: 'arrives at' })
  b.link('Visit', 'Berth', { parentRequired: false, before: 'arrives at', means: 'empty while at anchor' })
  b.link('Visit', 'Port', { role: 'last port', parentRequired: false })
  b.link('Visit', 'Port', { role: 'next port', parentRequired: false })
  b.link('Cargo line', 'Visit', { identifying: true, onDelete: 'cascade' })
  b.link('Vessel', 'Pilot', { kind: 'many-to-many', means: 'the vessels that a pilot may board' })
  b.link('Pilotage job', 'Visit', { before: 'direction' })
  b.link('Pilotage job', 'Pilot', { before: 'direction' })
  b.link('Pilotage job', 'Tug', { parentRequired: false })
  b.link('Inspection', 'Vessel', { before: 'taken on' })
  b.link('Finding', 'Inspection', {
    identifying: true,
    onDelete: 'cascade',
    childRequired: false,
    embedded: true,
    childRole: 'findings'
  })
  b.link('Invoice', 'Visit', { before: 'issued on' })
  b.link('Invoice', 'Agent', { before: 'issued on' })
  b.link('Invoice line', 'Invoice', { identifying: true, onDelete: 'cascade', childRequired: true })
  b.link('Invoice line', 'Tariff', { before: 'quantity' })

  b.domain('Level', 'decimal(5,2)', 'in metres, above the chart', [
    ['ent_tide_gauge', 'att_tide_gauge_datum'],
    ['ent_tide_reading', 'att_tide_reading_height']
  ])
  b.domain('Measure', 'decimal(10,3)', 'what is weighed or counted', [
    ['ent_cargo_line', 'att_cargo_line_weight'],
    ['ent_invoice_line', 'att_invoice_line_quantity']
  ])
  const { settings } = b.design
  b.edit({
    kind: 'design.set',
    set: { settings: { ...settings, abbreviations: { dwt: 'deadweight', est: 'estimated' } } }
  })

  b.edit({
    kind: 'all',
    edits: [
      {
        kind: 'object.set',
        collection: 'subtypes',
        object: {
          id: 'sub_vessel',
          supertype: 'ent_vessel',
          subtypes: ['ent_tug', 'ent_barge'],
          discriminator: 'craft',
          complete: false,
          exclusive: true
        }
      },
      {
        kind: 'part.set',
        list: 'rules',
        entity: 'ent_visit',
        part: { id: 'rul_visit_order', name: 'times', condition: '{att_visit_departs_at} > {att_visit_arrives_at}' }
      },
      {
        kind: 'part.set',
        list: 'indexes',
        entity: 'ent_visit',
        part: {
          id: 'idx_visit_arrives',
          unique: false,
          parts: [
            { id: 'att_visit_arrives_at', descending: true },
            { id: 'lnk_visit_berth', descending: false }
          ]
        }
      }
    ]
  })
  b.target('tgt_dev', 'dev')
  b.target('tgt_test', 'test', { engine: 'sqlite', version: '3.50', environment: 'test' })
  b.target('tgt_production', 'production', { environment: 'production', locked: true })
  b.target('tgt_vault', 'archive', {
    engine: 'mongodb',
    version: '7.0',
    environment: 'test',
    departures: archived(b.design)
  })
  b.edit({ kind: 'diagram.place', id: 'dia_all', places })
  return b.design
}

/** The archive has nothing but inspections, with what they found. */
const archived = ({ entities, links }: Design): Departure[] => [
  ...Object.keys(entities)
    .filter((id) => !['ent_inspection', 'ent_finding'].includes(id))
    .map((id) => ({ id, part: 'table', absent: true as const })),
  ...Object.values(links).flatMap(({ id, kind }) =>
    kind === 'many-to-many' ? [{ id, part: 'table', absent: true as const }] : []
  )
]

/** Where the cards stand on the diagram of everything. */
const places: Record<string, Place> = {
  ent_country: { x: 0, y: 0 },
  ent_port: { x: 240, y: 560 },
  ent_agent: { x: 0, y: 200 },
  ent_vessel: { x: 240, y: 60 },
  ent_tug: { x: 240, y: 310 },
  ent_barge: { x: 240, y: 420 },
  ent_pilot: { x: 610, y: 0 },
  ent_visit: { x: 610, y: 190 },
  ent_inspection: { x: 610, y: 740 },
  ent_berth: { x: 610, y: 460 },
  ent_pilotage_job: { x: 870, y: 20 },
  ent_cargo_line: { x: 870, y: 270 },
  ent_finding: { x: 870, y: 740 },
  ent_tide_gauge: { x: 870, y: 470 },
  ent_tide_reading: { x: 870, y: 610 },
  ent_invoice: { x: 1210, y: 190 },
  ent_invoice_line: { x: 1210, y: 410 },
  ent_tariff: { x: 1210, y: 610 }
}
