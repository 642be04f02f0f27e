// Signing in to Firebird whatever the salt that the server keeps with a password: one in twelve was read wrongly by the
// driver, which is patched for it (`patches/`). A salt is a number in hexadecimal, shorter when it begins with noughts.
import { expect, it } from 'vitest'
import { openFirebird } from '../../src/lib/server/firebird'
import { servers } from '../support/servers'

const PASSWORDS = 80

it.skipIf(servers.firebird.lacking)(
  'a password given anew is taken each time',
  async () => {
    const server = await servers.firebird.start()
    try {
      const url = await server.create('salts')
      const keeper = await openFirebird(url)
      await keeper.run([`CREATE USER PILOT PASSWORD 'test' USING PLUGIN Srp`])
      const refused: unknown[] = []
      for (let n = 0; n < PASSWORDS; n++) {
        await keeper.run([`ALTER USER PILOT PASSWORD 'test' USING PLUGIN Srp`])
        await openFirebird(url.replace('SYSDBA', 'PILOT')).then(
          (live) => live.close(),
          (error: unknown) => refused.push(error)
        )
      }
      await keeper.close()
      expect(refused).toEqual([])
    } finally {
      await server.stop()
    }
  },
  120_000
)
