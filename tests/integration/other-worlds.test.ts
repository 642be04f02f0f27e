// Applications' databases of one engine, brought in and made in another: every script runs there, and what an engine cannot keep is told.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { adopt } from '../../src/lib/core/adopt'
import { compare } from '../../src/lib/core/compare'
import { newTarget } from '../../src/lib/core/design'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { session } from '../../src/lib/core/session'
import { MARIADB_PACKAGES } from '../foreign/packages'
import { ENGINES_UNDER_TEST, type Playground } from '../support/engines'
import { packagedScript } from '../support/packaged'

const mysql = dialectOf('mysql', '8.0') as Dialect

describe.each(ENGINES_UNDER_TEST.filter(({ id }) => id === 'postgres' || id === 'sqlite'))(
  'of MySQL, in $label',
  ({ open, engine }) => {
    let db: Playground
    beforeAll(async () => {
      db = await open()
    }, 120_000)
    afterAll(() => db.close())

    it.for(MARIADB_PACKAGES)('$package $files', { timeout: 120_000 }, async (script, { skip }) => {
      const found = packagedScript(script)
      if ('lacking' in found) return skip(found.lacking)
      const catalog = mysql.readScript?.(found.text).catalog
      if (!catalog) throw new Error('scripts are read')
      const { design } = adopt(catalog, mysql, { name: script.package, target: 'there' })
      await db.reset()
      const target = newTarget('here', { engine })
      const here = session({ ...design, targets: {} }, target, db.dialect)
      const refused: string[] = []
      for (const { sql } of here.script())
        await db.exec(sql).catch((error: Error) => refused.push(`${error.message}: ${sql}`))
      expect(refused).toEqual([])
      expect(compare({ wanted: here.catalog, live: await db.live.catalog() }, db.dialect).changes).toEqual([])
    })
  }
)
