// Rows of the demo's database, for its earlier state. Two visits have not been given a time of arrival.
export const rows: readonly string[] = [
  `INSERT INTO country (iso, name) VALUES ('NL', 'Netherlands'), ('PT', 'Portugal'), ('NO', 'Norway'), ('MT', 'Malta')`,
  `INSERT INTO port (code, name, country_iso) VALUES ('NLSTH', 'Stellehaven', 'NL'), ('PTVMR', 'Vila do Mar', 'PT'), ('NOFJV', 'Fjordvik', 'NO')`,
  `INSERT INTO agent (name, email, fax, country_iso) VALUES ('Brandt and Daughters', 'desk@brandt.example', '00 11 22', 'NL'),
    ('Costa Agency', 'quay@costa.example', NULL, 'PT'), ('Northlight', NULL, '00 33 44', 'NO')`,
  `UPDATE agent SET parent_agent_id = 1 WHERE id = 2`,
  `INSERT INTO vessel (imo, name, flag_iso, length_m, trade, agent_id) VALUES (9000001, 'Grey Heron', 'NL', 182.5, 'bulk', 1),
    (9000002, 'Maré Alta', 'PT', 96.2, 'ferry', 2), (9000003, 'Lamplighter', 'NO', 229.0, 'tanker', 3),
    (9000004, 'Sturdy', 'NL', 31.4, NULL, 1), (9000005, 'Long Flat', 'MT', 75.0, NULL, NULL)`,
  `INSERT INTO tug (id, bollard_pull) VALUES (4, 62.5)`,
  `INSERT INTO barge (id, deck_area, hopper) VALUES (5, 900, true)`,
  `INSERT INTO tide_gauge (name, datum) VALUES ('Outer mole', 0), ('Lock head', 1.25)`,
  `INSERT INTO tide_reading (tide_gauge_id, taken_at, height) SELECT 1, '2026-03-01 00:00:00+00'::timestamptz + n * interval '1 hour',
    round((2 + 1.8 * sin(n / 1.97))::numeric, 2) FROM generate_series(0, 47) n`,
  `INSERT INTO berth (code, quay, depth, tide_gauge_id) VALUES ('N1', 'North quay', 11.5, 1), ('N2', 'North quay', 9.0, 1), ('S1', 'South quay', 6.5, 2)`,
  `INSERT INTO visit (vessel_id, berth_code, arrives_at, departs_at, last_port_code) VALUES
    (1, 'N1', '2026-03-01 06:10', '2026-03-02 18:00', 'PTVMR'), (2, 'S1', '2026-03-01 09:30', '2026-03-01 11:00', 'NLSTH'),
    (3, 'N2', '2026-03-02 04:45', NULL, 'NOFJV'), (2, 'S1', NULL, NULL, NULL), (5, NULL, NULL, NULL, NULL)`,
  `INSERT INTO cargo_line (visit_id, line_no, goods, weight, dangerous) VALUES (1, 1, 'Barley', 12400.5, false), (1, 2, 'Oats', 3100, false),
    (3, 1, 'Naphtha', 41800.25, true)`,
  `INSERT INTO pilot (licence, name) VALUES ('TW-0012', 'Ines Falk'), ('TW-0019', 'Bram Okafor')`,
  `INSERT INTO pilot_vessel (pilot_id, vessel_id) VALUES (1, 1), (1, 3), (2, 1), (2, 2)`,
  `INSERT INTO pilotage_job (visit_id, pilot_id, direction, boarded_at, tug_id) VALUES (1, 1, 'inbound', '2026-03-01 05:20', 4),
    (3, 1, 'inbound', '2026-03-02 03:50', NULL)`,
  `INSERT INTO inspection (vessel_id, taken_on, passed) VALUES (1, '2026-03-01', true), (3, '2026-03-02', NULL)`,
  `INSERT INTO tariff (code, service, rate) VALUES ('BERTH', 'Berth, a day', 420), ('PILOT', 'Pilotage', 310.5)`,
  `INSERT INTO invoice (number, visit_id, agent_id, issued_on) VALUES ('2026-000001', 1, 1, '2026-03-03')`,
  `INSERT INTO invoice_line (invoice_id, line_no, tariff_code, quantity, amount) VALUES (1, 1, 'BERTH', 2, 840), (1, 2, 'PILOT', 1, 310.5)`
]

/** Fewer rows, in words that every engine understands and for the design as it is. */
export const withoutClock: readonly string[] = [
  `INSERT INTO country (iso, name) VALUES ('NL', 'Netherlands'), ('PT', 'Portugal')`,
  `INSERT INTO port (code, name, country_iso) VALUES ('NLSTH', 'Stellehaven', 'NL')`,
  `INSERT INTO agent (name, country_iso) VALUES ('Brandt and Daughters', 'NL')`,
  `INSERT INTO vessel (imo, name, flag_iso, loa, trade, agent_id) VALUES (9000001, 'Grey Heron', 'NL', 182.5, 'bulk', 1),
    (9000002, 'Maré Alta', 'PT', 96.2, 'ferry', NULL)`,
  `INSERT INTO berth (code, quay, depth) VALUES ('N1', 'North quay', 11.5)`,
  `INSERT INTO visit (vessel_id, berth_code, arrives_at) VALUES (1, 'N1', '2026-03-01 06:10')`
]
