// Applications' databases of one engine, brought in and made in another: every script runs there, and what an engine cannot keep is told.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { adopt } from '../../src/lib/core/adopt'
import { compare } from '../../src/lib/core/compare'
import { newTarget } from '../../src/lib/core/design'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { session } from '../../src/lib/core/session'
import { MARIADB_PACKAGES, POSTGRES_PACKAGES, SQLITE_PACKAGES } from '../foreign/packages'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { packagedScript, type PackagedScript } from '../support/packaged'

interface Way {
  readonly from: Dialect
  readonly scripts: readonly PackagedScript[]
  /** The engines, as the tests call them. */
  readonly to: readonly string[]
}

const WAYS: readonly Way[] = [
  { from: dialectOf('mysql', '8.0') as Dialect, scripts: MARIADB_PACKAGES, to: ['postgres', 'sqlite', 'firebird'] },
  {
    from: dialectOf('postgres') as Dialect,
    scripts: POSTGRES_PACKAGES,
    to: ['mariadb', 'mysql', 'sqlite', 'firebird']
  },
  { from: dialectOf('sqlite') as Dialect, scripts: SQLITE_PACKAGES, to: ['mariadb', 'mysql', 'postgres', 'firebird'] }
]

/** What an engine has no room for, by the package and the engine: a key of two texts of 255 characters in a page of 8,192 bytes. */
const TOO_MUCH: Readonly<Record<string, RegExp>> = { 'ocsinventory-reports firebird': /ENGINE_MUTEX/ }

for (const { from, scripts, to } of WAYS)
  describe.each(ENGINES_UNDER_TEST.filter(({ id, lacking }) => to.includes(id) && lacking === undefined))(
    `of ${from.profile.label}, in $label`,
    ({ open, engine, version }) => {
      let db: Playground
      let made = 0
      beforeAll(async () => {
        db = await open()
      }, 120_000)
      afterAll(async () => {
        console.log(`${made} databases of ${from.profile.label} made in ${engine}`)
        await db.close()
      })

      it.for(scripts)('$package $files', { timeout: 120_000 }, async (script, { skip }) => {
        const found = packagedScript(script)
        if ('lacking' in found) return skip(found.lacking)
        const catalog = from.readScript?.(found.text).catalog
        if (!catalog) throw new Error('scripts are read')
        const { design } = adopt(catalog, from, { name: script.package, target: 'there' })
        await db.reset()
        const target = newTarget('here', { engine, ...(version === undefined ? {} : { version }) })
        const here = session({ ...design, targets: {} }, target, db.dialect)
        const refused: string[] = []
        for (const { sql } of here.script())
          await db.exec(sql).catch((error: Error) => refused.push(`${error.message}: ${sql}`))
        const isTooMuch = TOO_MUCH[`${script.package} ${engine}`]
        expect(refused.filter((one) => !isTooMuch?.test(one))).toEqual([])
        if (isTooMuch) return expect(refused).not.toEqual([])
        const { changes } = compare({ wanted: here.catalog, live: await db.live.catalog() }, db.dialect)
        expect(changes.filter((change) => change.action !== 'alter' || change.certain)).toEqual([])
        made++
      })
    }
  )
