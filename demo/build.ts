// A small language for writing a design down in code, with ids that are the same every time it is built.
import {
  Editing,
  newAttribute,
  newDesign,
  newEntity,
  newLink,
  newTarget,
  type Attribute,
  type Design,
  type Edit,
  type Entity,
  type Link,
  type Target
} from '../src/lib/core/design'
import { parseType } from '../src/lib/core/types'

export type Column = readonly [
  name: string,
  type: string,
  more?: Partial<Attribute> & { readonly key?: boolean; readonly unique?: boolean }
]

export interface Builder {
  readonly design: Design
  edit(e: Edit): void
  area(id: string, name: string, tint: number): void
  entity(area: string, name: string, means: string, columns: readonly Column[]): void
  /** `columns` are its columns, each by its entity and its own id; they have its type already. */
  domain(name: string, type: string, means: string, columns: readonly (readonly [entity: string, id: string])[]): void
  link(child: string, parent: string, more?: Partial<Link> & { readonly before?: string }): void
  target(id: string, name: string, more?: Partial<Target>): void
}

export const slug = (name: string): string => name.toLowerCase().replaceAll(' ', '_')

function typeOf(where: string, text: string): Attribute['type'] {
  const read = parseType(text)
  if (!read.ok) throw new Error(`${where}: ${text} is no type`)
  return read.value
}

export function builder(name: string): Builder {
  const editing = new Editing({
    ...newDesign(name),
    id: `des_${slug(name)}`,
    diagrams: { dia_all: { id: 'dia_all', name: 'Whole harbour', places: {} } }
  })
  const self: Builder = {
    get design() {
      return editing.done()
    },
    edit: (e) => editing.edit(e),
    area(id, areaName, tint) {
      editing.edit({ kind: 'object.set', collection: 'areas', object: { id, name: areaName, tint } })
      editing.edit({
        kind: 'object.set',
        collection: 'diagrams',
        object: { id: `dia_${id}`, name: areaName, area: id, places: {} }
      })
    },
    domain(domainName, type, means, columns) {
      const id = `dom_${slug(domainName)}`
      editing.edit({
        kind: 'object.set',
        collection: 'domains',
        object: { id, name: domainName, type: typeOf(domainName, type), means }
      })
      for (const [entity, attribute] of columns)
        editing.edit({ kind: 'attribute.set', entity, id: attribute, set: { domain: id } })
    },
    entity(area, entityName, means, columns) {
      const id = `ent_${slug(entityName)}`
      const attributes = columns.map(([columnName, type, more = {}]) => {
        const { key: _key, unique: _unique, ...rest } = more
        return newAttribute(columnName, {
          id: `att_${slug(entityName)}_${slug(columnName)}`,
          type: typeOf(`${entityName}, ${columnName}`, type),
          ...rest
        })
      })
      const marked = (mark: 'key' | 'unique') => attributes.filter((_, i) => columns[i]?.[2]?.[mark]).map((a) => a.id)
      const entity: Entity = newEntity(entityName, {
        id,
        area,
        means,
        attributes,
        order: attributes.map((a) => a.id),
        primaryKey: marked('key'),
        uniques: marked('unique').map((part) => ({ id: `key_${part}`, parts: [part] }))
      })
      editing.edit({ kind: 'object.set', collection: 'entities', object: entity })
    },
    link(childName, parentName, more = {}) {
      const { before, ...set } = more
      const [parent, child] = [
        editing.now.entities[`ent_${slug(parentName)}`],
        editing.now.entities[`ent_${slug(childName)}`]
      ]
      if (!parent || !child) throw new Error(`${childName} or ${parentName} is missing`)
      const made = newLink(editing.now, parent, child, set)
      const link = { ...made, id: `lnk_${slug(childName)}_${slug(made.role ?? parentName)}` }
      editing.edit({
        kind: 'link.add',
        link,
        ...(before === undefined ? {} : { before: `att_${slug(childName)}_${slug(before)}` })
      })
    },
    target(id, targetName, more = {}) {
      editing.edit({ kind: 'object.set', collection: 'targets', object: newTarget(targetName, { id, ...more }) })
    }
  }
  return self
}
