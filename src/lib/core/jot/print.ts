// A design as a text.
import { logical } from '../derive'
import {
  fieldsOf,
  IDENTIFIER,
  linksAt,
  rowIds,
  typeWords,
  type Attribute,
  type Common,
  type Design,
  type Domain,
  type Entity,
  type Link,
  type Subtypes,
  type View
} from '../design'
import { printType } from '../types'
import { nameAmong, nameBefore, onOneLine, printCondition } from './names'
import { inQuotes } from './pieces'
import { FILLED } from './says'
import { printView } from './views'

const byName = (a: { readonly name: string }, b: { readonly name: string }) =>
  a.name < b.name ? -1 : a.name > b.name ? 1 : 0

/** All of a design that the notation has words for; reading it back gives that. */
export function printJot(design: Design): string {
  const parts = [['jot 1'], settings(design), ...domains(design), ...sections(design)]
  return `${parts
    .filter((lines) => lines.length > 0)
    .map((lines) => lines.join('\n'))
    .join('\n\n')}\n`
}

/** One entity as a text, as it stands in the whole. */
export function printEntity(design: Design, entity: Entity): string {
  return entityLines(design, entity).join('\n')
}

function settings(design: Design): string[] {
  const { tablePrefix, tables, letters, identifier } = design.settings
  const commons = Object.values(design.commons).sort((a, b) => a.rank - b.rank || (a.id < b.id ? -1 : 1))
  return [
    ...(identifier === 'integer' ? [] : [`every key is ${identifier}`]),
    ...(tablePrefix === '' ? [] : [`every table begins ${nameAmong(tablePrefix)}`]),
    ...(tables === undefined ? [] : [`every table is called by ${tables === 'plural' ? 'many' : 'one'}`]),
    ...(letters === undefined ? [] : [`every name is in ${letters} letters`]),
    ...(commons.length === 0
      ? []
      : ['every entity has', ...commons.map((common) => `  ${head(common)}: ${commonWords(common)}`)])
  ]
}

const head = ({ name, dbName }: { readonly name: string; readonly dbName?: string | undefined }) =>
  nameBefore(name) + (dbName === undefined ? '' : ` = ${nameBefore(dbName)}`)

const commonWords = (common: Common): string =>
  [
    printType(common.type),
    common.required && 'required',
    common.kept && `filled ${Object.entries(FILLED).find(([, kept]) => kept === common.kept)?.[0] ?? ''}`,
    ...valueWords(common)
  ]
    .filter((word) => word)
    .join(' ')

function valueWords({
  default: preset,
  min,
  max,
  letters,
  means
}: Omit<Domain, 'id' | 'name' | 'type'>): (string | undefined)[] {
  return [
    preset === undefined ? undefined : `default ${defaultText(preset)}`,
    min === undefined ? undefined : `min ${min}`,
    max === undefined ? undefined : `max ${max}`,
    letters,
    meansText(means)
  ]
}

/** A default that is no one word, and stands neither in quotes nor in parentheses, is text. */
export function defaultText(preset: string): string {
  const text = preset.trim()
  if (/^\([\s\S]*\)$/.test(text) && balanced(text)) return text.replace(/\s+/g, ' ')
  const quoted = /^"([\s\S]*)"$/.exec(text)?.[1] ?? /^'([\s\S]*)'$/.exec(text)?.[1]
  if (quoted !== undefined) return inQuotes(quoted)
  return isWord(text) ? text : inQuotes(text)
}

const isWord = (text: string) => /^[^\s,"'()#]+$/.test(text)

/** The parenthesis that it begins with is closed by its last. */
function balanced(text: string): boolean {
  let depth = 0
  for (const [i, char] of [...text].entries()) {
    if (char === '(') depth += 1
    if (char === ')' && --depth === 0) return i === [...text].length - 1
    if (char === '"' || char === "'") return false
  }
  return false
}

const meansText = (means: string | undefined): string | undefined =>
  means === undefined ? undefined : `means ${/^\s|\s$|\n|^"/.test(means) || means === '' ? inQuotes(means) : means}`

const domains = (design: Design): string[][] =>
  Object.values(design.domains).length === 0
    ? []
    : [
        Object.values(design.domains)
          .sort(byName)
          .map((domain) => {
            const { means, rule, ...rest } = domain
            const words = [
              printType(domain.type),
              ...valueWords(rest),
              rule && `check (${onOneLine(rule)})`,
              meansText(means)
            ]
            return `domain ${nameBefore(domain.name)}: ${words.filter((word) => word).join(' ')}`
          })
      ]

/** Entities by area and schema; those of none come first. */
function sections(design: Design): string[][] {
  const groups = new Map<string, Entity[]>()
  const views = new Map<string, View[]>()
  const keyOf = ({ area, namespace }: Entity | View) =>
    JSON.stringify([design.areas[area ?? '']?.name ?? '', namespace ?? ''])
  for (const view of Object.values(design.views).sort(byName)) {
    views.set(keyOf(view), [...(views.get(keyOf(view)) ?? []), view])
    if (!groups.has(keyOf(view))) groups.set(keyOf(view), [])
  }
  for (const entity of Object.values(design.entities).sort(byName)) {
    const key = keyOf(entity)
    const list = groups.get(key)
    if (list) list.push(entity)
    else groups.set(key, [entity])
  }
  for (const { name } of Object.values(design.areas)) {
    const known = [...groups.keys()].some((key) => (JSON.parse(key) as string[])[0] === name)
    if (!known) groups.set(JSON.stringify([name, '']), [])
  }
  let [areaNow, namespaceNow] = ['', '']
  return [...groups.keys()].sort().flatMap((key): string[][] => {
    const [area = '', namespace = ''] = JSON.parse(key) as string[]
    const opening = [
      ...(area === areaNow ? [] : [`area ${nameBefore(area)}`]),
      ...(namespace === (area === areaNow ? namespaceNow : '') ? [] : [`namespace ${nameBefore(namespace)}`])
    ]
    ;[areaNow, namespaceNow] = [area, namespace]
    return [
      ...(opening.length > 0 ? [opening] : []),
      ...(groups.get(key) ?? []).map((e) => entityLines(design, e)),
      ...(views.get(key) ?? []).map((view) => printView(design, view).split('\n'))
    ]
  })
}

function entityLines(design: Design, entity: Entity): string[] {
  const group = Object.values(design.subtypes).find(({ subtypes }) => subtypes.includes(entity.id))
  const rows = rowIds(design, entity).flatMap((id) => rowLines(design, entity, id))
  const many = linksAt(design, entity.id)
    .filter((link) => link.child === entity.id && link.kind === 'many-to-many')
    .map((link) => linkLine(design, link))
    .sort()
  return [
    opening(design, entity, group),
    ...[
      ...(entity.means === undefined ? [] : [meansText(entity.means) ?? '']),
      ...rows,
      ...many,
      ...clauses(design, entity)
    ].map((line) => `  ${line}`)
  ]
}

function opening(design: Design, entity: Entity, group: Subtypes | undefined): string {
  const db = entity.dbName === undefined ? '' : ` = ${nameBefore(entity.dbName)}`
  if (!group) return `${entity.collection ? 'collection' : 'entity'} ${nameBefore(entity.name)}${db}`
  const words = [
    `subtype ${nameAmong(entity.name)} of ${nameAmong(design.entities[group.supertype]?.name ?? '')}`,
    `by ${nameAmong(group.discriminator)}`,
    group.complete && 'complete',
    group.exclusive && 'exclusive'
  ]
  return words.filter((word) => word).join(' ') + db
}

const single = (entity: Entity, id: string) => ({
  unique: entity.uniques.find((key) => key.name === undefined && key.parts.length === 1 && key.parts[0] === id),
  index: entity.indexes.find(
    (index) =>
      index.name === undefined &&
      !index.unique &&
      index.where === undefined &&
      index.parts.length === 1 &&
      index.parts[0]?.id === id &&
      !index.parts[0].descending
  )
})

/** The primary key, where it is not that of its marked rows in their order. */
const isPlainKey = (design: Design, entity: Entity): boolean => {
  const rows = rowIds(design, entity).filter((id) => entity.primaryKey.includes(id))
  return entity.keyName === undefined && rows.join() === entity.primaryKey.join()
}

function rowLines(design: Design, entity: Entity, id: string): string[] {
  const attribute = entity.attributes.find((one) => one.id === id)
  if (attribute) return attributeLines(design, entity, attribute)
  const link = design.links[id]
  return link ? [linkLine(design, link)] : []
}

/** A column or a field, and its fields further in. */
const attributeLines = (design: Design, entity: Entity, attribute: Attribute): string[] => [
  `${head(attribute)}: ${attributeWords(design, entity, attribute)}`,
  ...fieldsOf(attribute).flatMap((field) => attributeLines(design, entity, field).map((line) => `  ${line}`))
]

function attributeWords(design: Design, entity: Entity, attribute: Attribute): string {
  const domain = design.domains[attribute.domain ?? '']
  const { unique, index } = single(entity, attribute.id)
  const key = entity.primaryKey.includes(attribute.id)
  const { means, ...rest } = attribute
  // What it has as its domain has it goes without saying.
  const own = domain ? differing(rest, domain) : rest
  return [
    domain ? nameAmong(domain.name) : typeWords(design, attribute, nameAmong),
    key && 'key',
    attribute.required && !key && 'required',
    unique && 'unique',
    index && 'index',
    ...valueWords(own as Omit<Domain, 'id' | 'name' | 'type'>),
    attribute.computed !== undefined && `computed (${conditionText(design, entity, attribute.computed)})`,
    attribute.sample !== undefined &&
      `sample ${isWord(attribute.sample) ? attribute.sample : inQuotes(attribute.sample)}`,
    meansText(means)
  ]
    .filter((word) => word)
    .join(' ')
}

const differing = (attribute: Omit<Attribute, 'means'>, domain: Domain) =>
  Object.fromEntries(
    (['default', 'min', 'max', 'letters'] as const).flatMap((field) =>
      attribute[field] === domain[field] ? [] : [[field, attribute[field]]]
    )
  )

function linkLine(design: Design, link: Link): string {
  const parent = design.entities[link.parent]
  const child = design.entities[link.child]
  const to = nameAmong(parent?.name ?? '')
  const kind = { 'one-to-many': '', 'one-to-one': 'one ', 'many-to-many': 'many ' }[link.kind]
  const key = parent?.uniques.find(({ id }) => id === link.parentKey)
  const only = child && single(child, link.id)
  const words = [
    link.parentRequired && !link.identifying && link.kind !== 'many-to-many' && 'required',
    only?.unique && 'unique',
    only?.index && 'index',
    link.childRequired && 'at least one',
    link.onDelete !== 'restrict' && `on delete ${link.onDelete}`,
    link.onUpdate !== 'no action' && `on update ${link.onUpdate}`,
    parent && key && `to (${partNames(design, parent, key.parts)})`,
    link.drawnOnly && 'drawn only',
    link.embedded &&
      `embedded${link.childRole === undefined || link.kind === 'many-to-many' ? '' : ` as ${/^\w+$/.test(link.childRole) ? link.childRole : inQuotes(link.childRole)}`}`,
    meansText(link.means)
  ].filter((word) => word)
  const said = words.length > 0 ? ` ${words.join(' ')}` : ''
  const db = link.dbName === undefined ? '' : ` = ${nameBefore(link.dbName)}`
  if (link.identifying && link.kind !== 'many-to-many')
    return `part of ${kind}${to}${link.role === undefined ? '' : ` as ${nameAmong(link.role)}`}${db}${said && `,${said}`}`
  return `${nameBefore(link.role ?? (parent?.name ?? '').toLowerCase())}${db}: ${kind}${to}${said}`
}

/** What the rows of an entity are called in a list. */
export function rowNames(design: Design, entity: Entity): Map<string, string> {
  // Of two that are called alike, the later one is meant: a column rather than a link, and either rather than the identifier.
  const names = new Map([[IDENTIFIER, entity.identifier?.name ?? 'id']])
  for (const id of rowIds(design, entity)) {
    const link = design.links[id]
    if (link) names.set(id, link.role ?? (design.entities[link.parent]?.name ?? '').toLowerCase())
  }
  for (const { id, name } of entity.attributes) names.set(id, name)
  for (const { id, name } of Object.values(design.commons)) names.set(id, name)
  return names
}

const partNames = (design: Design, entity: Entity, parts: readonly string[]): string => {
  const names = rowNames(design, entity)
  return parts.map((id) => nameBefore(names.get(id) ?? id)).join(', ')
}

/** What the columns of an entity are called in a condition, by path. */
export const columnNames = (design: Design, entity: Entity): Map<string, string> =>
  new Map((logical(design).entity(entity.id)?.columns ?? []).map(({ path, name }) => [path, name]))

const conditionText = (design: Design, entity: Entity, text: string): string =>
  printCondition(text, columnNames(design, entity)) ?? onOneLine(text)

function clauses(design: Design, entity: Entity): string[] {
  const names = columnNames(design, entity)
  const called = (name: string | undefined) => (name === undefined ? '' : ` = ${nameBefore(name)}`)
  const condition = (text: string) => printCondition(text, names) ?? onOneLine(text)
  const { identifier } = entity
  return [
    ...(identifier && Object.keys(identifier).length > 0
      ? [
          [
            `key is ${nameBefore(identifier.name ?? 'id')}${called(identifier.dbName)}`,
            identifier.kind,
            identifier.start !== undefined && `from ${identifier.start}`,
            identifier.step !== undefined && `step ${identifier.step}`
          ]
            .filter((word) => word)
            .join(', ')
        ]
      : []),
    ...(isPlainKey(design, entity)
      ? []
      : [`key (${partNames(design, entity, entity.primaryKey)})${called(entity.keyName)}`]),
    ...entity.uniques.flatMap((key) =>
      key.parts.length === 1 &&
      single(entity, key.parts[0] ?? '').unique === key &&
      isOwnRow(design, entity, key.parts[0])
        ? []
        : [`unique (${partNames(design, entity, key.parts)})${called(key.name)}`]
    ),
    ...entity.indexes.flatMap((index) =>
      index.parts.length === 1 &&
      single(entity, index.parts[0]?.id ?? '').index === index &&
      isOwnRow(design, entity, index.parts[0]?.id)
        ? []
        : [
            `index (${index.parts
              .map(({ id, descending }) => partNames(design, entity, [id]) + (descending ? ' desc' : ''))
              .join(
                ', '
              )})${index.unique ? ' unique' : ''}${index.where === undefined ? '' : ` where (${condition(index.where)})`}${called(index.name)}`
          ]
    ),
    ...entity.rules.map(
      ({ name, dbName, condition: text }) =>
        `check (${condition(text)})${name === undefined ? '' : ` ${nameAmong(name)}`}${called(dbName)}`
    ),
    ...(entity.without ?? []).flatMap((id) => {
      const common = design.commons[id]
      return common ? [`no ${nameBefore(common.name)}`] : []
    })
  ]
}

/** It is said on its row's own line. */
const isOwnRow = (design: Design, entity: Entity, id: string | undefined): boolean =>
  id !== undefined &&
  (entity.attributes.some((one) => one.id === id) ||
    (design.links[id] !== undefined && design.links[id].kind !== 'many-to-many'))
