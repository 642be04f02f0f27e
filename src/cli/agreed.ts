// The agreed state of a target as a file of its own, beside the design file.
import { readFile } from 'node:fs/promises'
import * as v from 'valibot'
import { withTypes, type Catalog } from '../lib/core/catalog'
import { CouldNot } from './could-not'

const FORMAT = 'ramblet-agreed'
/** Up to version 1, a type was a text. */
const VERSION = 2
// What is inside was printed by this program; only its outer form is checked.
const Schema = v.object({
  format: v.literal(FORMAT),
  version: v.picklist([1, VERSION]),
  catalog: v.looseObject({
    engine: v.string(),
    tables: v.array(v.looseObject({ schema: v.string(), name: v.string() }))
  })
})

/** One table a line, in order, so that versions merge in a repository. */
export function printAgreed(catalog: Catalog): string {
  const { tables, ...head } = catalog
  const sorted = [...tables].sort((a, b) => (`${a.schema} ${a.name}` < `${b.schema} ${b.name}` ? -1 : 1))
  const start = JSON.stringify({ format: FORMAT, version: VERSION, catalog: { ...head, unread: [] } }).slice(0, -2)
  return `${start},"tables":[\n${sorted.map((table) => JSON.stringify(table)).join(',\n')}\n]}}\n`
}

/** Throws `CouldNot` when the file is missing or is something else, or of another engine. */
export async function readAgreed(file: string, engine: string): Promise<Catalog> {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new CouldNot(`The agreed state ${file} cannot be read.`)
  })
  let raw: unknown
  try {
    raw = JSON.parse(text)
  } catch {
    throw new CouldNot(`${file} is no agreed state: it is not JSON.`)
  }
  const read = v.safeParse(Schema, raw)
  if (!read.success)
    throw new CouldNot(
      `${file} is no agreed state: ${v.getDotPath(read.issues[0]) ?? 'the file'}: ${read.issues[0].message}.`
    )
  const { version, catalog: kept } = read.output
  const catalog = (version < VERSION ? withTypes(kept) : kept) as Catalog
  if (catalog.engine !== engine)
    throw new CouldNot(`${file} is the agreed state of a database of ${catalog.engine}, not of ${engine}.`)
  return catalog
}
