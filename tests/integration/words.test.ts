// Which words an engine takes as a name without quotes, and which names for one: asked of the engine itself.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { dialect, ENGINES, nameKey } from '../../src/lib/core/dialects'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'

const words = [
  ...new Set(ENGINES.flatMap(({ id, versions }) => [...(dialect(id, versions.at(-1))?.profile.names.mustQuote ?? [])]))
].filter((word) => /^[a-z_][a-z0-9_]*$/.test(word))

/** Names that differ by what some engines do not look at. */
const alike = [
  ['imo', 'IMO'],
  ['Arrives At', 'arrives at'],
  ['é', 'É'],
  ['Σ', 'σ'],
  ['é', 'e']
] as const

describe.each(ENGINES_UNDER_TEST.filter(({ id }) => ['sqlite', 'mariadb', 'firebird', 'postgres'].includes(id)))(
  '$label',
  (engine) => {
    let db: Playground
    beforeAll(async () => {
      if (!engine.lacking) db = await engine.open()
    }, 60_000)
    afterAll(() => db?.close())

    it.skipIf(engine.lacking)('refuses no word that we write without quotes', async () => {
      await db.reset()
      const { mustQuote } = db.dialect.profile.names
      const refused: string[] = []
      for (const word of words) {
        const taken = await db
          .exec(`CREATE TABLE ${word} (${word} integer, CHECK (${word} > 0))`)
          .then(() => db.exec(`SELECT ${word} FROM ${word} WHERE ${word} IS NULL`))
          .then(() => db.exec(`DROP TABLE ${word}`))
          .then(
            () => true,
            () => false
          )
        if (!taken) refused.push(word)
      }
      expect(refused.filter((word) => !mustQuote.has(word))).toEqual([])
      // And what we quote without need is a word that the manual lists all the same.
      console.log(
        `${engine.label}: ${refused.length} of ${words.length} words refused; quoted without need here: ${words.filter((word) => mustQuote.has(word) && !refused.includes(word)).join(' ')}`
      )
    })

    it.skipIf(engine.lacking).each(alike)('takes %s and %s for one name just where we do', async (a, b) => {
      await db.reset()
      const { quote } = db.dialect.write
      const taken = (sql: string) =>
        db.exec(sql).then(
          () => 'two',
          () => 'one'
        )
      const said = (kind: 'table' | 'column') =>
        nameKey(kind, a, db.dialect) === nameKey(kind, b, db.dialect) ? 'one' : 'two'
      expect(await taken(`CREATE TABLE t (${quote(a)} integer, ${quote(b)} integer)`)).toBe(said('column'))
      await db.exec(`CREATE TABLE ${quote(a)} (x integer)`)
      expect(await taken(`CREATE TABLE ${quote(b)} (x integer)`)).toBe(said('table'))
    })
  }
)
