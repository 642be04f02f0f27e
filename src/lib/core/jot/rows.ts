// The lines of an entity: its columns and links, each the one that it was before where there was one.
import { sameValue } from '../catalog'
import { linksAt, rowIds, newEntity, newLink, type Attribute, type Entity, type Link } from '../design'
import { type Line } from './lines'
import { attributeOf, holdsLines, matchedAttributes, type Named } from './fields'
import { outside, unquoted } from './pieces'
import { saysOf, type Says } from './says'
import { type Reading, type Block, type Draft, type Row } from './reading'
import { inOldOrder } from './keeping'
import { guessedParent } from './guessed-link'
import { called, rawName } from './opening'

export function draft(reading: Reading, block: Block): Draft {
  const shell = reading.shells.get(block.name.toLowerCase()) ?? newEntity(block.name)
  const before = reading.was(shell.id)
  const rowLines: RowLine[] = []
  const guessed = new Map<RowLine, Entity>()
  const clauses: Line[] = []
  let means: string | undefined
  for (const line of flat(reading, block, before)) {
    const { text } = line
    const colon = outside(text, ':')
    const part = /^part\s+of\s+/i.exec(text)
    if (/^means(\s|$)/i.test(text) && !/^means\s*:/i.test(text)) means = unquotedMeaning(text.slice(5))
    else if (part && partOf(reading, text.slice(part[0].length)))
      rowLines.push({
        line,
        name: '',
        dbName: undefined,
        tail: text.slice(part[0].length),
        from: part[0].length,
        part: true
      })
    else if (
      /^(check|index|unique|key)\s*\(/i.test(text) ||
      /^key\s+is\s/i.test(text) ||
      (/^no\s/i.test(text) && colon < 0)
    )
      clauses.push(line)
    else if (colon >= 0) {
      const [name = '', dbName] = called(text.slice(0, colon))
      rowLines.push({ line, name, dbName, tail: text.slice(colon + 1), from: colon + 1, part: false })
    } else {
      // A bare name, with words of its own behind it.
      const bare = /^(.*?)((?:\s+(?:required|unique|key|index))*)$/i.exec(text)
      const [, name = '', words = ''] = bare ?? []
      if (name.trim() === '' || /[(),=]/.test(name)) {
        reading.say(
          'jot-line',
          line,
          0,
          `“${text}” is no column and says nothing of ${block.name}: a column is written name: type.`
        )
        rowLines.push({ line, name: text, dbName: undefined, tail: '', from: 0, part: false, broken: true })
        continue
      }
      rowLines.push({ line, name: unquoted(name), dbName: undefined, tail: words, from: name.length, part: false })
    }
  }
  for (const one of rowLines) {
    const { type, entity, odd } = reading.says(one.tail)
    if (one.part || one.broken || type || entity || odd.length > 0 || one.line.inside.length > 0) continue
    const parent = guessedParent(reading, one.name, shell)
    if (parent) guessed.set(one, parent)
  }
  const plain = rowLines.filter((one) => !one.part && !guessed.has(one) && reading.says(one.tail).entity === undefined)
  const attributes = matchedAttributes(reading, plain, before?.attributes ?? [])
  return rowsOf(reading, block, shell, before, rowLines, attributes, guessed, clauses, means)
}

/** The lines of an entity; what stands further in than it could is of it, too. */
function flat(reading: Reading, block: Block, before: Entity | undefined): Line[] {
  const all = (line: Line): Line[] => [
    line,
    ...(holdsLines(reading, line, before) ? [] : line.inside).flatMap((deeper) => {
      reading.say(
        'jot-indent',
        deeper,
        0,
        `Nothing can stand in this line: it is taken for a line of ${block.name}.`,
        'warning'
      )
      return all(deeper)
    })
  ]
  return block.line.inside.flatMap(all)
}

/** An entity that something is a part of, by what stands behind those words. */
function partOf(
  reading: Reading,
  text: string
): { entity: Entity; says: Says; role: string | undefined; dbName: string | undefined } | undefined {
  const comma = outside(text, ',')
  const first = comma < 0 ? text : text.slice(0, comma)
  const [named = '', dbName] = called(first)
  const [, target = named, role] = /^([\s\S]*?)\s+as\s+([\s\S]+)$/i.exec(rawName(first)) ?? [undefined, rawName(first)]
  const says = saysOf(comma < 0 ? '' : text.slice(comma), { entity: () => undefined, domain: () => undefined })
  const [, one, plain = target] = /^(one\s+)?([\s\S]+)$/i.exec(target) ?? []
  const entity = reading.known.entity(unquoted(target)) ?? reading.known.entity(unquoted(plain))
  if (!entity) return undefined
  const isOne = one !== undefined && reading.known.entity(unquoted(target)) === undefined
  return {
    entity,
    says: { ...says, link: isOne ? 'one-to-one' : 'one-to-many' },
    role: role === undefined ? undefined : unquoted(role),
    dbName
  }
}

function rowsOf(
  reading: Reading,
  block: Block,
  shell: Entity,
  before: Entity | undefined,
  lines: readonly RowLine[],
  known: ReadonlyMap<Named, Attribute>,
  guessed: ReadonlyMap<RowLine, Entity>,
  clauses: readonly Line[],
  means: string | undefined
): Draft {
  const attributes: Attribute[] = []
  const links: Link[] = []
  const rows: Row[] = []
  const oldLinks = before ? linksOf(reading, before.id) : []
  const takenLinks = new Set<string>()
  const oldLink = (parent: Entity, role: string | undefined, identifying: boolean): Link | undefined => {
    const free = oldLinks.filter(({ id }) => !takenLinks.has(id))
    const same = free.filter((link) => link.parent === parent.id)
    const found =
      same.find((link) => link.role === role && link.identifying === identifying) ??
      same.find((link) => link.role === role) ??
      (same.length === 1 ? same[0] : undefined) ??
      free.find((link) => role !== undefined && link.role === role)
    if (found) takenLinks.add(found.id)
    return found
  }
  const seen = new Set<string>()
  for (const one of lines) {
    const { line, name, dbName, tail, from, part } = one
    if (one.broken) {
      const row = asItWas(reading, before, known.get(one), oldLinks, takenLinks, name)
      if (row?.kind === 'attribute') attributes.push(row.attribute)
      if (row?.kind === 'link') links.push(row.link)
      if (row) {
        rows.push({ kind: row.kind, id: row.id, says: row.says })
        reading.lines.set(row.id, line.number)
      }
      continue
    }
    const asPart = part ? partOf(reading, tail) : undefined
    const says = asPart?.says ?? reading.says(tail)
    const guess = guessed.get(one)
    const parent = asPart?.entity ?? says.entity ?? guess
    reading.odd(says, line, from)
    const own = name.toLowerCase()
    // Links may be called alike: their foreign keys are not.
    if (!part && seen.has(own) && !parent) {
      reading.say('jot-twice', line, 0, `${block.name} has a column “${name}” already.`)
      continue
    }
    seen.add(own)
    if (parent) {
      const role = part ? asPart?.role : guess || own === parent.name.toLowerCase() ? undefined : name
      const old = oldLink(parent, role, part)
      const link = linkOf(reading, shell, parent, says, {
        role,
        identifying: part,
        dbName: asPart?.dbName ?? dbName,
        old
      })
      links.push(link)
      reading.lines.set(link.id, line.number)
      rows.push({ kind: 'link', id: link.id, says, ...(guess ? { called: name } : {}) })
      continue
    }
    const old = known.get(one)
    // What is in the key is always there, whatever else is said of it.
    const required = says.required || (says.key && (!old || !before?.primaryKey.includes(old.id) || old.required))
    const attribute = attributeOf(reading, one, says, old, required)
    attributes.push(attribute)
    rows.push({ kind: 'attribute', id: attribute.id, says })
  }
  const entity: Entity = {
    id: shell.id,
    name: block.name,
    ...(block.dbName === undefined ? {} : { dbName: block.dbName }),
    ...(block.namespace === undefined ? {} : { namespace: block.namespace }),
    ...(means === undefined ? {} : { means }),
    ...((block.kindOf ? before?.collection : block.collection) ? { collection: true as const } : {}),
    // Where a column stands is said by the order alone.
    attributes: inOldOrder(attributes, before?.attributes),
    order: orderOf(
      reading,
      before,
      rows.flatMap(({ id }) => (links.some((l) => l.id === id && l.kind === 'many-to-many') ? [] : [id]))
    ),
    primaryKey: rows.flatMap(({ id, says }) =>
      says.key || links.some((link) => link.id === id && link.identifying) ? [id] : []
    ),
    uniques: [],
    indexes: [],
    rules: []
  }
  return { block, entity, rows, links, clauses }
}

/** The links of an entity to others, as they were. */
const linksOf = ({ base, gone }: Reading, entity: string): Link[] =>
  (base.entities[entity] ? linksAt(base, entity) : gone.links).filter(({ child }) => child === entity)

/** What a line that is not understood stood for before. */
function asItWas(
  reading: Reading,
  before: Entity | undefined,
  attribute: Attribute | undefined,
  links: readonly Link[],
  taken: Set<string>,
  text: string
) {
  if (!before) return undefined
  const words = text.toLowerCase()
  const link = links.find(
    ({ id, role, parent }) =>
      !taken.has(id) &&
      reading.isThere(parent) &&
      words.includes((role ?? reading.base.entities[parent]?.name ?? '?').toLowerCase())
  )
  const id = attribute?.id ?? link?.id
  if (id === undefined) return undefined
  const says: Says = {
    ...reading.says(''),
    key: attribute !== undefined && before.primaryKey.includes(id),
    unique: before.uniques.some(({ name, parts }) => name === undefined && sameValue(parts, [id])),
    index: before.indexes.some(
      ({ name, unique, where, parts }) =>
        name === undefined &&
        !unique &&
        where === undefined &&
        parts.length === 1 &&
        parts[0]?.id === id &&
        !parts[0].descending
    )
  }
  if (attribute) return { kind: 'attribute' as const, id, says, attribute }
  if (!link) return undefined
  taken.add(id)
  return { kind: 'link' as const, id, says, link }
}

/** As it was where it says the same. */
function orderOf(reading: Reading, before: Entity | undefined, order: string[]): string[] {
  return before && rowIds(reading.base, before).join() === order.join() ? before.order : order
}

export function linkOf(
  reading: Reading,
  child: Entity,
  parent: Entity,
  says: Says,
  more: { role: string | undefined; identifying: boolean; dbName: string | undefined; old: Link | undefined }
): Link {
  const { role, identifying, dbName, old } = more
  const like = old ?? newLink(reading.base, parent, child)
  if (!old) reading.fresh.add(like.id)
  const {
    role: _role,
    dbName: _dbName,
    means: _means,
    parentKey: _key,
    drawnOnly: _drawn,
    embedded: _within,
    ...kept
  } = like
  // What it holds of the parent's key in columns of its own is so only while it leads there.
  const same = old?.parent === parent.id
  const { childRole: _there, ...others } = kept
  return {
    ...((says.embedded || old?.embedded) && says.link !== 'many-to-many' ? others : kept),
    columns: same ? kept.columns : {},
    parent: parent.id,
    child: child.id,
    kind: says.link,
    identifying: identifying && says.link !== 'many-to-many',
    // Neither side of many-to-many must be there.
    parentRequired: says.link === 'many-to-many' ? kept.parentRequired : says.required || identifying,
    childRequired: says.childRequired,
    onDelete: says.onDelete ?? 'restrict',
    onUpdate: says.onUpdate ?? 'no action',
    ...(role === undefined ? {} : { role }),
    ...(dbName === undefined ? {} : { dbName }),
    ...(says.means === undefined ? {} : { means: says.means }),
    ...(says.drawnOnly ? { drawnOnly: true } : {}),
    ...(says.embedded ? embeddedAs(says.embeddedAs) : old?.embedded === false ? { embedded: false } : {})
  }
}

/** What it is called there is said with it. */
const embeddedAs = (childRole: string | undefined): Pick<Link, 'embedded' | 'childRole'> => ({
  embedded: true,
  ...(childRole === undefined ? {} : { childRole })
})

const unquotedMeaning = (text: string): string => {
  const plain = text.trim()
  return /^"[\s\S]*"$/.test(plain) && plain.length > 1 ? plain.slice(1, -1).replaceAll('""', '"') : plain
}

/** A line that a column or a link stands in. */
interface RowLine extends Named {
  /** It says what the entity is a part of. */
  readonly part: boolean
}
