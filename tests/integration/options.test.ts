// Whatever option is offered can be said: the engine takes it in a script, shows it as it was said, comes to it by a plan where the
// dialect says that it does, and is rid of it again.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { sameOrigin, typeText } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { edit, newDesign, newTarget, type Design } from '../../src/lib/core/design'
import { dialect as dialectOf, type DeclaredOption } from '../../src/lib/core/dialects'
import { readJot } from '../../src/lib/core/jot'
import type { Migration } from '../../src/lib/core/plan'
import { optionsOf, session, withOption, type Optioned } from '../../src/lib/core/session'
import { runMigration, type LiveDatabase } from '../../src/lib/live'
import { emptyStandIn } from '../support/documents'
import { ENGINES_UNDER_TEST, type EngineUnderTest, type Playground } from '../support/engines'

const HARBOUR = readJot(
  `entity Vessel
  imo: integer key
  name: text(80) required
  mark: text(12)
  trade: one of (bulk, tanker, "ro-ro")
  built at: timestamp
  limit: big
  unique (mark)
  index (name)
  index (built at)
  index (limit)

entity Visit
  vessel: Vessel required
  draught: decimal(5,2) min 0
  check (draught < 30)

entity Tide
  station: integer key
  height: decimal(4,2)
`,
  newDesign('Tidewell')
).design

/** Values to try of options that have no list of them. */
const SAMPLES: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  postgres: {
    'access method': 'heap',
    'replica identity': 'full',
    'cluster on': 'ix_vessel_name',
    statistics: '200',
    operators: 'text_pattern_ops',
    collation: '"C"',
    'comment on index': 'for the pilots',
    'set only': 'vessel_imo',
    'not null': 'vessel_has_it'
  },
  mariadb: {
    'on update': 'current_timestamp(6)',
    'partition by':
      'RANGE (`station`) (PARTITION `old` VALUES LESS THAN (1000000), PARTITION `rest` VALUES LESS THAN MAXVALUE)'
  },
  firebird: { collation: 'UNICODE_CI' },
  mysql: {
    'on update': 'current_timestamp(6)',
    'partition by':
      'RANGE (`station`) (PARTITION `old` VALUES LESS THAN (1000000), PARTITION `rest` VALUES LESS THAN MAXVALUE)'
  },
  mongodb: {
    more: '{"not":{"enum":["none"]}}',
    validator: '{"$expr":{"$gt":["$limit",0]}}',
    schema: '{"additionalProperties":true}',
    size: '4096',
    max: '10',
    collation: '{"locale":"de"}',
    timeseries: '{"timeField":"built_at"}',
    expireAfterSeconds: '3600',
    clusteredIndex: '{"key":{"_id":1},"unique":true}',
    changeStreamPreAndPostImages: '{"enabled":true}',
    partial: '{"imo":{"$gt":3}}',
    weights: '{"name":10}',
    default_language: 'german',
    language_override: 'tongue',
    bits: '20',
    min: '-90',
    wildcardProjection: '{"name":1}'
  }
}

/** What has a sense only together with something else, or where something else is: these are not tried by themselves. */
const TOGETHER: Readonly<Record<string, readonly string[]>> = {
  // Hash is of MEMORY, spatial of places.
  mariadb: ['method'],
  mysql: ['method'],
  postgres: ['partition by', 'set only', 'without overlaps'],
  mongodb: ['size', 'max', 'weights', 'bits', 'min', 'wildcardProjection', 'language_override', 'default_language']
}

/** What an engine refuses of everything in this design. */
const REFUSED: Readonly<Record<string, readonly string[]>> = {
  postgres: [
    'has no default operator class for access method',
    'constraints on permanent tables may reference only permanent tables',
    'compression method lz4 not supported'
  ],
  sqlite: ['unknown datatype'],
  mariadb: ["Unknown storage engine 'ARCHIVE'", 'Too many keys specified; max 0', 'Wrong create options'],
  mongodb: ['The stand-in keeps no collection with', "the 'size' field is required"]
}

const DOCUMENTS: EngineUnderTest = {
  id: 'mongodb',
  label: 'stand-in for MongoDB',
  engine: 'mongodb',
  open: async () => {
    const dialect = dialectOf('mongodb')
    if (!dialect) throw new Error('it is known')
    let live: LiveDatabase = await emptyStandIn()
    return {
      dialect,
      get live() {
        return live
      },
      exec: async (sql) => {
        const [outcome] = await live.run([sql])
        if (outcome?.error) throw new Error(outcome.error.message)
      },
      reset: async () => {
        live = await emptyStandIn()
      }
    } as Playground
  }
}

describe.each([...ENGINES_UNDER_TEST, DOCUMENTS])('$label', ({ engine, version, open, lacking }) => {
  let db: Playground
  const target = newTarget('dev', { engine, ...(version ? { version } : {}) })
  const start = edit(HARBOUR, { kind: 'object.set', collection: 'targets', object: target })
  beforeAll(async () => {
    if (lacking === undefined) db = await open()
  }, 120_000)
  afterAll(() => db?.close?.())

  const opened = (design: Design) => session(design, design.targets[target.id] ?? target, db.dialect)
  const placesOf = (design: Design) =>
    Object.keys(design.entities).flatMap((entity) => optionsOf(design, target.id, entity))
  const set = (design: Design, place: Optioned, name: string, value?: string): Design => {
    const made = withOption(design, target.id, place, name, value)
    if (typeof made === 'string') throw new Error(made)
    return edit(design, made)
  }
  const differences = async (design: Design) =>
    compare({ wanted: opened(design).catalog, live: await db.live.catalog() }, db.dialect).changes
  async function ran(migration: Migration) {
    const { how } = await runMigration(migration, db.live, db.dialect, {
      onResults: (told) =>
        told.forEach(({ step, result }) => expect(result, step.statement).toMatchObject({ state: 'done' }))
    })
    expect(how).toBe('complete')
  }

  async function made(design: Design) {
    await db.reset()
    for (const { sql } of opened(design).script()) await db.exec(sql)
  }

  /** Says it, in a script and by a plan, and takes it away; what was refused on the way, or nothing. */
  async function tried(place: Optioned, option: DeclaredOption, value: string): Promise<string | undefined> {
    const design = set(start, place, option.name, value)
    expect(set(design, place, option.name)).toEqual(start)
    const said = placesOf(design).find(
      (one) => place.kind === one.kind && place.part === one.part && sameOrigin(place.origin, one.origin)
    )
    expect([value, '']).toContain(said?.said.find(({ name }) => name === option.name)?.value)
    try {
      await made(design)
    } catch (error) {
      return error instanceof Error ? error.message : String(error)
    }
    expect(await differences(design)).toEqual([])
    if (option.changes === 'never') return undefined
    await made(start)
    const before = await db.live.catalog()
    const { migration, back } = opened(design)
      .beside({ live: before, agreed: opened(start).catalog })
      .plan()
    expect(migration.left ?? []).toEqual([])
    await ran(migration)
    expect(await differences(design)).toEqual([])
    await ran(back)
    expect(compare({ wanted: before, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
    return undefined
  }

  it.skipIf(lacking !== undefined)(
    'each is taken of something, in each of its values',
    async () => {
      const places = placesOf(start)
      const refused: string[] = []
      let taken = 0
      for (const option of db.dialect.options) {
        if (option.found || option.every || TOGETHER[engine]?.includes(option.name)) continue
        const { name, on, values } = option
        const sample = SAMPLES[engine]?.[name]
        const list = typeof values === 'string' ? (sample === undefined ? [] : [sample]) : values
        for (const value of list.filter((one) => one !== option.usual))
          for (const kind of on) {
            const whys = new Set<string>()
            const offered = places.filter((place) => place.kind === kind && place.offered.includes(option))
            let isTaken = false
            for (const place of offered) {
              const why = await tried(place, option, value)
              isTaken = why === undefined
              if (isTaken) break
              whys.add(why ?? '')
            }
            if (isTaken) taken++
            else if (offered.length > 0) refused.push(`${kind} ${name} ${value}: ${[...whys].join(' | ')}`)
          }
      }
      expect(refused.filter((one) => !REFUSED[engine]?.some((why) => one.includes(why)))).toEqual([])
      expect(taken > 0).toBe(db.dialect.options.some(({ found }) => !found))
    },
    240_000
  )
})

it('allowed values are the type of a column of MariaDB and MySQL where a target says so, and a check again where it does not', () => {
  for (const engine of ['mariadb', 'mysql']) {
    const target = newTarget('dev', { engine })
    const design = edit(HARBOUR, { kind: 'object.set', collection: 'targets', object: target })
    const dialect = dialectOf(engine)
    const vessel = Object.values(design.entities).find(({ name }) => name === 'Vessel')
    const trade = optionsOf(design, target.id, vessel?.id ?? '').find(({ name }) => name === 'trade')
    if (!trade || !dialect) throw new Error('It has a trade.')
    const shown = (of: Design) => {
      const { tables } = session(of, of.targets[target.id] ?? target, dialect).catalog
      const table = tables.find(({ name }) => name === 'vessel')
      const column = table?.columns.find(({ name }) => name === 'trade')
      return [column && typeText(column.type), table?.checks.length]
    }
    const before = shown(design)
    expect(before[0]).toBe('varchar(20)')
    const made = withOption(design, target.id, trade, 'allowed values', 'enum')
    if (typeof made === 'string') throw new Error(made)
    expect(shown(edit(design, made))).toEqual(["enum('bulk','tanker','ro-ro')", Number(before[1]) - 1])
    const back = withOption(edit(design, made), target.id, trade, 'allowed values', undefined)
    if (typeof back === 'string') throw new Error(back)
    expect(shown(edit(edit(design, made), back))).toEqual(before)
  }
})
