// Databases on servers, for the pages of this app alone: see `server/allowed` for who may ask and which hosts may be asked.
import { env } from '$env/dynamic/private'
import { json } from '@sveltejs/kit'
import { answer } from '$lib/server/answer'
import type { RequestHandler } from './$types'

export const POST: RequestHandler = async ({ request, params }) => {
  const { status, body } = await answer(params.what ?? '', request.headers, () => request.json(), env)
  return json(body, { status, headers: { 'cache-control': 'no-store' } })
}
