// Entities as JSON Schema, 2020-12: what a document of each is.
import { embeddings, keptBy, logical, plainName, sidesOf, type LogicalColumn } from '../derive'
import { fieldsOf, ledType, type Attribute, type Design, type Entity, type Link } from '../design'
import { holdsFields, isPlain, type NeutralType } from '../types'
import { LETTERS, schemaOfPlain, type Json, type Schema } from './types'

const DIALECT = 'https://json-schema.org/draft/2020-12/schema'

/**
 * One entity as a schema of its own, or several as the definitions of one. What is kept within another is a definition that this
 * refers to.
 */
export function jsonSchema(design: Design, ids: ReadonlySet<string> = new Set(Object.keys(design.entities))): Schema {
  const writer = new Writer(design)
  const chosen = Object.values(design.entities).filter(({ id }) => ids.has(id) && !writer.isWithin(id))
  const [only, another] = chosen
  const documents = chosen.map((entity) => [writer.nameOf(entity), writer.document(entity)] as const)
  const inner = writer.within()
  if (only && !another) {
    const [, schema = {}] = documents[0] ?? []
    return { $schema: DIALECT, ...schema, ...(Object.keys(inner).length > 0 ? { $defs: inner } : {}) }
  }
  return { $schema: DIALECT, title: design.name, $defs: { ...Object.fromEntries(documents), ...inner } }
}

class Writer {
  private readonly held: ReadonlyMap<string, Link>
  /** What was referred to, and has not been written yet. */
  private readonly open: string[] = []
  private readonly model

  constructor(private readonly design: Design) {
    this.held = embeddings(design, [])
    this.model = logical(design)
  }

  isWithin = (id: string): boolean => this.held.has(id)

  nameOf = ({ name, dbName }: { readonly name: string; readonly dbName?: string | undefined }): string =>
    dbName ?? plainName(name, this.design.settings)

  /** The definitions of what was referred to, to any depth. */
  within(): Record<string, Schema> {
    const made: Record<string, Schema> = {}
    for (let id = this.open.shift(); id !== undefined; id = this.open.shift()) {
      const entity = this.design.entities[id]
      if (entity && !made[this.nameOf(entity)]) made[this.nameOf(entity)] = this.document(entity)
    }
    return made
  }

  document(entity: Entity): Schema {
    const upward = this.held.get(entity.id)
    const columns = (this.model.entity(entity.id)?.columns ?? []).filter(
      ({ row }) => row === undefined || row !== upward?.id
    )
    const properties: Record<string, Schema> = {}
    const required: string[] = []
    for (const column of columns) {
      const said = column.attribute ? this.property(column.attribute) : this.plain(column)
      properties[column.dbName] = column.required ? said : orNothing(said)
      if (column.required) required.push(column.dbName)
    }
    for (const link of this.held.values()) if (keptBy(link).home === entity.id) this.hold(link, properties, required)
    return {
      type: 'object',
      title: entity.name,
      ...(entity.means ? { description: entity.means } : {}),
      properties,
      ...(required.length > 0 ? { required } : {})
    }
  }

  /** What is kept in a document by a link: others, or the keys of those that it leads to. */
  private hold(link: Link, properties: Record<string, Schema>, required: string[]) {
    const { settings, entities } = this.design
    const isPair = link.kind === 'many-to-many'
    const other = entities[isPair ? link.parent : link.child]
    if (!other) return
    const role = isPair ? (link.role ?? other.name) : link.childRole
    const called = role === undefined ? this.nameOf(other) : plainName(role, settings)
    const ref = isPair ? this.keyOf(link) : { $ref: `#/$defs/${pointed(this.nameOf(other))}` }
    properties[called] = link.kind === 'one-to-one' ? ref : { type: 'array', items: ref }
    if (link.kind === 'one-to-one' && link.childRequired) required.push(called)
    if (!isPair) this.open.push(other.id)
  }

  /** What the other of a pair is known by. */
  private keyOf(link: Link): Schema {
    const [{ called, entity }] = sidesOf(link, this.design)
    const name = plainName(called, this.design.settings)
    const key = (this.model.entity(entity)?.key ?? []).map((column) => [`${name}_${column.dbName}`, column] as const)
    const properties = Object.fromEntries(key.map(([path, column]) => [path, this.plain(column)]))
    return { type: 'object', properties, required: key.map(([path]) => path) }
  }

  /** A column that is a key's, or of every entity. */
  private plain({ type, common }: LogicalColumn): Schema {
    return { ...(isPlain(type) ? schemaOfPlain(type) : {}), ...(common?.means ? { description: common.means } : {}) }
  }

  private property(attribute: Attribute): Schema {
    const { means, min, max, letters, sample, computed } = attribute
    const type = this.led(attribute)
    const value = innermost(type)
    const bounded: Schema = {
      ...(min === undefined ? {} : { minimum: min }),
      ...(max === undefined ? {} : { maximum: max }),
      ...(letters === undefined || (value.kind !== 'text' && value.kind !== 'char')
        ? {}
        : { pattern: LETTERS[letters] })
    }
    return {
      ...this.typed(type, attribute, bounded),
      ...(means ? { description: means } : {}),
      ...(sample === undefined ? {} : { examples: [sample] }),
      ...(computed === undefined ? {} : { readOnly: true })
    }
  }

  private led({ type, leadsTo }: Attribute): NeutralType {
    if (leadsTo === undefined) return type
    const [key, ...more] = this.model.entity(leadsTo)?.key ?? []
    return ledType(type, key && more.length === 0 ? key.type : { kind: 'json' })
  }

  private typed(type: NeutralType, attribute: Attribute, bounded: Schema): Schema {
    switch (type.kind) {
      case 'list':
        return { type: 'array', items: this.typed(type.of, attribute, bounded) }
      case 'map': {
        const { maxLength } = schemaOfPlain(type.key)
        return {
          type: 'object',
          ...(maxLength === undefined ? {} : { propertyNames: { maxLength } }),
          additionalProperties: this.typed(type.of, attribute, bounded)
        }
      }
      case 'either':
        return { anyOf: type.of.map((one): Json => this.typed(one, attribute, holdsFields(one) ? {} : bounded)) }
      case 'object':
        return this.object(fieldsOf(attribute))
      default:
        return { ...schemaOfPlain(type), ...bounded }
    }
  }

  private object(fields: readonly Attribute[]): Schema {
    const required = fields.filter((one) => one.required).map(this.nameOf)
    return {
      type: 'object',
      properties: Object.fromEntries(
        fields.map((one) => [this.nameOf(one), one.required ? this.property(one) : orNothing(this.property(one))])
      ),
      ...(required.length > 0 ? { required } : {})
    }
  }
}

/** What may be empty is not there, or null. */
function orNothing(schema: Schema): Schema {
  const { type, enum: values, anyOf, $ref, ...more } = schema
  if (Array.isArray(values)) return { ...schema, enum: [...(values as readonly Json[]), null] }
  if (Array.isArray(anyOf)) return { ...schema, anyOf: [...(anyOf as readonly Json[]), { type: 'null' }] }
  if (typeof $ref === 'string') return { anyOf: [{ $ref }, { type: 'null' }], ...more }
  return typeof type === 'string' ? { ...schema, type: [type, 'null'] } : schema
}

const innermost = (type: NeutralType): NeutralType =>
  type.kind === 'list' || type.kind === 'map' ? innermost(type.of) : type

/** A name in a pointer (RFC 6901), in a fragment of an address (RFC 3986). */
const pointed = (name: string): string => encodeURIComponent(name.replaceAll('~', '~0').replaceAll('/', '~1'))
