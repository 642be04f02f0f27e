// Texts and bytes without a limit in keys, links and indexes, on every engine that takes none whole: what is derived can be made there,
// and rows are told apart by as much as is told.
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import {
  newAttribute,
  newDesign,
  newEntity,
  newLink,
  newTarget,
  type Design,
  type Entity
} from '../../src/lib/core/design'
import { session } from '../../src/lib/core/session'
import { parseType } from '../../src/lib/core/types'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const TYPES = [
  'text',
  'text',
  'binary',
  'integer',
  'text(40)',
  'text(600)',
  'char(3)',
  'timestamp',
  'decimal(12,2)',
  'uuid'
]

/** An attribute's type, and whether it is in the key, in a unique rule, in one index, and in another. */
type Drawn = readonly [type: string, inKey: boolean, inUnique: boolean, inFirst: boolean, inSecond: boolean]

const drawn: fc.Arbitrary<readonly Drawn[]> = fc.array(
  fc.tuple(fc.constantFrom(...TYPES), fc.boolean(), fc.boolean(), fc.boolean(), fc.boolean()),
  { minLength: 1, maxLength: 5 }
)

/** What is short, or has no limit and gets as much as there is room for: no key of these is one that an engine has no room for. */
const fits = (type: string, most: number, before: number): boolean => type !== 'text(600)' && before < most

function entity(name: string, id: string, columns: readonly Drawn[]): Entity {
  const attributes = columns.map(([type], i) => {
    const read = parseType(type)
    if (!read.ok) throw new Error(type)
    return newAttribute(`${name} ${'abcde'.charAt(i)}`, { id: `att_${id}_${i}`, type: read.value, required: true })
  })
  const those = (at: 1 | 2 | 3 | 4, most: number) => {
    const chosen: string[] = []
    for (const [i, column] of columns.entries())
      if (column[at] && fits(column[0], most, chosen.length) && attributes[i]) chosen.push(attributes[i].id)
    return chosen
  }
  const index = (at: 3 | 4) => {
    const chosen = those(at, 4)
    return chosen.length > 0
      ? [{ id: `idx_${id}_${at}`, parts: chosen.map((part) => ({ id: part, descending: false })), unique: false }]
      : []
  }
  const unique = those(2, 4)
  return newEntity(name, {
    id: `ent_${id}`,
    attributes,
    order: attributes.map((attribute) => attribute.id),
    primaryKey: those(1, 3),
    uniques: unique.length > 0 ? [{ id: `key_${id}`, parts: unique }] : [],
    indexes: [...index(3), ...index(4)]
  })
}

function designOf(parent: readonly Drawn[], child: readonly Drawn[]): Design {
  const [above, below] = [entity('Berth', 'berth', parent), entity('Visit', 'visit', child)]
  const design: Design = { ...newDesign('Keys'), entities: { [above.id]: above, [below.id]: below } }
  const link = { ...newLink(design, above, below, {}), id: 'lnk_it' }
  return {
    ...design,
    entities: { ...design.entities, [below.id]: { ...below, order: [link.id, ...below.order] } },
    links: { [link.id]: link }
  }
}

const engines = ENGINES_UNDER_TEST.filter(({ engine }) => ['mariadb', 'mysql', 'firebird'].includes(engine))

describe.each(engines)('$label', ({ open, engine, version, lacking }) => {
  let db: Playground
  beforeAll(async () => {
    if (!lacking) db = await open()
  }, 120_000)
  afterAll(() => db?.close())

  it.skipIf(lacking)(
    'makes every key and index',
    async () => {
      let limited = 0
      await fc.assert(
        fc.asyncProperty(drawn, drawn, async (parent, child) => {
          await db.reset()
          const target = newTarget('here', { engine, ...(version === undefined ? {} : { version }) })
          const here = session({ ...designOf(parent, child), targets: {} }, target, db.dialect)
          for (const { sql } of here.script()) await db.exec(sql)
          const left = compare({ wanted: here.catalog, live: await db.live.catalog() }, db.dialect).changes
          expect(left.filter((change) => change.action !== 'alter' || change.certain)).toEqual([])
          limited += here.notices.filter(({ code }) => code === 'limited-in-key').length
        }),
        { numRuns: Number(process.env['CASES'] ?? 40), endOnFailure: process.env['NO_SHRINK'] === '1' }
      )
      expect(limited).toBeGreaterThan(10)
    },
    300_000
  )
})
