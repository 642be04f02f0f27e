// A session belongs to an address: a target that has moved is signed in to anew.
import { afterEach, expect, it, vi } from 'vitest'
import { isSignedIn, NotSignedIn, remoteDatabase, signIn } from './remote'

afterEach(() => vi.unstubAllGlobals())

it('is of no use for another database, and ends when it is asked for one', async () => {
  const asked: string[] = []
  vi.stubGlobal('fetch', async (url: string) => {
    asked.push(url)
    const value = url.endsWith('/open') ? { session: 'token', version: '15' } : { tables: [] }
    return new Response(JSON.stringify({ value }))
  })
  const at = { host: '127.0.0.1', port: 5432, database: 'harbour', user: 'ines' }
  await signIn('design target', { ...at, engine: 'postgres', password: 'p' })
  await remoteDatabase('design target', 'postgres', at).catalog()
  const moved = { ...at, database: 'roads' }
  expect(isSignedIn('design target', 'postgres', moved)).toBe(false)
  await expect(remoteDatabase('design target', 'postgres', moved).run(['DROP TABLE vessel'])).rejects.toThrow(
    NotSignedIn
  )
  expect(asked.map((url) => url.split('/').at(-1))).toEqual(['open', 'catalog', 'close'])
})
