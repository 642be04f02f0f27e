// What holds for every answer of this server, and what it lets go of when it ends.
import { env } from '$env/dynamic/private'
import { endSessions } from '$lib/server/sessions'
import { TOKEN_COOKIE, atTheGate, gateOf } from '$lib/server/token'
import { building } from '$app/environment'
import type { Handle } from '@sveltejs/kit'

const gate = gateOf(env)
if (gate.token !== undefined && !building)
  console.log(`Others can reach this server: they need the token. Open it once as /?token=${gate.token}`)

/** No page of another may hold this one in a frame, guess at types, or learn its address. */
export const handle: Handle = async ({ event, resolve }) => {
  const way = atTheGate(gate, event.url, event.cookies.get(TOKEN_COOKIE))
  const response =
    way === 'pass'
      ? await resolve(event)
      : way === 'keep out'
        ? new Response('This server is for those who know its token: its operator has it.', { status: 401 })
        : new Response(null, { status: 303, headers: { location: way.to, 'set-cookie': way.cookie } })
  response.headers.set('x-content-type-options', 'nosniff')
  response.headers.set('referrer-policy', 'no-referrer')
  response.headers.set('x-frame-options', 'DENY')
  return response
}

// What is under way would keep the process alive for as long as it takes, and so would each open connection.
if (!building) for (const signal of ['SIGTERM', 'SIGINT'] as const) process.on(signal, () => void endSessions())
