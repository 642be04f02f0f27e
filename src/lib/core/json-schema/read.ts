// JSON Schema as a design: the objects that it speaks of as entities, to any depth. What it says that a design has no words for is told.
import { newAttribute, newDesign, newEntity, type Attribute, type Design, type Entity } from '../design'
import { plainName } from '../derive'
import { wordsOf } from '../naming'
import type { Notice } from '../notice'
import type { NeutralType } from '../types'
import { LETTERS, isSchema, plainOf, type Json, type Schema } from './types'

export interface SchemaRead {
  readonly design: Design
  /** What was not taken, each with the place in the schema. */
  readonly notices: readonly Notice[]
}

/** Whether a value is a schema, and no document. */
export function isJsonSchema(value: unknown): boolean {
  if (!isSchema(value)) return false
  const { $schema, type, properties } = value
  if (typeof $schema === 'string') return $schema.includes('json-schema.org')
  const defs = value['$defs'] ?? value['definitions']
  return (type === 'object' && isSchema(properties)) || (isSchema(defs) && Object.values(defs).some(isSchema))
}

/** Keywords that say what no design does; `type`, `properties` and the others that are read are not among them. */
const UNSAID = [
  'if',
  'then',
  'else',
  'not',
  'dependentSchemas',
  'dependentRequired',
  'contains',
  'prefixItems',
  'patternProperties',
  'uniqueItems',
  'minItems',
  'maxItems',
  'exclusiveMinimum',
  'exclusiveMaximum',
  'unevaluatedProperties'
]

/** Reads a schema; `name` is what it is called where it does not say so itself. */
export function readJsonSchema(root: Schema, name: string): SchemaRead {
  const reader = new Reader(root)
  const entities = reader.entities(name)
  const design = newDesign(name)
  return {
    design: { ...design, entities: Object.fromEntries(entities.map((entity) => [entity.id, entity])) },
    notices: reader.notices
  }
}

interface Told {
  readonly type: NeutralType
  readonly fields: readonly Attribute[]
  readonly says: Partial<Pick<Attribute, 'min' | 'max' | 'letters'>>
  /** It may be nothing. */
  readonly empty: boolean
}

const SETTINGS = newDesign('').settings

const ANY: Told = { type: { kind: 'json' }, fields: [], says: {}, empty: false }
const textOf = (value: Json | undefined): string | undefined => (typeof value === 'string' ? value : undefined)
const numberOf = (value: Json | undefined): number | undefined => (typeof value === 'number' ? value : undefined)
const listOf = (value: Json | undefined): readonly Json[] => (Array.isArray(value) ? (value as readonly Json[]) : [])

class Reader {
  readonly notices: Notice[] = []
  private readonly definitions: ReadonlyMap<string, Schema>

  constructor(private readonly root: Schema) {
    const all = ['$defs', 'definitions'].flatMap((word) =>
      isSchema(root[word]) ? Object.entries(root[word]).map(([name, one]) => [`#/${word}/${name}`, one] as const) : []
    )
    this.definitions = new Map(all.flatMap(([path, one]) => (isSchema(one) ? [[path, one]] : [])))
  }

  /** The root where it is an object, and each definition of an object that nothing else is made of. */
  entities(name: string): Entity[] {
    const used = new Set<string>()
    const look = (value: Json) => {
      if (Array.isArray(value)) value.forEach(look)
      else if (isSchema(value)) {
        const ref = textOf(value['$ref'])
        if (ref !== undefined) used.add(unpointed(ref))
        Object.values(value).forEach(look)
      }
    }
    look(this.root)
    const whole = this.resolved(this.root, [], '#')
    const isRoot = whole !== undefined && isSchema(whole['properties'])
    const parts = [...this.definitions].filter(([, one]) => this.resolved(one, [], '')?.['type'] === 'object')
    const free = parts.filter(([path]) => !used.has(path))
    const chosen = isRoot ? [['#', whole] as const, ...free] : free.length > 0 ? free : parts
    return chosen.map(([path, schema]) => {
      const called = textOf(schema['title']) ?? (path === '#' ? name : (path.split('/').at(-1) ?? name))
      const means = textOf(schema['description'])
      const attributes = this.fields(schema, [path], path)
      const key = attributes.find((one) => ['_id', 'id'].includes(one.dbName ?? one.name) && one.required)
      return newEntity(called, {
        attributes,
        order: attributes.map(({ id }) => id),
        primaryKey: key ? [key.id] : [],
        ...(means === undefined ? {} : { means })
      })
    })
  }

  private say(at: string, message: string) {
    this.notices.push({ code: 'json-schema', severity: 'info', message: `${at}: ${message}`, where: at })
  }

  private fields(schema: Schema, stack: readonly string[], at: string): Attribute[] {
    const required = listOf(schema['required'])
    const properties = isSchema(schema['properties']) ? schema['properties'] : {}
    return Object.entries(properties).map(([name, said]) => {
      const place = `${at}/properties/${name}`
      const one = isSchema(said) ? said : {}
      const { type, fields, says, empty } = this.told(one, stack, place)
      const whole = this.resolved(one, stack, place) ?? one
      const [sample] = listOf(whole['examples'])
      const means = textOf(one['description']) ?? textOf(whole['description'])
      const spoken = wordsOf(name).join(' ') || name
      return newAttribute(spoken, {
        type,
        required: required.includes(name) && !empty,
        ...(plainName(spoken, SETTINGS) === name ? {} : { dbName: name }),
        ...(means === undefined ? {} : { means }),
        ...(typeof sample === 'string' ? { sample } : {}),
        ...(fields.length > 0 ? { fields: [...fields] } : {}),
        ...says
      })
    })
  }

  /** A schema with what it refers to and is all of; nothing where that goes round. */
  private resolved(schema: Schema, stack: readonly string[], at: string): Schema | undefined {
    const { $ref, allOf, ...own } = schema
    const ref = textOf($ref)
    if (ref === undefined && allOf === undefined) return schema
    let whole: Schema = {}
    if (ref !== undefined) {
      const path = unpointed(ref)
      if (stack.includes(path)) return undefined
      const found = path === '#' ? this.root : this.definitions.get(path)
      if (!found) this.say(at, `${ref} leads to nothing that is in this schema.`)
      const inner = found && this.resolved(found, [...stack, path], at)
      if (found && !inner) return undefined
      whole = both(whole, inner ?? {})
    }
    for (const part of listOf(allOf)) {
      const inner = isSchema(part) ? this.resolved(part, stack, at) : undefined
      if (inner) whole = both(whole, inner)
    }
    return both(whole, own)
  }

  private told(given: Schema, stack: readonly string[], at: string): Told {
    const ref = textOf(given['$ref'])
    const schema = this.resolved(given, stack, at)
    if (!schema) {
      this.say(at, 'it is part of itself; what is in it further down is left open.')
      return ANY
    }
    const inside = ref === undefined ? stack : [...stack, unpointed(ref)]
    for (const word of UNSAID)
      if (schema[word] !== undefined) this.say(at, `“${word}” says what a design has no words for.`)
    const choices = [...listOf(schema['anyOf']), ...listOf(schema['oneOf'])].filter(isSchema)
    if (choices.length > 0) return this.choice(choices, inside, at)
    const { type } = schema
    if (Array.isArray(type)) {
      const names = (type as readonly Json[]).filter((one) => one !== 'null')
      const told = this.choice(
        names.map((one) => ({ ...schema, type: one })),
        inside,
        at
      )
      return { ...told, empty: told.empty || names.length < type.length }
    }
    return this.single(schema, inside, at)
  }

  private choice(choices: readonly Schema[], stack: readonly string[], at: string): Told {
    const some = choices.filter((one) => one['type'] !== 'null')
    const all = some.map((one) => this.told(one, stack, at))
    const [first, another] = all
    const empty = some.length < choices.length || all.some((one) => one.empty)
    if (!first) return { ...ANY, empty }
    const types = all.filter(
      ({ type }, i) => all.findIndex((one) => JSON.stringify(one.type) === JSON.stringify(type)) === i
    )
    if (!another || types.length < 2) return { ...first, empty }
    // One of them may be anything.
    if (types.some(({ type }) => type.kind === 'json')) return { ...ANY, empty }
    const holder = all.find(({ fields }) => fields.length > 0)
    return {
      type: { kind: 'either', of: types.map((one) => one.type) },
      fields: holder?.fields ?? [],
      says: first.says,
      empty
    }
  }

  private single(schema: Schema, stack: readonly string[], at: string): Told {
    const { const: only, items, properties, additionalProperties, propertyNames } = schema
    const values = only === undefined ? listOf(schema['enum']) : [only]
    const texts = values.filter((one): one is string => typeof one === 'string')
    if (values.length > 0 && texts.length === values.filter((one) => one !== null).length)
      return { ...ANY, type: { kind: 'oneOf', values: [...new Set(texts)] }, empty: texts.length < values.length }
    if (schema['type'] === 'array' || (schema['type'] === undefined && items !== undefined)) {
      const each = isSchema(items) ? this.told(items, stack, `${at}/items`) : ANY
      return { ...each, type: { kind: 'list', of: each.type }, empty: false }
    }
    if (schema['type'] === 'object' || isSchema(properties)) {
      const fields = this.fields(schema, stack, at)
      if (fields.length === 0 && isSchema(additionalProperties)) {
        const each = this.told(additionalProperties, stack, `${at}/additionalProperties`)
        const length = isSchema(propertyNames) ? numberOf(propertyNames['maxLength']) : undefined
        const key = length === undefined ? { kind: 'text' as const } : { kind: 'text' as const, length }
        return { ...each, type: { kind: 'map', key, of: each.type }, empty: false }
      }
      return fields.length > 0 ? { ...ANY, type: { kind: 'object' }, fields } : ANY
    }
    const type = plainOf(schema)
    if (!type) return ANY
    const [min, max] = [numberOf(schema['minimum']), numberOf(schema['maximum'])]
    const letters = (['upper', 'lower'] as const).find((one) => schema['pattern'] === LETTERS[one])
    const { pattern } = schema
    if (typeof pattern === 'string' && letters === undefined && type.kind !== 'object id')
      this.say(at, `the pattern ${pattern} is not kept.`)
    return {
      ...ANY,
      type,
      says: {
        ...(min === undefined ? {} : { min }),
        ...(max === undefined ? {} : { max }),
        ...(letters === undefined ? {} : { letters })
      }
    }
  }
}

/** What both say; where they say the same thing otherwise, the second has it. */
function both(a: Schema, b: Schema): Schema {
  const objects = (word: string): Schema =>
    isSchema(a[word]) && isSchema(b[word]) ? { [word]: { ...a[word], ...b[word] } } : {}
  const required = [...new Set([...listOf(a['required']), ...listOf(b['required'])])]
  return { ...a, ...b, ...objects('properties'), ...(required.length > 0 ? { required } : {}) }
}

const unpointed = (ref: string): string =>
  decodeURIComponent(ref)
    .replaceAll('~1', '/')
    .replaceAll('~0', '~')
    .replace(/^#\/?$/, '#')
