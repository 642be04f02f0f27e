// Views: a query whose references are names only once everything has its name, and back.
import {
  addressOf,
  freeAddress,
  members,
  TextRenames,
  tableKey,
  type Address,
  type Catalog,
  type MemberKind,
  type Origin,
  type Ref,
  type View
} from '../catalog'
import { own, printReference, replaceReferences, type Design, type View as DesignView } from '../design'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import { whyNotWhole } from '../sql'

interface Place {
  readonly schema: string
  readonly name: string
}

/** A design's views with their references as they are kept; none where the engine cannot be given any. */
export function draftViews(
  design: Design,
  dialect: Dialect,
  place: (view: DesignView) => Place,
  notices: Notice[]
): View[] {
  const views = Object.values(design.views).sort((a, b) => (a.name < b.name ? -1 : a.name > b.name ? 1 : 0))
  if (dialect.carry.kinds.has('view'))
    return views.map((view) => ({
      ...place(view),
      query: (own(view.texts, dialect.profile.id) ?? view.text).trim().replace(/\s*;$/, ''),
      ...(view.means && dialect.profile.features.comments ? { comment: view.means } : {}),
      origin: { id: view.id, part: 'view' }
    }))
  notices.push(
    ...views.map((view): Notice => ({
      code: 'view-not-taken',
      severity: 'warning',
      where: view.id,
      message: `${view.name} is left out: views are not written for ${dialect.profile.label} yet.`
    }))
  )
  return []
}

/** What stands in a catalogue by what it comes from: the object's own table, column or view goes by its id alone. */
class Named {
  private readonly places = new Map<string, Address>()

  constructor(catalog: Catalog) {
    const put = (origin: Origin | undefined, kind: 'table' | 'column' | 'view', address: Address) => {
      if (!origin) return
      this.places.set(printReference(origin.id, origin.part), address)
      if (origin.part === kind) this.places.set(printReference(origin.id), address)
    }
    for (const table of catalog.tables) {
      put(table.origin, 'table', freeAddress('table', table))
      for (const column of table.columns)
        put(column.origin, 'column', addressOf('column', table.schema, table.name, column.name))
    }
    for (const view of catalog.views ?? []) put(view.origin, 'view', freeAddress('view', view))
  }

  at = (reference: string): Address | undefined => this.places.get(reference)
}

/** A text in a target's names; `lost` are the references that lead to nothing there. */
export function inNames(text: string, catalog: Catalog, dialect: Dialect) {
  return namedText(text, new Named(catalog), dialect)
}

function namedText(text: string, named: Named, { write }: Dialect) {
  const lost: string[] = []
  const refs = new Map<string, Ref>()
  const sql = replaceReferences(text, ({ id, part, text: reference }) => {
    const address = id === '' ? undefined : named.at(printReference(id, part))
    if (!address) {
      lost.push(id === '' ? (part ?? '') : reference)
      return undefined
    }
    refs.set(JSON.stringify(address), { to: address })
    const [schema = '', name = '', column] = address.path
    return column === undefined ? write.table(schema, name) : write.quote(column)
  })
  return { sql, lost, refs: [...refs.values()] }
}

/** The catalogue with its views in the names that all has by then. What cannot be said is left out, and told. */
export function withViews(catalog: Catalog, dialect: Dialect): { catalog: Catalog; notices: Notice[] } {
  if (!catalog.views?.some((view) => view.origin)) return { catalog, notices: [] }
  const notices: Notice[] = []
  const tell = (view: View, message: string, severity: Notice['severity'] = 'error') => {
    notices.push({
      code: 'view-left-out',
      severity,
      ...(view.origin ? { where: view.origin.id } : {}),
      message: `The view ${view.name} is left out: ${message}`
    })
    return []
  }
  const named = new Named(catalog)
  let views = catalog.views.flatMap((view): View[] => {
    if (!view.origin) return [view]
    const { sql, lost, refs } = namedText(view.query, named, dialect)
    if (lost.length > 0) return tell(view, `its text names ${lost.join(', ')}, which is not there.`)
    if (sql === '') return tell(view, 'it has no query yet.', 'warning')
    const why = whyNotWhole(sql, dialect.write.lexis)
    if (why !== undefined) return tell(view, why)
    return [{ ...view, query: sql, ...(refs.length ? { refs } : {}) }]
  })
  // What reads from a view that is left out cannot be either.
  for (let left = views.length + 1; left > views.length;) {
    left = views.length
    const there = new Set(views.map((view) => tableKey(view.schema, view.name)))
    views = views.flatMap((view) => {
      const gone =
        view.origin &&
        view.refs?.find(({ to }) => to.kind === 'view' && !there.has(tableKey(to.path[0] ?? '', to.path[1] ?? '')))
      return gone ? tell(view, `it reads from ${gone.to.path.at(-1) ?? ''}, which is left out.`) : [view]
    })
  }
  return { catalog: { ...catalog, views }, notices }
}

/**
 * A text as a person writes it, in a target's names, with references in the place of the names that stand for something of
 * the design. A name that could be something else stays a name.
 */
export function inReferences(sql: string, catalog: Catalog, dialect: Dialect): string {
  const { lexis } = dialect.write
  const tables = new Map<string, string>()
  const inTables = new Map<string, Map<MemberKind, Map<string, string>>>()
  const reference = ({ id, part }: Origin, usual: string) => printReference(id, part === usual ? undefined : part)
  for (const table of catalog.tables) {
    if (!table.origin) continue
    const key = tableKey(table.schema, table.name)
    tables.set(key, reference(table.origin, 'table'))
    const columns = members(table, 'column').flatMap((column) =>
      column.origin ? [[column.name, reference(column.origin, 'column')] as const] : []
    )
    inTables.set(key, new Map([['column', new Map(columns)]]))
  }
  for (const view of catalog.views ?? [])
    if (view.origin) tables.set(tableKey(view.schema, view.name), reference(view.origin, 'view'))
  const rule = { lexis, quote: (name: string) => name, keywords: dialect.write.keywords, following: true as const }
  const { sql: written } = new TextRenames(catalog, { tables, members: inTables }, rule).read(sql)
  // A table's reference brings its schema.
  const known = new Set(tables.values())
  return written.replace(/(?:"(?:[^"]|"")*"|[\p{L}_][\p{L}\p{N}_$]*)\s*\.\s*(\{[^{}]+\})/gu, (whole, table: string) =>
    known.has(table) ? table : whole
  )
}
