// Documents of the demo's archive: inspections with what they found. Two were put in before anybody said what one must have.
interface Found {
  readonly line_no: number
  readonly severity: string
  readonly remark?: string
}

/** An id that is the same every time: twelve bytes in hexadecimal digits. */
const id = (kind: number, n: number) => ({
  $oid: `66e0${kind.toString(16).padStart(8, '0')}${n.toString(16).padStart(12, '0')}`
})

const inspection = (
  n: number,
  vessel: number,
  taken: string,
  passed: boolean | undefined,
  findings: readonly Found[]
) => ({
  _id: id(1, n),
  vessel_id: id(2, vessel),
  taken_on: { $date: `${taken}T00:00:00Z` },
  ...(passed === undefined ? {} : { passed }),
  ...(findings.length > 0 ? { findings } : {})
})

const put = (documents: readonly object[], more: object = {}): string =>
  JSON.stringify({ insert: 'inspection', documents, ...more })

export const documents: readonly string[] = [
  put([
    inspection(1, 1, '2024-05-14', true, []),
    inspection(2, 3, '2024-09-02', true, [{ line_no: 1, severity: 'minor', remark: 'life raft overdue for service' }]),
    inspection(3, 2, '2025-01-20', false, [
      { line_no: 1, severity: 'major', remark: 'emergency pump does not start' },
      { line_no: 2, severity: 'minor' }
    ]),
    inspection(4, 5, '2025-03-08', undefined, [{ line_no: 1, severity: 'minor', remark: 'draught marks worn' }]),
    inspection(5, 1, '2025-11-03', true, [])
  ])
]

/** One has no date, the other a finding of a weight that there was once. */
export const misfits: readonly string[] = [
  put([{ _id: id(1, 6), vessel_id: id(2, 4), passed: true }], { bypassDocumentValidation: true }),
  put([inspection(7, 4, '2023-02-11', false, [{ line_no: 1, severity: 'grave' }])], { bypassDocumentValidation: true })
]
