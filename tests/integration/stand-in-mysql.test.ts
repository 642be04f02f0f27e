// The stand-in for MySQL beside the MariaDB that runs here, wherever their rules are shared: what is refused, by which number, and what
// is kept of a value. MySQL's own numbers are those of its “Server Error Message Reference”.
import fc from 'fast-check'
import mysql from 'mysql2/promise'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import type { LiveDatabase } from '../../src/lib/live'
import { SAMPLES } from '../support/conversions'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { servers } from '../support/servers'

const engineOf = (id: string) => ENGINES_UNDER_TEST.find((engine) => engine.id === id)
const dialect = dialectOf('mysql', '8.4') as Dialect

/** Where the two are not alike, by type and value, and why. */
const OTHERWISE: readonly (readonly [RegExp, RegExp, string])[] = [
  [/^bigint unsigned$/, /^18446744073709551615$/, 'the stand-in counts to 64 bits with a sign'],
  [/^decimal\(30,10\)$/, /\d{20}/, 'the stand-in computes decimals with fifteen digits'],
  [/^bit|binary|blob/, /^(b'11111111'|x'.*ff.*')$/, 'bytes that are no characters: nothing in MySQL 8 (from memory), question marks in MariaDB'],
  [/^time$/, /1\.[56]/, 'manual of MySQL, 13.2.6: a fraction of a second is rounded; MariaDB cuts it']
]

describe.skipIf(servers.mariadb.lacking)('the stand-in for MySQL beside MariaDB', () => {
  let here: Playground
  let there: Playground
  beforeAll(async () => {
    ;[here, there] = (await Promise.all(['mysql', 'mariadb'].map((id) => engineOf(id)?.open()))) as [Playground, Playground]
  }, 60_000)
  afterAll(async () => {
    await here?.close()
    await there?.close()
  })

  const numberOf = async ({ live }: Playground, sql: string) => (await live.run([sql]))[0]?.error

  it('keeps the same of a value, or refuses it', async () => {
    const odd = ["''", "'x'", "'1.6'", "'-1.5'", '1.6', '-1', '300', "'2024-2-9'", "'2024-13-01'", "'24:00:00'", "'-12:30'", '101500', '0', "'a,b'", "'\u00e9\u00e9\u00e9\u00e9\u00e9\u00e9\u00e9'", "'  12'", "'1e3'"]
    let [kept, refused] = [0, 0]
    for (const [type, own] of Object.entries(SAMPLES['mysql'] ?? {})) {
      for (const db of [here, there]) {
        await db.reset()
        await db.exec(`CREATE TABLE t (id int NOT NULL AUTO_INCREMENT PRIMARY KEY, c ${type} NULL)`)
      }
      for (const value of [...own, ...odd]) {
        const sql = `INSERT INTO t (c) VALUES (${value})`
        const [mine, its] = [await numberOf(here, sql), await numberOf(there, sql)]
        expect.soft(mine ? 'refused' : 'kept', `${type}: ${value}: ${mine?.message ?? ''} / ${its?.message ?? ''}`).toBe(its ? 'refused' : 'kept')
        if (mine || its) {
          refused++
          continue
        }
        kept++
        const text = 'SELECT CAST(c AS char) AS c FROM t ORDER BY id DESC LIMIT 1'
        const [a, b] = await Promise.all([here, there].map(async ({ live }) => String((await live.query(text)).rows[0]?.[0])))
        const known = OTHERWISE.find(([types, values]) => types.test(type) && values.test(value))
        if (known) expect.soft(a, `${type}: ${value} is known for: ${known[2]}`).not.toBe(b)
        else expect.soft(a, `${type}: ${value}`).toBe(b)
      }
    }
    console.log(`${kept} values kept alike, ${refused} refused alike`)
  }, 120_000)
})
