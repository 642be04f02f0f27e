// Views in words: the query stands below the name, in the names that tables and columns have in PostgreSQL.
import type { Catalog } from '../catalog'
import { derive, inNames, inReferences } from '../derive'
import { newView, targetOf, type Design, type View } from '../design'
import { dialect, type Dialect } from '../dialects'
import type { Line } from './lines'
import { matched } from './match'
import { nameBefore } from './names'
import { called } from './opening'
import type { Reading } from './reading'

/** A view's lines: its first, and what is written below that. */
export interface ViewBlock {
  readonly line: Line
  readonly name: string
  readonly dbName: string | undefined
  readonly means: string | undefined
  readonly sql: string
  readonly area?: string
  readonly namespace?: string
}

const engine = (): Dialect => {
  const found = dialect('postgres')
  if (!found) throw new Error('PostgreSQL is known')
  return found
}

const catalogs = new WeakMap<Design, Catalog>()
/** What a design is in PostgreSQL without a target: whose names are written. */
function plainCatalog(design: Design): Catalog {
  const known = catalogs.get(design)
  if (known) return known
  const { catalog } = derive(design, targetOf({ ...design, settings: { ...design.settings } }, undefined), engine())
  catalogs.set(design, catalog)
  return catalog
}

const sqlOf = (view: View, design: Design): string => inNames(view.text.trim(), plainCatalog(design), engine()).sql

/** A view as a text, as it stands in the whole. */
export function printView(design: Design, view: View): string {
  const db = view.dbName === undefined ? '' : ` = ${nameBefore(view.dbName)}`
  const { means } = view
  const lines = [
    ...(means === undefined ? [] : [`means ${means.replace(/\s*\n\s*/g, ' ')}`]),
    ...(view.text.trim() === '' ? [] : sqlOf(view, design).split('\n'))
  ]
  return [`view ${nameBefore(view.name)}${db}`, ...lines.map((line) => `  ${line}`)].join('\n')
}

/** `to`: where the next line in the first column is. */
export function viewBlock(text: string, line: Line, rest: string, to: number): ViewBlock {
  const [name = '', dbName] = called(rest.replace(/:\s*$/, ''))
  const head = text.indexOf('\n', line.at)
  const body =
    head < 0 || head >= to
      ? []
      : text
          .slice(head + 1, to)
          .trimEnd()
          .split('\n')
  const rows = body.map((row) => row.replace(/^(?: {2}|\t)/, ''))
  const meant = /^\s*means\s/i.test(rows[0] ?? '')
  const means = meant ? rows[0]?.trim().slice('means'.length).trim() : undefined
  return { line, name, dbName, means, sql: (meant ? rows.slice(1) : rows).join('\n').trim() }
}

/** Each view as its block says it: one that says what it said before stands for the same things, whatever they are called now. */
export function readViews(
  reading: Reading,
  blocks: readonly ViewBlock[],
  next: Design,
  areaOf: ReadonlyMap<string, string>
): { views: View[]; stale: { line: Line; view: View }[] } {
  const { base } = reading
  const old = matched(blocks, Object.values(base.views), (block, view) => (sqlOf(view, base) === block.sql ? 1 : 0))
  const stale: { line: Line; view: View }[] = []
  const views = blocks.flatMap((block): View[] => {
    const { name, dbName, means, sql, area, namespace } = block
    if (name === '') {
      reading.say('jot-line', block.line, 0, 'A view has a name: view Arrivals.')
      return []
    }
    const before = old.get(block)
    const isSame = before !== undefined && sqlOf(before, base) === sql
    const home = area === undefined ? undefined : areaOf.get(area)
    const meant = before?.means !== undefined && before.means.replace(/\s*\n\s*/g, ' ') === means ? before.means : means
    const { area: _area, namespace: _namespace, dbName: _db, means: _means, ...kept } = before ?? newView(name)
    const view: View = {
      ...kept,
      name,
      text: isSame ? before.text : inReferences(sql, plainCatalog(next), engine()),
      ...(dbName === undefined ? {} : { dbName }),
      ...(meant === undefined ? {} : { means: meant }),
      ...(home === undefined ? {} : { area: home }),
      ...(namespace === undefined ? {} : { namespace })
    }
    reading.lines.set(view.id, block.line.number)
    if (isSame) stale.push({ line: block.line, view })
    return [view]
  })
  return { views, stale }
}
