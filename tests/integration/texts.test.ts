// Whatever stands inside quotes stays as it is: defaults, allowed values, conditions and meanings with every mark that some
// engine reads something into come back as they were typed, and the database is in step.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { edit, newAttribute, newDesign, newEntity, newLink, type Design } from '../../src/lib/core/design'
import type { Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { derive } from '../../src/lib/core/derive'
import { writeScript, plan } from '../../src/lib/core/plan'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const texts = [
  'In Port',
  'in port',
  'C:\\',
  '\\',
  "it's",
  "''",
  '"quay"',
  '`tick`',
  '⚓🚢 quay',
  '🏴‍☠️',
  'one\ntwo',
  'one\r\ntwo',
  'tab\there',
  'a -- b /* c */ # d',
  '{att} ; GO',
  '%s %d _ $$ $1 :name ?',
  "\\' \\n \\0",
  'null',
  'NULL',
  'true',
  '0x41',
  '  spaces  ',
  'Größe ŷ 東京',
  'now()',
  '(1 + 1)',
  "N'x' E'\\n' q'[x]'"
]
const quoted = (text: string) => `"${text}"`
const attribute = (n: number, text: string, more = {}) =>
  newAttribute(`text ${n}`, {
    id: `att_${n}`,
    type: { kind: 'text', length: 60 },
    default: quoted(text),
    means: `${text} means ${text}`,
    ...more
  })

function design(): Design {
  const vessel = newEntity('Vessel', {
    id: 'ent_vessel',
    means: texts.join(' '),
    attributes: [
      ...texts.map((text, n) => attribute(n, text)),
      // Each label that no engine takes for one of the others.
      newAttribute('state', {
        id: 'att_state',
        type: { kind: 'oneOf', values: texts.filter((text) => !['in port', 'NULL'].includes(text)) },
        default: quoted('C:\\')
      })
    ],
    // A condition is the engine's own text: a backslash in it is what the engine takes it for.
    rules: texts
      .filter((text) => !text.includes('\\'))
      .map((text, n) => ({ id: `rul_${n}`, condition: `{att_state} <> 'no ${text.replaceAll("'", "''")}'` }))
  })
  return edit(newDesign('Tidewell'), { kind: 'object.set', collection: 'entities', object: vessel })
}

/** What is otherwise for certain, and what cannot be told where the engine does tell. */
const different = (wanted: Catalog, live: Catalog, { dialect }: Playground) =>
  compare({ wanted, live }, dialect).changes.filter(
    (change) => change.action !== 'alter' || change.certain || !dialect.profile.told
  )

/** What a row has whose columns are not filled. */
async function defaults({ tables: [table] }: Catalog, { dialect, exec, live }: Playground): Promise<unknown> {
  const { quote } = dialect.write
  const columns = table?.columns.filter(({ origin }) => /^att_/.test(origin?.id ?? '')) ?? []
  const [name, key] = [table?.name ?? '', table?.primaryKey?.columns[0] ?? ''].map(quote)
  await exec(`INSERT INTO ${name} (${key}) VALUES (1)`)
  const { rows } = await live.query(`SELECT ${columns.map((column) => quote(column.name)).join(', ')} FROM ${name}`)
  return rows[0]
}

describe.each(ENGINES_UNDER_TEST.filter(({ id }) => id !== 'testing'))('$label', (engine) => {
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())
  const target = { subtypeTables: {}, schemas: {} }

  it.skipIf(engine.lacking)('keeps every text as it was typed, and is in step', async () => {
    await db.reset()
    const { catalog, notices } = derive(design(), target, db.dialect)
    expect(notices.filter(({ severity }) => severity === 'error')).toEqual([])
    for (const { sql } of writeScript(catalog, db.dialect)) await db.exec(sql)
    const live = await db.live.catalog()
    expect(different(catalog, live, db)).toEqual([])
    expect(await defaults(catalog, db)).toEqual([...texts, 'C:\\'])
  })

  it.skipIf(engine.lacking)('gets each text by a change of another, and is in step', async () => {
    await db.reset()
    const before = design()
    const one = derive(before, target, db.dialect).catalog
    for (const { sql } of writeScript(one, db.dialect)) await db.exec(sql)
    const [vessel] = Object.values(before.entities)
    const moved = vessel?.attributes.map((a, n) => {
      const text = texts[(n + 1) % texts.length] ?? ''
      return a.type.kind === 'text' ? { ...a, default: quoted(text), means: text } : a
    })
    const after = edit(before, {
      kind: 'entity.set',
      id: 'ent_vessel',
      set: { ...vessel, attributes: moved } as object
    })
    const wanted = derive(after, target, db.dialect).catalog
    const live = await db.live.catalog()
    for (const { statement } of plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect).steps)
      await db.exec(statement)
    expect(different(wanted, await db.live.catalog(), db)).toEqual([])
    expect(await defaults(wanted, db)).toEqual([...texts.slice(1), texts[0], 'C:\\'])
  })

  it.skipIf(engine.lacking)('keeps each text where something else of its column changes', async () => {
    await db.reset()
    const before = design()
    for (const { sql } of writeScript(derive(before, target, db.dialect).catalog, db.dialect)) await db.exec(sql)
    const [vessel] = Object.values(before.entities)
    const wider = vessel?.attributes.map((a) =>
      a.type.kind === 'text' ? { ...a, type: { kind: 'text' as const, length: 70 } } : a
    )
    const set = { ...vessel, attributes: wider } as object
    const wanted = derive(edit(before, { kind: 'entity.set', id: 'ent_vessel', set }), target, db.dialect).catalog
    const live = await db.live.catalog()
    for (const { statement } of plan(live, compare({ wanted, live }, db.dialect).changes, db.dialect).steps)
      await db.exec(statement)
    expect(different(wanted, await db.live.catalog(), db)).toEqual([])
    expect(await defaults(wanted, db)).toEqual([...texts, 'C:\\'])
  })

  it.skipIf(engine.lacking)('cuts names given by hand that are too long, says so, and is in step', async () => {
    await db.reset()
    const long = (what: string) => `${what} ${'very '.repeat(30)}long ⚓`
    const pilot = newEntity('Pilot', { id: 'ent_pilot', dbName: long('Pilot'), keyName: long('key') })
    const visit = newEntity('Visit', {
      id: 'ent_visit',
      attributes: [newAttribute('berth', { id: 'att_berth', dbName: long('Berth') })],
      uniques: [{ id: 'key_berth', name: long('unique'), parts: ['att_berth', 'lnk_pilot'] }],
      indexes: [
        { id: 'idx_berth', name: long('index'), unique: false, parts: [{ id: 'att_berth', descending: false }] }
      ],
      rules: [{ id: 'rul_berth', dbName: long('rule'), condition: `{att_berth} <> ''` }]
    })
    const named = [pilot, visit].reduce<Design>(
      (d, entity) => edit(d, { kind: 'object.set', collection: 'entities', object: entity }),
      newDesign('Tidewell')
    )
    const link = newLink(named, pilot, visit, { id: 'lnk_pilot', dbName: long('link') })
    const { catalog, notices } = derive(edit(named, { kind: 'link.add', link }), target, db.dialect)
    const said = new Set(notices.filter(({ message }) => message.includes('very')).map(({ where }) => where))
    if (Number.isFinite(db.dialect.profile.names.limit))
      for (const id of ['ent_pilot', 'att_berth', 'key_berth', 'idx_berth', 'rul_berth', 'lnk_pilot'])
        expect(said).toContain(id)
    for (const { sql } of writeScript(catalog, db.dialect)) await db.exec(sql)
    expect(different(catalog, await db.live.catalog(), db)).toEqual([])
  })
})
