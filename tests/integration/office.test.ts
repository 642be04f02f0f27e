// A desktop office database of somebody else's; and what such files say of relationships, of which that one has none.
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { adopt } from '../../src/lib/core/adopt'
import { typeText } from '../../src/lib/core/catalog'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { catalogOfOffice, type OfficeColumn, type OfficeRelation } from '../../src/lib/core/infer'
import { isOffice, readOffice } from '../../src/lib/live/office'
import { OFFICE_PACKAGE } from '../foreign/packages'
import { packagedFiles } from '../support/packaged'

const postgres = dialectOf('postgres') as Dialect

const column = (name: string, type: string, more: Partial<OfficeColumn> = {}): OfficeColumn => ({
  name,
  type,
  size: 4,
  autoLong: false,
  ...more
})
const relation = (name: string, child: string, parent: string, icolumn = 0, grbit = 0): OfficeRelation => {
  const [szObject = '', szColumn = ''] = child.split('.')
  const [szReferencedObject = '', szReferencedColumn = ''] = parent.split('.')
  return { szRelationship: name, szObject, szColumn, szReferencedObject, szReferencedColumn, icolumn, grbit }
}

describe('office databases', () => {
  it('relationships that are enforced are foreign keys, and what they lead to is a key', () => {
    const catalog = catalogOfOffice(
      {
        bytesPerCharacter: 2,
        tables: [
          {
            name: 'Berths',
            columns: [column('Quay', 'text', { size: 40 }), column('Number', 'byte'), column('Depth', 'currency')],
            rows: []
          },
          {
            name: 'Visits',
            columns: [
              column('ID', 'long', { autoLong: true }),
              column('Quay', 'text', { size: 40 }),
              column('Berth', 'byte'),
              column('After', 'long'),
              column('Papers', 'complex')
            ],
            rows: [
              ['1', 'north', '3', ''],
              ['2', 'north', '3', '1']
            ]
          }
        ],
        relations: [
          // Columns of one relationship in any order; cascades; one that is not enforced.
          relation('BerthsVisits', 'Visits.Berth', 'Berths.Number', 1, 4096 + 256),
          relation('BerthsVisits', 'Visits.Quay', 'Berths.Quay', 0, 4096 + 256),
          relation('VisitsVisits', 'Visits.After', 'Visits.ID'),
          relation('Loose', 'Visits.Berth', 'Visits.ID', 0, 2)
        ],
        left: [{ kind: 'query', name: 'Late' }]
      },
      postgres
    )
    const [berths, visits] = catalog.tables
    expect(berths?.primaryKey?.columns).toEqual(['Quay', 'Number'])
    expect(berths?.columns.map(({ name, type, nullable }) => `${name} ${typeText(type)} ${nullable}`)).toEqual([
      'Quay varchar(20) false',
      'Number smallint false',
      'Depth numeric(19,4) true'
    ])
    expect(visits?.primaryKey?.columns).toEqual(['ID'])
    expect(visits?.foreignKeys).toMatchObject([
      {
        name: 'BerthsVisits',
        columns: ['Quay', 'Berth'],
        references: { table: 'Berths', columns: ['Quay', 'Number'] },
        onDelete: 'cascade',
        onUpdate: 'cascade'
      },
      {
        name: 'VisitsVisits',
        columns: ['After'],
        references: { table: 'Visits', columns: ['ID'] },
        onDelete: 'no action'
      }
    ])
    expect(catalog.unread.map(({ kind, name }) => `${kind} ${name}`)).toEqual([
      'query Late',
      'list or attachment Visits.Papers'
    ])
    const { design, left } = adopt(catalog, postgres, { name: 'Quays', target: 'quays' })
    expect(left).toEqual([])
    expect(Object.values(design.links)).toHaveLength(2)
  })

  it('a file of somebody else’s is read, as other tools of the trade read it', async ({ skip }) => {
    const found = packagedFiles(OFFICE_PACKAGE)
    if ('lacking' in found) return skip(found.lacking)
    const bytes = readFileSync(found.paths[0] ?? '')
    expect(isOffice(bytes)).toBe(true)
    const [table, ...others] = catalogOfOffice(await readOffice(bytes), postgres).tables
    expect(others).toEqual([])
    expect(table?.primaryKey?.columns).toEqual(['ID'])
    // As `mdb-schema` of Debian's mdbtools prints it, in this engine's words.
    expect(
      table?.columns.map(({ name, type, nullable }) => `${name} ${typeText(type)}${nullable ? '' : ' NOT NULL'}`)
    ).toEqual([
      'ID integer NOT NULL',
      'LineNumber numeric(18,0)',
      'LinePassword varchar(8)',
      'LineSpeed numeric(18,0)',
      'EMail_Address varchar(50)',
      ...['Day', 'Week', 'Month', 'Year', 'EMail'].map((name) => `Graph_${name} boolean NOT NULL`),
      'LastVisit timestamp',
      'Comment varchar(255)'
    ])
    expect(table?.columns[0]?.identity).toBe('by default')
  })

  it('what only begins as one is refused with the reason', async () => {
    const bytes = Buffer.concat([Buffer.from([0, 1, 0, 0]), Buffer.from('Standard Jet DB\0'), Buffer.alloc(4096)])
    expect(isOffice(bytes)).toBe(true)
    await expect(readOffice(bytes)).rejects.toThrow()
    expect(isOffice(Buffer.from('SQLite format 3\0 and more than that'))).toBe(false)
  })
})
