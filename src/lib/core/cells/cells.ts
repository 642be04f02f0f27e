// What stands in a cell of the sheet, and what a text typed into it means: an edit, or a sentence that says why not.
import {
  fieldsOf,
  leadingType,
  newAttribute,
  newId,
  newLink,
  rowIds,
  typeWords,
  type Attribute,
  type Design,
  type Edit,
  type Entity,
  type Link
} from '../design'
import { holdsFields, printType, type NeutralType } from '../types'
import { dialect, type Dialect } from '../dialects'
import { printCondition, typedCondition } from './conditions'
import { typedDefault, typedType } from './typed'

export const COLUMNS = ['key', 'name', 'type', 'filled', 'default', 'rules', 'meaning', 'database'] as const
export type ColumnName = (typeof COLUMNS)[number]

/** A place in the sheet. */
export interface Cell {
  readonly entity: string
  readonly row: string
  readonly column: ColumnName
}

export type Committed =
  | { readonly edit: Edit; readonly row?: string; /** How it was understood. */ readonly said?: string }
  | { readonly error: string }
  | { readonly same: true }

/** The row of an entity: an attribute, a link (many-to-many ones come last), or none for the empty row at the end. */
export interface Row {
  readonly id: string
  readonly attribute?: Attribute
  readonly link?: Link
  /** The attribute that it is a field of, and how deep it stands. */
  readonly within?: Attribute
  readonly depth: number
}

export const NEW_ROW = '+'
/** The empty row behind the fields of an attribute. */
export const newFieldRow = (attribute: string): string => NEW_ROW + attribute
/** An empty row, in which something new can be named. */
export const isNewRow = (row: string): boolean => row.startsWith(NEW_ROW)

export function rowsOf(design: Design, entity: Entity): Row[] {
  const own = rowIds(design, entity).flatMap((id): Row[] => {
    const attribute = entity.attributes.find((a) => a.id === id)
    const link = design.links[id]
    const row = { id, depth: 0, ...(attribute ? { attribute } : {}), ...(link ? { link } : {}) }
    return attribute && holdsFields(attribute.type) ? [row, ...fieldRows(attribute, 1)] : [row]
  })
  const many = Object.values(design.links).filter((link) => link.child === entity.id && link.kind === 'many-to-many')
  return [...own, ...many.map((link) => ({ id: link.id, link, depth: 0 })), { id: NEW_ROW, depth: 0 }]
}

/** The fields of an attribute, each before its own, and an empty row. */
const fieldRows = (within: Attribute, depth: number): Row[] => [
  ...fieldsOf(within).flatMap((attribute) => [
    { id: attribute.id, attribute, within, depth },
    ...(holdsFields(attribute.type) ? fieldRows(attribute, depth + 1) : [])
  ]),
  { id: newFieldRow(within.id), within, depth }
]

const parentName = (design: Design, link: Link) => design.entities[link.parent]?.name ?? '?'

export function inKey(entity: Entity, row: Row): boolean {
  return entity.primaryKey.includes(row.id) || row.link?.identifying === true
}

export function cellText(design: Design, entity: Entity, row: Row, column: ColumnName): string {
  const { attribute, link } = row
  switch (column) {
    case 'key':
      return inKey(entity, row) ? 'key' : ''
    case 'name':
      return attribute?.name ?? (link ? (link.role ?? parentName(design, link).toLowerCase()) : '')
    case 'type':
      if (attribute) return domainOf(design, attribute)?.name ?? typeWords(design, attribute)
      return link
        ? { 'one-to-many': '', 'one-to-one': 'one ', 'many-to-many': 'many ' }[link.kind] + parentName(design, link)
        : ''
    case 'filled':
      if (attribute) return attribute.required ? 'required' : 'may be empty'
      return link && link.kind !== 'many-to-many' ? (link.parentRequired ? 'required' : 'may be empty') : ''
    case 'default':
      return attribute?.computed === undefined
        ? (attribute?.default ?? '')
        : `= ${printCondition(design, entity, attribute.computed, plainDialect())}`
    case 'rules':
      return attribute ? attributeRules(entity, attribute) : link ? linkRules(link) : ''
    case 'meaning':
      return attribute?.means ?? link?.means ?? ''
    case 'database':
      return attribute?.dbName ?? link?.dbName ?? ''
  }
}

function attributeRules(entity: Entity, attribute: Attribute): string {
  const only = (parts: readonly string[]) => parts.length === 1 && parts[0] === attribute.id
  return [
    entity.uniques.some((key) => only(key.parts)) && 'unique',
    entity.indexes.some((index) => only(index.parts.map((part) => part.id))) && 'index',
    attribute.min !== undefined && `min ${attribute.min}`,
    attribute.max !== undefined && `max ${attribute.max}`,
    attribute.letters
  ]
    .filter((rule) => rule)
    .join(', ')
}

const linkRules = (link: Link) =>
  [
    link.identifying && 'part of',
    link.childRequired && 'at least one',
    link.onDelete !== 'restrict' && `on delete ${link.onDelete}`,
    link.onUpdate !== 'no action' && `on update ${link.onUpdate}`,
    link.drawnOnly && 'drawn only',
    link.embedded && 'embedded'
  ]
    .filter((rule) => rule)
    .join(', ')

/** What typing a text into a cell means. */
export function commit(design: Design, entity: Entity, row: Row, column: ColumnName, typed: string): Committed {
  // No cell takes a tab or a line break.
  const text = typed.replace(/[\t\r\n]+/g, ' ').trim()
  if (text === cellText(design, entity, row, column)) return { same: true }
  if (!row.attribute && !row.link) return commitNew(entity, column, text, row.within)
  if (column === 'name') return commitName(design, entity, row, text)
  if (column === 'type') return commitType(design, entity, row, text)
  if (column === 'rules') return commitRules(entity, row, text)
  if (column === 'meaning') return set(entity, row, { means: text === '' ? undefined : text })
  if (column === 'database') return commitDatabaseName(entity, row, text)
  if (column === 'filled') return commitFilled(entity, row, text)
  if (column === 'key' && row.within) return { error: ONLY_COLUMNS }
  if (column === 'key')
    return row.link?.kind === 'many-to-many'
      ? { error: 'A many-to-many link has no column here.' }
      : { edit: { kind: 'key.toggle', entity: entity.id, id: row.id } }
  return commitDefault(design, entity, row, text)
}

type Shared = { readonly means?: string | undefined }

const set = (entity: Entity, row: Row, values: Partial<Omit<Attribute, 'id'>> & Shared): Committed =>
  row.attribute
    ? { edit: { kind: 'attribute.set', entity: entity.id, id: row.id, set: values } }
    : { edit: { kind: 'link.set', id: row.id, set: { means: values.means } } }

/** Nothing typed: the name follows from what people say. */
function commitDatabaseName(entity: Entity, row: Row, text: string): Committed {
  const dbName = text === '' ? undefined : text
  return row.attribute
    ? { edit: { kind: 'attribute.set', entity: entity.id, id: row.id, set: { dbName } } }
    : { edit: { kind: 'link.set', id: row.id, set: { dbName } } }
}

const ONLY_COLUMNS = 'Only columns of an entity are in its key, unique or in an index: this is a field.'

function commitNew(entity: Entity, column: ColumnName, text: string, within: Attribute | undefined): Committed {
  if (text === '') return { same: true }
  if (column !== 'name') return { error: `Name the ${within ? 'field' : 'column'} first.` }
  const again = twice(entity, within, '', text)
  if (again !== undefined) return { error: again }
  const attribute = newAttribute(text)
  const into = within === undefined ? {} : { within: within.id }
  return { edit: { kind: 'attribute.add', entity: entity.id, attribute, ...into }, row: attribute.id }
}

/** Why a name cannot be: another one beside it has it. */
function twice(entity: Entity, within: Attribute | undefined, id: string, name: string): string | undefined {
  const among = within ? fieldsOf(within) : entity.attributes
  return among.some((a) => a.id !== id && a.name.toLowerCase() === name.toLowerCase())
    ? `${(within ?? entity).name} has a ${within ? 'field' : 'column'} “${name}” already.`
    : undefined
}

function commitName(design: Design, entity: Entity, row: Row, text: string): Committed {
  if (row.attribute) {
    if (text === '') return { error: 'A column needs a name. To remove it, press Ctrl+Delete.' }
    const again = twice(entity, row.within, row.id, text)
    if (again !== undefined) return { error: again }
    return { edit: { kind: 'attribute.set', entity: entity.id, id: row.id, set: { name: text } } }
  }
  if (!row.link) return { same: true }
  const plain = text === '' || text.toLowerCase() === parentName(design, row.link).toLowerCase()
  return { edit: { kind: 'link.set', id: row.id, set: { role: plain ? undefined : text } } }
}

function commitType(design: Design, entity: Entity, row: Row, text: string): Committed {
  const words = /^(one|many)\s+(.+)$/i.exec(text)
  const parent = findCalled(design.entities, words?.[2] ?? text)
  if (parent && row.within && words) return { error: `Of many, a field holds a list: type list of ${parent.name}.` }
  const led =
    row.attribute && (row.within || !parent)
      ? leadingType(text, (name) => findCalled(design.entities, name))
      : undefined
  if (led && row.attribute)
    return {
      edit: {
        kind: 'attribute.set',
        entity: entity.id,
        id: row.id,
        set: { type: led.type, leadsTo: led.to.id, domain: undefined }
      }
    }
  if (parent && !/^one\s+of\s*\(/i.test(text)) {
    const kinds = { one: 'one-to-one', many: 'many-to-many' } as const
    const kind = kinds[(words?.[1]?.toLowerCase() ?? '') as keyof typeof kinds] ?? 'one-to-many'
    return row.link ? relink(design, entity, row.link, parent, kind) : linkInstead(design, entity, row, parent, kind)
  }
  const domain = findCalled(design.domains, text)
  const read = domain ? { value: { type: domain.type } } : typedType(text)
  if ('error' in read) return { error: `${read.error}${words ? '' : ' An entity’s name makes a link.'}` }
  const { type, numbered, instead } = read.value
  if (numbered && row.attribute && !row.within) return numberedBy(entity, row.attribute, type)
  const said = instead === undefined ? {} : { said: `“${text}” is ${instead} here.` }
  if (row.attribute)
    return {
      edit: {
        kind: 'attribute.set',
        entity: entity.id,
        id: row.id,
        set: domain ? { domain: domain.id } : { type, domain: undefined }
      },
      ...said
    }
  if (!row.link) return { same: true }
  const attribute = newAttribute(cellText(design, entity, row, 'name'), {
    type,
    ...(domain ? { domain: domain.id } : {}),
    required: row.link.parentRequired
  })
  const next = after(design, entity, row.id)
  return {
    edit: {
      kind: 'all',
      edits: [
        { kind: 'object.remove', collection: 'links', id: row.id },
        { kind: 'attribute.add', entity: entity.id, attribute, ...(next === undefined ? {} : { before: next }) },
        inPlaceOf(entity, row.id, attribute.id, inKey(entity, row))
      ]
    },
    row: attribute.id,
    ...said
  }
}

/** A column that the engine counts up is what tells rows apart: the entity's identifier, under the column's name. */
function numberedBy(entity: Entity, { id, name }: Attribute, type: NeutralType): Committed {
  const others = entity.primaryKey.filter((part) => part !== id)
  if (others.length > 0)
    return { error: `${entity.name} has a key already: only a key of its own is numbered by the engine.` }
  const kind = type.kind === 'small' || type.kind === 'big' ? type.kind : 'integer'
  return {
    edit: {
      kind: 'all',
      edits: [
        { kind: 'attribute.remove', entity: entity.id, id },
        { kind: 'entity.set', id: entity.id, set: { identifier: { name, kind } } }
      ]
    },
    row: NEW_ROW,
    said: `${name} is the key of ${entity.name}: ${kind}, numbered by the engine.`
  }
}

function relink(design: Design, entity: Entity, link: Link, parent: Entity, kind: Link['kind']): Committed {
  if (link.identifying && kind === 'many-to-many')
    return { error: 'A link that is part of the key cannot be many-to-many.' }
  const fresh = newLink(design, parent, entity, { kind })
  const role = parent.id === link.parent ? link.role : fresh.role
  return { edit: { kind: 'link.set', id: link.id, set: { kind, parent: parent.id, role } } }
}

/** In keys and indexes, a row takes the place of the one that it was made of. */
function inPlaceOf(entity: Entity, old: string, row: string, key: boolean): Edit {
  const now = (id: string) => (id === old ? row : id)
  return {
    kind: 'entity.set',
    id: entity.id,
    set: {
      primaryKey: key && !entity.primaryKey.includes(old) ? [row, ...entity.primaryKey] : entity.primaryKey.map(now),
      uniques: entity.uniques.map((unique) => ({ ...unique, parts: unique.parts.map(now) })),
      indexes: entity.indexes.map((index) => ({
        ...index,
        parts: index.parts.map((part) => ({ ...part, id: now(part.id) }))
      }))
    }
  }
}

function linkInstead(design: Design, entity: Entity, row: Row, parent: Entity, kind: Link['kind']): Committed {
  const attribute = row.attribute
  if (!attribute) return { same: true }
  const identifying = kind !== 'many-to-many' && inKey(entity, row)
  const base = newLink(design, parent, entity, { kind, parentRequired: attribute.required, identifying })
  const own = attribute.name.toLowerCase()
  const role = own === parent.name.toLowerCase() ? base.role : attribute.name
  const { role: _, ...rest } = base
  const link: Link = {
    ...rest,
    ...(role === undefined ? {} : { role }),
    ...(attribute.means ? { means: attribute.means } : {})
  }
  const next = after(design, entity, row.id)
  return {
    edit: {
      kind: 'all',
      edits: [
        { kind: 'attribute.remove', entity: entity.id, id: row.id },
        { kind: 'link.add', link, ...(next === undefined ? {} : { before: next }) },
        ...(kind === 'many-to-many' ? [] : [inPlaceOf(entity, row.id, link.id, identifying)])
      ]
    },
    row: link.id
  }
}

const domainOf = (design: Design, { domain }: Attribute) => (domain === undefined ? undefined : design.domains[domain])

const findCalled = <T extends { readonly name: string }>(all: Readonly<Record<string, T>>, name: string) =>
  Object.values(all).find((one) => one.name.toLowerCase() === name.trim().toLowerCase())

function after(design: Design, entity: Entity, id: string): string | undefined {
  const ids = rowIds(design, entity)
  return ids[ids.indexOf(id) + 1]
}

function commitFilled(entity: Entity, row: Row, text: string): Committed {
  const required = /^(required|yes|y|true|1)$/i.test(text)
  if (!required && !/^(may be empty|empty|no|n|optional|false|0|)$/i.test(text))
    return { error: 'Type “required” or “may be empty”.' }
  if (inKey(entity, row) && !required) return { error: 'A key is always filled. Take the column out of the key first.' }
  if (row.attribute) return { edit: { kind: 'attribute.set', entity: entity.id, id: row.id, set: { required } } }
  return { edit: { kind: 'link.set', id: row.id, set: { parentRequired: required } } }
}

/** Conditions are in the words of the standard, whatever the engine. */
const plainDialect = (): Dialect => {
  const found = dialect('postgres')
  if (!found) throw new Error('PostgreSQL is known')
  return found
}

/** A value that rows begin with; or, behind `=`, what each is worked out from. */
function commitDefault(design: Design, entity: Entity, row: Row, text: string): Committed {
  if (!row.attribute) return { error: 'A link has no default.' }
  const set = (values: Partial<Omit<Attribute, 'id'>>): Committed => ({
    edit: { kind: 'attribute.set', entity: entity.id, id: row.id, set: values }
  })
  if (text.startsWith('=')) {
    if (row.within) return { error: 'Only columns of an entity are worked out from others: this is a field.' }
    const computed = typedCondition(design, entity, text.slice(1), plainDialect())
    return 'error' in computed ? computed : set({ computed: computed.value, default: undefined })
  }
  const read = typedDefault(text, row.attribute.type)
  if ('error' in read) return read
  return set({ default: read.value, computed: undefined })
}

function commitRules(entity: Entity, row: Row, text: string): Committed {
  const rules = text.split(',').flatMap((rule) => rule.trim() || [])
  return row.attribute
    ? row.within && rules.some((rule) => /^(unique|index)$/i.test(rule))
      ? { error: ONLY_COLUMNS }
      : commitAttributeRules(entity, row.attribute, rules)
    : row.link
      ? commitLinkRules(row.link, rules)
      : { same: true }
}

function commitAttributeRules(entity: Entity, attribute: Attribute, rules: readonly string[]): Committed {
  let [unique, index] = [false, false]
  const limits: { min?: number; max?: number } = {}
  let letters: Attribute['letters']
  for (const rule of rules) {
    const limit = /^(min|max)\s+(-?\d+(?:\.\d+)?)$/i.exec(rule)
    if (limit && !Number.isFinite(Number(limit[2]))) return { error: `“${rule}”: that number is too large.` }
    if (limit) limits[limit[1]?.toLowerCase() === 'min' ? 'min' : 'max'] = Number(limit[2])
    else if (/^unique$/i.test(rule)) unique = true
    else if (/^index$/i.test(rule)) index = true
    else if (/^(upper|lower)$/i.test(rule)) letters = rule.toLowerCase() as 'upper' | 'lower'
    else return { error: `“${rule}” is no rule. Rules of a column are unique, index, min 0, max 9, upper and lower.` }
  }
  if (letters && attribute.type.kind !== 'text' && attribute.type.kind !== 'char')
    return { error: `Only text has letters: ${attribute.name} is ${printType(attribute.type)}.` }
  const edits: Edit[] = [
    { kind: 'attribute.set', entity: entity.id, id: attribute.id, set: { min: limits.min, max: limits.max, letters } }
  ]
  const key = entity.uniques.find((k) => k.parts.length === 1 && k.parts[0] === attribute.id)
  if (unique && !key)
    edits.push({
      kind: 'part.set',
      list: 'uniques',
      entity: entity.id,
      part: { id: newId('key'), parts: [attribute.id] }
    })
  if (!unique && key) edits.push({ kind: 'part.remove', list: 'uniques', entity: entity.id, id: key.id })
  const known = entity.indexes.find((i) => i.parts.length === 1 && i.parts[0]?.id === attribute.id)
  if (index && !known)
    edits.push({
      kind: 'part.set',
      list: 'indexes',
      entity: entity.id,
      part: { id: newId('idx'), unique: false, parts: [{ id: attribute.id, descending: false }] }
    })
  if (!index && known) edits.push({ kind: 'part.remove', list: 'indexes', entity: entity.id, id: known.id })
  return { edit: { kind: 'all', edits } }
}

function commitLinkRules(link: Link, rules: readonly string[]): Committed {
  const next: { -readonly [K in keyof Link]?: Link[K] | undefined } = {
    identifying: false,
    childRequired: false,
    onDelete: 'restrict',
    onUpdate: 'no action',
    drawnOnly: undefined,
    embedded: undefined
  }
  for (const rule of rules) {
    const action = /^on\s+(delete|update)\s+(restrict|cascade|set null|set default|no action)$/i.exec(rule)
    if (action)
      next[action[1]?.toLowerCase() === 'delete' ? 'onDelete' : 'onUpdate'] =
        action[2]?.toLowerCase() as Link['onDelete']
    else if (/^part of$/i.test(rule)) next.identifying = true
    else if (/^at least one$/i.test(rule)) next.childRequired = true
    else if (/^drawn only$/i.test(rule)) next.drawnOnly = true
    else if (/^embedded$/i.test(rule)) next.embedded = true
    else
      return {
        error: `“${rule}” is no rule. Rules of a link are part of, at least one, on delete cascade, drawn only, embedded.`
      }
  }
  if (next.identifying && link.kind === 'many-to-many') return { error: 'A many-to-many link cannot be part of a key.' }
  return { edit: { kind: 'link.set', id: link.id, set: next as Partial<Link> } }
}
