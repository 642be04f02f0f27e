// Tables that only stand between two others become the links that they are, and tables whose rows are rows of another one its
// subtypes, under the names that they have.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { catalogs } from '../../../../tests/support/catalogs'
import { canonical, findTable, memberAddress, type Catalog, type ForeignKey, type Table } from '../catalog'
import { compare } from '../compare'
import { derive, readDesign } from '../derive'
import { edit, newEntity, printDesign } from '../design'
import { dialect as dialectOf, ENGINES, type Dialect } from '../dialects'
import { accepted, suggestions } from '../infer'
import { adopt, asManyToMany } from '.'

/** Where documents hold others, there are no foreign keys to tell it by. */
const known = ENGINES.flatMap(({ id }) => dialectOf(id) ?? []).filter(({ profile }) => !profile.features.fields)

/** A catalogue with tables between each two that have keys, and tables whose keys lead to such. */
const withShapes = (dialect: Dialect, cased = dialect.write.lexis.fold) =>
  fc.tuple(catalogs(dialect), fc.constantFrom('cascade', 'no action'), fc.boolean()).map(([catalog, action, plain]) => {
    const keyed = catalog.tables.filter((table) => table.primaryKey && !table.partition && !table.inherits)
    const pairs = keyed.slice(1).flatMap((b, i) => (keyed[i] ? [[keyed[i], b] as const] : []))
    const made = pairs.slice(0, 2).map(([a, b], n): Table => {
      const ends = [a, b].map((table, end) => {
        const key = (table.primaryKey?.columns ?? []).flatMap(
          (name) => table.columns.find((c) => c.name === name) ?? []
        )
        const columns = key.map(({ name, type }, i) => ({
          name: plain ? `e${end}_${name}`.slice(0, 25) : cased(`between_${end}_${i}`, false),
          type,
          nullable: false
        }))
        const fk: ForeignKey = {
          name: cased(`between_${n}_${end}`, false),
          columns: columns.map(({ name }) => name),
          references: { schema: table.schema, table: table.name, columns: key.map(({ name }) => name) },
          onDelete: action as ForeignKey['onDelete'],
          onUpdate: 'no action',
          deferrable: 'no'
        }
        return { columns, fk }
      })
      const columns = ends.flatMap((end) => end.columns)
      const name = cased(`between_${n}`, false)
      return {
        schema: a.schema,
        name,
        columns,
        primaryKey: {
          name: cased(plain ? `pk_${name}` : `${name}_key`, false),
          columns: columns.map((column) => column.name)
        },
        uniques: [],
        foreignKeys: ends.map(({ fk }) => fk),
        checks: [],
        indexes: []
      }
    })
    const special = keyed.slice(0, 2).map((parent, n): Table => {
      const key = parent.primaryKey?.columns ?? []
      const columns = key.flatMap((name) => parent.columns.find((c) => c.name === name) ?? [])
      const name = cased(`special_${n}`, false)
      return {
        schema: parent.schema,
        name,
        columns: [
          ...columns.map(({ name, type }) => ({ name, type, nullable: false })),
          ...columns.slice(0, 1).map(({ type }) => ({ name: cased('more_of_it', false), type, nullable: plain }))
        ],
        primaryKey: { name: cased(`${name}_key`, false), columns: key },
        uniques: [],
        foreignKeys: [
          {
            name: cased(plain ? `fk_${name}_up` : `up_from_${n}`, false),
            columns: key,
            references: { schema: parent.schema, table: parent.name, columns: key },
            onDelete: action as ForeignKey['onDelete'],
            onUpdate: 'no action',
            deferrable: 'no'
          }
        ],
        checks: [],
        indexes: []
      }
    })
    return { ...catalog, tables: [...catalog.tables, ...made, ...special] }
  })

describe.each(known.map((dialect) => [dialect.profile.label, dialect] as const))(
  'in a database of %s',
  (_, dialect) => {
    it('they are found, become what they are, and what is wanted there is what was there', () => {
      let [links, subtypes] = [0, 0]
      fc.assert(
        fc.property(withShapes(dialect), ({ partial: _partial, ...plain }: Catalog) => {
          const catalog = dialect.settle?.(plain) ?? plain
          const { between, special } = accepted(
            suggestions(catalog, dialect).filter((one) => one.between ?? one.special)
          )
          const { design, target, left } = adopt(catalog, dialect, {
            name: 'Tidewell',
            target: 'quay',
            between,
            special
          })
          expect(left).toEqual([])
          const file = readDesign(printDesign(design))
          if (!file.ok) throw new Error(file.notices.map(({ message }) => message).join())
          const { partial: _p, ...wanted } = derive(
            file.value,
            file.value.targets[target.id] ?? target,
            dialect
          ).catalog
          expect(compare({ wanted, live: catalog }, dialect).changes).toEqual([])
          expect(canonical(wanted)).toEqual(canonical(catalog))
          links += Object.values(design.links).filter(({ kind }) => kind === 'many-to-many').length
          subtypes += Object.values(design.subtypes).length
        }),
        { numRuns: 60 }
      )
      expect(Math.min(links, subtypes)).toBeGreaterThan(10)
    })
  }
)

describe('an entity', () => {
  const postgres = dialectOf('postgres') as Dialect
  const SCRIPT = `CREATE TABLE pilot (id integer PRIMARY KEY); CREATE TABLE vessel (imo integer PRIMARY KEY);
    CREATE TABLE knows (vessel_imo integer NOT NULL CONSTRAINT known REFERENCES vessel, pilot_no integer NOT NULL CONSTRAINT knows REFERENCES pilot,
      CONSTRAINT knows_once PRIMARY KEY (vessel_imo, pilot_no))`
  const read = postgres.readScript?.(SCRIPT).catalog as Catalog
  const { design, target } = adopt(read, postgres, { name: 'Tidewell', target: 'quay' })
  const knows = Object.values(design.entities).find(({ name }) => name === 'Knows')

  it('that says no more than a link becomes one, and its target keeps every name', () => {
    const change = asManyToMany(design, knows?.id ?? '')
    expect(change).toBeDefined()
    const after = change ? edit(design, change) : design
    const wanted = derive(after, after.targets[target.id] ?? target, postgres).catalog
    expect(compare({ wanted, live: read }, postgres).changes).toEqual([])
    const table = findTable(wanted, 'public', 'knows')
    expect(table?.foreignKeys.map((fk) => memberAddress(table, 'foreignKey', fk).path.at(-1))).toEqual([
      'known',
      'knows'
    ])
  })

  it('that says more stays: a column, a rule, an index, another link, or a name in a view', () => {
    const id = knows?.id ?? ''
    const [first = ''] = knows?.attributes.map((one) => one.id) ?? []
    const tug = newEntity('Tug', {})
    const more = [
      edit(design, { kind: 'attribute.set', entity: id, id: first, set: { means: 'who was there first' } }),
      edit(design, {
        kind: 'entity.set',
        id,
        set: { indexes: [{ id: 'idx_1', unique: false, parts: [{ id: first, descending: false }] }] }
      }),
      edit(design, { kind: 'entity.set', id, set: { namespace: 'elsewhere' } }),
      edit(edit(design, { kind: 'object.set', collection: 'entities', object: tug }), {
        kind: 'object.set',
        collection: 'subtypes',
        object: {
          id: 'sub_1',
          supertype: id,
          subtypes: [tug.id],
          discriminator: 'kind',
          complete: false,
          exclusive: false
        }
      })
    ]
    expect(more.map((other) => asManyToMany(other, id))).toEqual([undefined, undefined, undefined, undefined])
  })
})
