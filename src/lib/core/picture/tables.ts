// The tables of a target in the place of entities: its own names and types, bridge tables, and subtypes as they fall. What was made of an
// entity has that one's id, and stands where it stands.
import { typeText, type Catalog, type Column, type Table } from '../catalog'
import type { Design } from '../design'
import type { CardLine, CardStyle, Content } from './card'
import type { RoutedLink } from './route'

export interface Tables {
  readonly cards: readonly (Omit<Content, 'isBare'> & { readonly of: string })[]
  readonly links: readonly RoutedLink[]
}

/** Said of what no entity, attribute or link was made into. */
const ONLY_HERE = 'only here'

/** `catalog` is what the design makes for the target; `of` is what a card was made from, or nothing. */
export function tablesOf(catalog: Catalog, design: Design, style: CardStyle): Tables {
  const idOf = ({ origin, schema, name }: Table) => origin?.id ?? `${schema}.${name}`
  const byName = new Map(catalog.tables.map((table) => [`${table.schema} ${table.name}`, table]))
  const byOrigin = new Map(catalog.tables.map((table) => [idOf(table), table]))
  const links: RoutedLink[] = []
  const seen = new Set<string>()
  const add = (link: RoutedLink, name: string) => {
    // Both foreign keys of a bridge table were made of one link.
    const id = seen.has(link.id) || link.id === '' ? `${link.id} ${name}` : link.id
    seen.add(id)
    links.push({ ...link, id })
  }
  for (const table of catalog.tables) {
    for (const key of table.foreignKeys) {
      const parent = byName.get(`${key.references.schema} ${key.references.table}`)
      if (!parent) continue
      const about = relation(table, key.columns)
      add({ ...about, id: key.origin?.id ?? '', parent: idOf(parent), child: idOf(table) }, `${table.name} ${key.name}`)
    }
    for (const { link: id } of table.joins ?? []) {
      const link = design.links[id]
      const parent = link && byOrigin.get(link.parent)
      if (link && parent && !seen.has(id)) add({ ...link, parent: idOf(parent), child: idOf(table) }, table.name)
    }
  }
  return { links, cards: catalog.tables.map((table) => contentOf(table, idOf(table), design, style)) }
}

function relation(
  { columns, primaryKey, uniques }: Table,
  own: readonly string[]
): Omit<RoutedLink, 'id' | 'parent' | 'child'> {
  const is = (key: readonly string[]) => key.length === own.length && key.every((name) => own.includes(name))
  const isOne = [primaryKey, ...uniques].some((key) => key && is(key.columns))
  const inKey = primaryKey !== undefined && own.every((name) => primaryKey.columns.includes(name))
  const isFilled = own.every((name) => columns.find((column) => column.name === name)?.nullable === false)
  return {
    kind: isOne ? 'one-to-one' : 'one-to-many',
    identifying: inKey,
    parentRequired: inKey || isFilled,
    childRequired: false
  }
}

function contentOf(table: Table, id: string, design: Design, style: CardStyle): Tables['cards'][number] {
  const { columns, foreignKeys, primaryKey, uniques, origin } = table
  const inKey = new Set(primaryKey?.columns)
  const linked = new Set(foreignKeys.flatMap((key) => key.columns))
  const shown =
    style.columns === 'all'
      ? columns
      : style.columns === 'keys'
        ? columns.filter(({ name }) => inKey.has(name) || linked.has(name))
        : []
  const entity = origin && design.entities[origin.id]
  const link = origin && design.links[origin.id]
  const lineOf = (column: Column): CardLine => {
    const { name, type, nullable, origin: made } = column
    const more = [
      style.shows.has('defaults') && column.default !== undefined ? `= ${column.default}` : '',
      style.shows.has('meanings') && column.comment !== undefined ? `· ${column.comment}` : '',
      made || !origin ? '' : ONLY_HERE
    ].filter((text) => text !== '')
    return {
      id: `${id} ${name}`,
      ...(made ? { row: made.id } : {}),
      name,
      type: style.shows.has('types') ? typeText(type) : '',
      key: inKey.has(name),
      link: linked.has(name),
      optional: style.shows.has('required') ? nullable : undefined,
      ...(more.length > 0 ? { more: more.join(' ') } : {}),
      depth: 0,
      alternates: uniques.flatMap((key, i) => (key.columns.includes(name) ? [i + 1] : []))
    }
  }
  const lines = shown.map(lineOf)
  return {
    id,
    of: origin?.id ?? '',
    name: table.name,
    // What it came from, where that is not what it is called.
    dbName: entity ? (entity.name.toLowerCase() === table.name ? '' : entity.name) : link ? 'of a link' : ONLY_HERE,
    ...(entity?.area === undefined ? {} : { area: entity.area }),
    lines: [...lines.filter(({ key }) => key), ...lines.filter(({ key }) => !key)],
    dependent: foreignKeys.some((key) => key.columns.every((name) => inKey.has(name)))
  }
}
