// How many rows stand against changes that nobody has made yet: asked before they are thought of as true.
import { tableKey, type Catalog, type Change, type Relation } from '../catalog'
import type { Dialect, Preflight } from '../dialects'
import { plan } from './plan'

/**
 * Questions of a database whose rows would refuse the changes; `about` names all the tables that they touch or lead to.
 * What is not asked is not refused by rows.
 */
export function rowsAgainst(
  changes: readonly Change[],
  about: readonly Relation[],
  { views: _views, routines: _routines, unread: _unread, ...catalog }: Catalog,
  dialect: Dialect
): readonly Preflight[] {
  const wanted = new Set(about.map(({ schema, name }) => tableKey(schema, name)))
  // Of the rest of the database nothing is asked: each question costs what it is about.
  const tables = catalog.tables.filter(({ schema, name }) => wanted.has(tableKey(schema, name)))
  const { steps } = plan({ ...catalog, tables, unread: [] }, changes, dialect)
  return steps.flatMap(({ preflight }) => preflight ?? [])
}
