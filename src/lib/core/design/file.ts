// The design file: JSON with one object a line, ordered by id, so that versions merge well in a repository.
import * as v from 'valibot'
import { withTypes } from '../catalog'
import type { Notice, Result } from '../notice'
import { failed } from '../notice'
import { dangling, doubled, unlikeDomain } from './check'
import { place, readJson } from './json'
import { withPaths } from './paths'
import { COLLECTIONS, SettingsSchema, type CollectionName, type Design } from './schema'

export const FILE_FORMAT = 'ramblet-design'
export const FILE_VERSION = 12

const collectionNames = Object.keys(COLLECTIONS).sort() as CollectionName[]

/** Prints a design. The same design always gives the same text, whatever order it was made in. */
export function printDesign(design: Design): string {
  const head = {
    format: FILE_FORMAT,
    version: FILE_VERSION,
    id: design.id,
    name: design.name,
    settings: sorted(design.settings)
  }
  const parts = collectionNames.map((collection) => {
    const objects = Object.values(design[collection]).sort((a, b) => (a.id < b.id ? -1 : 1))
    const lines = objects.map((object) => JSON.stringify(sorted(object)))
    return `"${collection}":[${lines.length ? '\n' + lines.join(',\n') + '\n' : ''}]`
  })
  return `${JSON.stringify(head).slice(0, -1)},\n${parts.join(',\n')}}\n`
}

/** Objects with their fields in one order. Lists keep theirs: it means something. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted)
  if (typeof value !== 'object' || value === null) return value
  const entries = Object.entries(value).filter(([, inner]) => inner !== undefined)
  entries.sort(([a], [b]) => (a < b ? -1 : 1))
  return Object.fromEntries(entries.map(([key, inner]) => [key, sorted(inner)]))
}

type Loose = Readonly<Record<string, unknown>>

/** Steps from each older version to the next, applied in turn. */
const upgrades: Readonly<Record<number, (file: Loose) => Loose>> = {
  // Version 2 lets targets say more: what they have otherwise, what is not compared, servers, steps by hand.
  1: (file) => ({ ...file, version: 2 }),
  // Version 3 says where a catalogue object stands by its path: a schema, a table, and its own name.
  2: (file) => ({ ...file, version: 3, ...withPaths(file['targets']) }),
  // Version 4 has views.
  3: (file) => ({ ...file, version: 4, views: [] }),
  // Version 5 has the types of what a target has otherwise, or beside the design, taken apart.
  4: (file) => ({ ...file, version: 5, ...('targets' in file ? { targets: withTypes(file['targets']) } : {}) }),
  // Version 6 has domains.
  5: (file) => ({ ...file, version: 6, domains: [] }),
  // Version 7 has the identifier in keys and indexes, checks and what they are graded, and the engine that scripts are for.
  6: (file) => ({ ...file, version: 7, checks: [], grades: [] }),
  // Version 8 has the columns that every entity has, and says more of domains, names and scripts.
  7: (file) => ({ ...file, version: 8, commons: [] }),
  // Version 9 has attributes that hold others, and collections.
  8: (file) => ({ ...file, version: 9 }),
  // Version 10 has documents of one entity within those of another, and guesses.
  9: (file) => ({ ...file, version: 10 }),
  // Version 11 has fields that lead to entities.
  10: (file) => ({ ...file, version: 11 }),
  // Version 12 says more of diagrams: levels, what shows, notes, frames.
  11: (file) => ({ ...file, version: 12 })
}

const HeadSchema = v.object({
  format: v.literal(FILE_FORMAT),
  version: v.pipe(v.number(), v.integer(), v.minValue(1)),
  id: v.string(),
  name: v.string(),
  settings: SettingsSchema
})

/**
 * Reads a design file. Errors say what is wrong and where (`where` is `line:column`):
 * `file-not-json`, `file-not-design`, `file-too-new`, `file-shape`, `file-reference`, and what `also` finds in a design
 * that is well formed, where `where` is an object's id.
 */
export function parseDesign(given: string, also: (design: Design) => readonly Notice[] = () => []): Result<Design> {
  const json = readJson(given)
  if (!json.ok) return json
  const raw = json.value
  const text = given.replace(/^\ufeff/, '')
  if (typeof raw !== 'object' || raw === null || new Map(Object.entries(raw)).get('format') !== FILE_FORMAT)
    return failed(
      'file-not-design',
      `This is not a design file: it does not begin with "format":"${FILE_FORMAT}".`,
      '1:1'
    )
  let file = raw as Loose
  const version = file['version']
  if (typeof version !== 'number' || !Number.isInteger(version) || version < 1)
    return failed('file-not-design', 'This design file has no version number.', '1:1')
  if (version > FILE_VERSION)
    return failed(
      'file-too-new',
      `This design file is of version ${version}; this Ramblet reads up to version ${FILE_VERSION}.`,
      '1:1'
    )
  for (let n = version; n < FILE_VERSION; n++) file = upgrades[n]?.(file) ?? file

  const { format, id, name, settings, ...rest } = file
  const head = v.safeParse(HeadSchema, { format, version: file['version'], id, name, settings })
  if (!head.success) return { ok: false, notices: issues(head.issues, text, '') }
  const notices: Notice[] = []
  const collections: Record<string, Record<string, unknown>> = {}
  for (const word of Object.keys(rest))
    if (word !== 'version' && !(collectionNames as string[]).includes(word))
      notices.push(shape(`“${word}” is nothing that a design has.`, text, word))
  for (const collection of collectionNames) {
    const list = file[collection]
    const read = v.safeParse(v.array(COLLECTIONS[collection] as v.GenericSchema<unknown, { id: string }>), list)
    if (!read.success) {
      const index = Number(read.issues[0].path?.[0]?.key ?? -1)
      const object: unknown = Array.isArray(list) ? list[index] : undefined
      notices.push(...issues(read.issues, text, collection, object))
      continue
    }
    const byId = new Map(read.output.map((object) => [object.id, object]))
    if (byId.size < read.output.length)
      notices.push(shape(`“${collection}” holds two objects with one id.`, text, collection))
    collections[collection] = Object.fromEntries(byId)
  }
  if (notices.length) return { ok: false, notices }
  const { version: _version, format: _format, ...top } = head.output
  // Each part has passed its schema: together they are a design.
  const design = { ...top, ...collections } as Design
  const found = [...doubled(design), ...dangling(design), ...unlikeDomain(design), ...also(design)]
  return found.length
    ? { ok: false, notices: found.map((n) => ({ ...n, where: locate(text, n.where ?? '') })) }
    : { ok: true, value: design }
}

function issues(list: readonly v.BaseIssue<unknown>[], text: string, collection: string, object?: unknown): Notice[] {
  return list.slice(0, 5).map((issue) => {
    const path = v.getDotPath(issue) ?? ''
    const id =
      typeof object === 'object' && object !== null ? String(new Map(Object.entries(object)).get('id') ?? '') : ''
    const where = id && text.includes(`"${id}"`) ? locate(text, id) : locate(text, collection)
    const place = [collection, path.replace(/^\d+\.?/, '')].filter(Boolean).join(', ')
    return {
      code: 'file-shape',
      severity: 'error',
      message: `${place || 'the beginning'}${id ? ` of ${id}` : ''}: ${issue.message}.`,
      where
    }
  })
}

const shape = (message: string, text: string, near: string): Notice => ({
  code: 'file-shape',
  severity: 'error',
  message,
  where: locate(text, near)
})

/** Line and column of the first time a name stands in quotes; of an object's own line where there is one. */
function locate(text: string, name: string): string {
  const owner = text.indexOf(`"id":"${name}"`)
  const at = owner >= 0 ? owner : text.indexOf(`"${name}"`)
  return name === '' || at < 0 ? '1:1' : place(text, at)
}
