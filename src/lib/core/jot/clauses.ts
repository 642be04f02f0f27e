// What lines say of several columns of an entity together, once all that they name is there.
import { sameValue } from '../catalog'
import { newId, type Design, type Entity, type Link } from '../design'
import { type Line } from './lines'
import { onOneLine, readCondition } from './names'
import { inner, listed, piecesOf, unquoted } from './pieces'
import { columnNames, rowNames } from './print'
import { type Says } from './says'
import { type Reading, type Draft } from './reading'
import { byNameOrBefore, idOf, inOldOrder } from './keeping'
import { called } from './opening'

/** Keys, unique columns and indexes, and what the entity does without. */
export function listsOf(reading: Reading, draft: Draft, entity: Entity, design: Design): Entity {
  const before = reading.was(entity.id)
  const rows = draft.clauses.length > 0 ? rowsByName(reading, draft, design, entity) : new Map<string, string>()
  const uniques: Entity['uniques'] = []
  const indexes: Entity['indexes'] = []
  let { primaryKey } = entity
  let keyName: string | undefined
  let identifier: Entity['identifier']
  const without: string[] = []
  const addUnique = (parts: string[], name: string | undefined) =>
    uniques.push({
      ...idOf(before?.uniques, uniques, 'key', parts, name, (key) => key.parts),
      parts,
      ...(name === undefined ? {} : { name })
    })
  const addIndex = (
    parts: Entity['indexes'][number]['parts'],
    unique: boolean,
    name: string | undefined,
    some: boolean
  ) => {
    const ids = parts.map(({ id }) => id)
    const same = (index: Entity['indexes'][number]) => index.parts.map(({ id }) => id)
    indexes.push({
      ...idOf(
        before?.indexes,
        indexes,
        'idx',
        ids,
        name,
        same,
        (one) => one.unique === unique && (one.where !== undefined) === some && sameValue(one.parts, parts)
      ),
      unique,
      parts,
      ...(name === undefined ? {} : { name })
    })
  }
  for (const { id, says } of draft.rows) {
    if (says.unique) addUnique([id], undefined)
    if (says.index) addIndex([{ id, descending: false }], false, undefined, false)
  }
  for (const line of draft.clauses) {
    const { text } = line
    const list = (group: string, ordered: boolean) => partsIn(reading, line, inner(group), rows, ordered, entity.name)
    const [first, group, ...rest] = piecesOf(text)
    const word = first?.text.toLowerCase()
    const [, named] = called(text.slice((group?.at ?? 0) + (group?.text.length ?? 0)))
    if (word === 'no') {
      const name = unquoted(text.slice(3))
      const common = Object.values(design.commons).find((one) => one.name.toLowerCase() === name.toLowerCase())
      if (common) without.push(common.id)
      else
        reading.say(
          'jot-unknown',
          line,
          3,
          `No entity has a column “${name}” by itself: every entity has … says which.`
        )
    } else if (word === 'key' && group?.kind === 'group') {
      const parts = list(group.text, false)
      if (!parts) continue
      primaryKey = parts.map(({ id }) => id)
      keyName = named
    } else if (word === 'key') identifier = identifierOf(reading, line)
    else if (word === 'unique' && group) {
      const parts = list(group.text, false)
      if (parts)
        addUnique(
          parts.map(({ id }) => id),
          named
        )
    } else if (word === 'index' && group) {
      const parts = list(group.text, true)
      if (parts)
        addIndex(
          parts,
          rest.some((piece) => piece.text.toLowerCase() === 'unique'),
          named,
          rest.some((piece) => piece.text.toLowerCase() === 'where')
        )
    }
  }
  const required = new Set(primaryKey)
  return {
    ...entity,
    attributes: entity.attributes.map((one) =>
      required.has(one.id) && !one.required && !before?.primaryKey.includes(one.id) ? { ...one, required: true } : one
    ),
    primaryKey,
    uniques: inOldOrder(uniques, before?.uniques),
    indexes: inOldOrder(indexes, before?.indexes),
    ...(keyName === undefined ? {} : { keyName }),
    ...(identifier === undefined ? {} : { identifier }),
    ...(without.length > 0 ? { without } : {})
  }
}

function identifierOf(reading: Reading, line: Line): Entity['identifier'] {
  const [head = '', ...words] = listed(line.text.replace(/^key\s+is\s+/i, ''))
  const [name = '', dbName] = called(head)
  const said: { -readonly [K in keyof NonNullable<Entity['identifier']>]: NonNullable<Entity['identifier']>[K] } = {
    ...(name === 'id' ? {} : { name }),
    ...(dbName === undefined ? {} : { dbName })
  }
  for (const word of words) {
    const [, which, n] = /^(from|step)\s+(-?\d+)$/i.exec(word) ?? []
    if (/^(small|integer|big|uuid)$/i.test(word)) said.kind = word.toLowerCase() as 'big'
    else if (which) said[which.toLowerCase() === 'from' ? 'start' : 'step'] = Number(n)
    else reading.say('jot-word', line, 0, `“${word}” says nothing of a key: small, integer, big, uuid, from 1, step 1.`)
  }
  return Object.keys(said).length > 0 ? said : undefined
}

function rowsByName(reading: Reading, { rows }: Draft, design: Design, entity: Entity): Map<string, string> {
  const before = reading.was(entity.id)
  const names = byNameOrBefore(rowNames(design, entity), before && rowNames(reading.base, before))
  for (const row of rows)
    if (row.kind === 'link' && row.called !== undefined && !names.has(row.called.toLowerCase()))
      names.set(row.called.toLowerCase(), row.id)
  return names
}

function partsIn(
  reading: Reading,
  line: Line,
  text: string,
  names: ReadonlyMap<string, string>,
  ordered: boolean,
  entity: string,
  tells = true
) {
  const parts: { id: string; descending: boolean }[] = []
  for (const part of listed(text)) {
    const whole = names.get(unquoted(part).toLowerCase())
    const [, name = part, down] = (ordered && whole === undefined && /^([\s\S]+?)\s+(desc|down|asc)$/i.exec(part)) || []
    const id = whole ?? names.get(unquoted(name).toLowerCase())
    if (id === undefined) {
      if (tells)
        reading.say('jot-unknown', line, line.text.indexOf(part), `${entity} has no column “${unquoted(name)}”.`)
      return undefined
    }
    parts.push({ id, descending: down !== undefined && !/^asc$/i.test(down) })
  }
  return parts
}

export function withParentKey(
  reading: Reading,
  link: Link,
  says: Says | undefined,
  drafts: readonly Draft[],
  design: Design
): Link {
  const parent = design.entities[link.parent]
  if (says?.to === undefined || !parent) return link
  const names = new Map([...rowNames(design, parent)].map(([id, name]) => [name.toLowerCase(), id]))
  const ids = listed(says.to).map((name) => names.get(unquoted(name).toLowerCase()))
  const key = parent.uniques.find((one) => sameValue(one.parts, ids))
  if (key) return { ...link, parentKey: key.id }
  const line = drafts
    .flatMap(({ block }) => block.line.inside)
    .find(({ number }) => number === reading.lines.get(link.id))
  if (line) reading.say('jot-unknown', line, 0, `${parent.name} has nothing unique of (${says.to}).`)
  return link
}

/** Rules, and of which rows indexes are. */
export function conditionsOf(reading: Reading, draft: Draft, entity: Entity, design: Design): Entity {
  const before = reading.was(entity.id)
  const computed = new Map(
    draft.rows.flatMap(({ id, says }) => (says.computed === undefined ? [] : [[id, says.computed] as const]))
  )
  if (draft.clauses.length === 0 && computed.size === 0) return entity
  const paths = before
    ? byNameOrBefore(columnNames(design, entity), columnNames(reading.base, before))
    : byNameOrBefore(columnNames(design, entity))
  const rules: Entity['rules'] = []
  let { indexes } = entity
  for (const line of draft.clauses) {
    const pieces = piecesOf(line.text)
    const [first, group, ...rest] = pieces
    if (first?.text.toLowerCase() === 'check' && group) {
      const condition = readCondition(inner(group.text), paths)
      const [head, dbName] = called(line.text.slice(group.at + group.text.length))
      const name = head === undefined || head === '' ? undefined : head
      const old = before?.rules.filter(({ id }) => !rules.some((rule) => rule.id === id))
      const same =
        old?.find((rule) => onOneLine(rule.condition) === condition) ??
        old?.find((rule) => (dbName ?? name) !== undefined && rule.dbName === dbName && rule.name === name)
      rules.push({
        id: same?.id ?? newId('rul'),
        condition: same && onOneLine(same.condition) === condition ? same.condition : condition,
        ...(name === undefined ? {} : { name }),
        ...(dbName === undefined ? {} : { dbName })
      })
    } else if (first?.text.toLowerCase() === 'index' && group) {
      const at = rest.findIndex((piece) => piece.text.toLowerCase() === 'where')
      const where = at < 0 ? undefined : rest[at + 1]
      if (where?.kind !== 'group') continue
      const [, named] = called(line.text.slice(where.at + where.text.length))
      const names = rowsByName(reading, draft, design, entity)
      const parts = partsIn(reading, line, inner(group.text), names, true, entity.name, false)
      const unique = rest.some((piece) => piece.text.toLowerCase() === 'unique')
      const whereBefore = (id: string | undefined) => before?.indexes.find((one) => one.id === id)?.where
      const candidates = indexes.filter(
        (index) =>
          index.where === undefined && index.name === named && index.unique === unique && sameValue(index.parts, parts)
      )
      // One that a column's own line speaks of is of all rows, and stands first.
      const found = candidates.find(({ id }) => whereBefore(id) !== undefined) ?? candidates.at(-1)
      const condition = readCondition(inner(where.text), paths)
      const old = whereBefore(found?.id)
      const kept = old !== undefined && onOneLine(old) === condition ? old : condition
      indexes = indexes.map((index) => (index === found ? { ...index, where: kept } : index))
    }
  }
  const old = new Map(before?.attributes.map((one) => [one.id, one.computed]))
  const attributes = entity.attributes.map((one) => {
    const said = computed.get(one.id)
    if (said === undefined) return one
    const condition = readCondition(said, paths)
    const was = old.get(one.id)
    return { ...one, computed: was !== undefined && onOneLine(was) === condition ? was : condition }
  })
  return {
    ...entity,
    indexes,
    rules: inOldOrder(rules, before?.rules),
    ...(computed.size > 0 ? { attributes } : {})
  }
}
