// Every pair of types of every engine that runs here, with rows: what the plan says of it is a table beside this test, and
// holds on the engine: a change in place runs just where no value was counted that it would refuse, and keeps what the
// values mean unless it says otherwise. WRITE=1 writes the tables anew.
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { readType, typeText, namesOf, type Catalog, type Column, type Table } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { plan, type Step } from '../../src/lib/core/plan'
import { SAMPLES } from '../support/conversions'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const column = (name: string, type: string): Column => ({ name, type: readType(type), nullable: true })

/** The steps that give the columns of a table other types, by column. */
function stepsOf(live: Catalog, types: ReadonlyMap<string, string>, dialect: Dialect): Map<string, Step[]> {
  const wanted: Catalog = {
    ...live,
    tables: live.tables.map((t) => ({
      ...t,
      columns: t.columns.map((c) => ({ ...c, type: readType(types.get(c.name) ?? typeText(c.type)) }))
    }))
  }
  const steps = new Map<string, Step[]>()
  for (const step of plan(live, compare({ wanted, live }, dialect).changes, dialect).steps)
    steps.set(namesOf(step.about).name, [...(steps.get(namesOf(step.about).name) ?? []), step])
  return steps
}

/** How the plan goes about it, in a word. */
function told(steps: readonly Step[]): string {
  const of = (kind: string) => steps.flatMap((s) => s.hazards).find((hazard) => hazard.kind === kind)?.sentence
  const lost = of('loses data')
  if (steps.some((s) => s.hazards.some((hazard) => hazard.kind === 'cannot be undone'))) return `anew: ${lost ?? ''}`
  const counted = steps.some((step) => step.preflight) ? ', counted' : of('may fail') ? ', may fail' : ''
  return `${steps.length > 1 ? 'by copy' : 'in place'}${counted}${lost === undefined ? '' : `; ${lost}`}`
}

describe.each(ENGINES_UNDER_TEST.filter(({ engine }) => SAMPLES[engine]))('$label', (engine) => {
  const dialect = dialectOf(engine.engine, engine.version) as Dialect
  const samples = SAMPLES[engine.engine] ?? {}
  const types = Object.keys(samples)
  const upper = dialect.profile.names.fold === 'upper'
  const name = (text: string) => (upper ? text.toUpperCase() : text)
  let db: Playground
  beforeAll(async () => {
    if (!engine.lacking) db = await engine.open()
  }, 60_000)
  afterAll(() => db?.close())

  it('the table of conversions is the one beside this test', () => {
    const lines = types.flatMap((from) => {
      const table: Table = {
        schema: dialect.profile.defaultSchema,
        name: 't',
        columns: types.map((_, i) => column(`c${i}`, from)),
        uniques: [],
        foreignKeys: [],
        checks: [],
        indexes: []
      }
      const live: Catalog = { engine: engine.engine, defaultSchema: table.schema, unread: [], tables: [table] }
      const steps = stepsOf(live, new Map(types.map((to, i) => [`c${i}`, to])), dialect)
      return types.flatMap((to, i) =>
        to === from ? [] : `${from} → ${to}: ${told(steps.get(`c${i}`) ?? []).replaceAll(`c${i}`, 'it')}`
      )
    })
    const file = fileURLToPath(new URL(`conversions/${engine.id}.txt`, import.meta.url))
    if (process.env['WRITE'] === '1') writeFileSync(file, lines.join('\n') + '\n')
    expect(existsSync(file) ? readFileSync(file, 'utf8').trim().split('\n') : []).toEqual(lines)
  })

  it.skipIf(engine.lacking)(
    'holds on the engine, for values at the edges',
    async () => {
      const count = { kept: 0, changed: 0, refused: 0, anew: 0 }
      const { quote, table } = dialect.write
      const t = table(dialect.profile.defaultSchema, name('t'))
      // One column for each type and value: each is changed by itself. A row has room for some of them.
      const all = types.flatMap((from) => {
        const cases = types.flatMap((to) => (to === from ? [] : (samples[from] ?? []).map((value) => ({ to, value }))))
        const parts = Math.ceil(cases.length / 30)
        return Array.from({ length: parts }, (_, n) => ({ from, cases: cases.slice(n * 30, n * 30 + 30) }))
      })
      for (const { from, cases } of all) {
        const names = cases.map((_, i) => name(`c${i}`))
        await db.reset()
        await db.exec(`CREATE TABLE ${t} (id integer, ${names.map((c) => `${quote(c)} ${from}`).join(', ')})`)
        await db.exec(`INSERT INTO ${t} VALUES (1, ${cases.map(({ value }) => value).join(', ')})`)
        const live = await db.live.catalog()
        const steps = stepsOf(live, new Map(cases.map(({ to }, i) => [names[i] ?? '', to])), dialect)
        const one = async (sql: string) => (await db.live.query(sql)).rows[0]?.[0]
        for (const [i, { to, value }] of cases.entries()) {
          const own = steps.get(names[i] ?? '') ?? []
          const what = `${value}: ${from} → ${to}`
          const c = quote(names[i] ?? '')
          const text = `CAST(${c} AS ${['mariadb', 'mysql'].includes(dialect.profile.id) ? 'char' : 'varchar(200)'})`
          const before = String(await one(`SELECT ${text} FROM ${t}`).catch(() => '?'))
          const hazards = own.flatMap((step) => step.hazards.map(({ kind }) => kind))
          let failed = false
          let changes = 0
          for (const step of own) {
            const refusing = step.preflight ? Number(await one(step.preflight.count)) : 0
            if (step.changed) changes += Number(await one(step.changed.count))
            const [outcome] = await db.live.run([step.statement])
            failed = outcome?.ok === false
            const asked = `${what}: ${step.preflight?.count ?? ''}: ${outcome?.error?.message ?? ''}`
            // An older server cannot be asked of every type whether a text is a value of it.
            const unsure = !step.preflight && step.hazards.some((hazard) => hazard.kind === 'may fail')
            if (!unsure) expect.soft(failed ? 'refused' : 'ran', asked).toBe(refusing > 0 ? 'refused' : 'ran')
            if (failed) break
          }
          if (failed) count.refused++
          else if (hazards.includes('cannot be undone')) count.anew++
          else {
            const after = String(await one(`SELECT ${text} FROM ${t}`).catch(() => '?'))
            const number = (word: string) => (/^[-+]?[\d.]+(e[-+]?\d+)?$/i.test(word.trim()) ? Number(word) : NaN)
            const same =
              after.trim() === before.trim() ||
              number(after) === number(before) ||
              (/date|time/.test(from) && after.replace(/[ .:0-]+$/, '') === before.replace(/[ .:0-]+$/, ''))
            count[same ? 'kept' : 'changed']++
            // Bytes and bits print otherwise as text.
            if (!same && !/bit|binary|blob|bool|json/.test(from + to) && from !== 'float')
              expect.soft(hazards, `${what} became ${after}, was ${before}`).toContain('loses data')
            if (changes > 0) expect.soft(hazards, what).toContain('loses data')
          }
        }
      }
      console.log(
        `${engine.label}: ${count.kept} values kept, ${count.changed} changed as was said, ${count.refused} refused as foretold, ${count.anew} in columns made anew`
      )
    },
    600_000
  )
})
