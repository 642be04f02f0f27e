// A database of the engine's own makers, with domains, generators, procedures, exceptions and views: read from a server, written again,
// by way of a design too, it is the same for the server.
import { execFileSync } from 'node:child_process'
import { existsSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/lib/core/catalog'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, printScript, type Dialect } from '../../src/lib/core/dialects'
import { writeScript } from '../../src/lib/core/plan'
import { openFirebird } from '../../src/lib/server/firebird'
import { FIREBIRD_PACKAGES } from '../foreign/packages'
import { throughDesign } from '../support/adopted'
import { packagedScript } from '../support/packaged'
import { servers, type Server } from '../support/servers'

const firebird = dialectOf('firebird', '3.0') as Dialect
const CLIENT = '/usr/bin/isql-fb'
const lacking = servers.firebird.lacking ?? (existsSync(CLIENT) ? undefined : 'isql-fb is not installed')

describe.skipIf(lacking)('Firebird', () => {
  let server: Server
  let count = 0
  beforeAll(async () => {
    server = await servers.firebird.start()
  }, 60_000)
  afterAll(() => server?.stop())

  /** Runs a script by the engine's own client. */
  async function made(text: string): Promise<Catalog> {
    const url = new URL(await server.create(`packaged${count++}`))
    const at = `${url.hostname}/${url.port}:${url.pathname.slice(1)}`
    // What a script says of whole databases is of others than this one.
    const own = text.replace(/^\s*(create database|connect)\b[^;]*;/gim, '')
    const told = execFileSync(
      CLIENT,
      ['-q', '-u', url.username, '-p', decodeURIComponent(url.password), '-ch', 'UTF8', at],
      {
        input: own,
        stdio: ['pipe', 'pipe', 'pipe']
      }
    )
    expect(String(told)).not.toContain('Statement failed')
    const live = await openFirebird(url.href)
    const catalog = await live.catalog()
    await live.close()
    return catalog
  }

  it.for(FIREBIRD_PACKAGES)('$package $files', { timeout: 120_000 }, async (script, { skip }) => {
    const found = packagedScript(script)
    if ('lacking' in found) return skip(found.lacking)
    const from = await made(found.text)
    expect(from.unread).toEqual([])
    expect(from.types?.length).toBeGreaterThan(10)
    expect(from.routines?.length).toBeGreaterThan(10)
    const read = firebird.readScript?.(found.text)
    expect(read?.statements.filter(({ how }) => how === 'unknown').map(({ why }) => why)).toEqual([])
    const told = read?.catalog ?? from
    expect(compare({ wanted: told, live: from }, firebird).changes).toEqual([])
    for (const wanted of [from, throughDesign(from, firebird), throughDesign(told, firebird)]) {
      const to = await made(printScript(writeScript(wanted, firebird), firebird))
      expect(compare({ wanted: from, live: to }, firebird).changes).toEqual([])
    }
  })
})
