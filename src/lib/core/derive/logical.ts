// The columns of entities before any engine: attributes, migrated keys, identifiers, in order. The diagram and the sheet
// show these; `derive` gives them an engine's types and names.
import { rowIds, type Attribute, type Design, type Entity, type Link, type Subtypes } from '../design'
import { wordsOf } from '../naming'
import type { Origin } from '../catalog'
import type { NeutralType } from '../types'

export interface LogicalColumn {
  readonly origin: Origin
  /**
   * The way to this column from its entity: an attribute's id; `link/path` for a column that a link brings, where the
   * path goes on in the parent; `#` for an added identifier; `^/path` for a supertype's key in its subtype.
   */
  readonly path: string
  /** The row it belongs to: an attribute's or link's id, or none for what was added. */
  readonly row?: string
  /** The name people say. */
  readonly name: string
  /** The database name before an engine's case and limits, in words joined by underscores. */
  readonly dbName: string
  /** Set by hand: it is used as it is. */
  readonly fixed: boolean
  readonly type: NeutralType
  readonly required: boolean
  readonly key: boolean
  readonly identity: boolean
  readonly attribute?: Attribute
  /** The links whose foreign keys this column is part of. */
  readonly links: readonly string[]
}

/** A link with the columns on both sides, position by position. */
export interface LogicalForeignKey {
  readonly link: Link
  readonly pairs: readonly { readonly parent: LogicalColumn; readonly child: LogicalColumn }[]
}

export interface LogicalEntity {
  readonly entity: Entity
  readonly columns: readonly LogicalColumn[]
  readonly key: readonly LogicalColumn[]
  readonly foreignKeys: readonly LogicalForeignKey[]
  /** The group that makes this entity a subtype. */
  readonly subtypeOf?: Subtypes
  /** It is part of its own key, by way of the links named. */
  readonly circular: boolean
}

export interface LogicalModel {
  entity(id: string): LogicalEntity | undefined
}

const models = new WeakMap<Design, LogicalModel>()

/** The logical model of a design; entities are worked out as they are asked for, once. */
export function logical(design: Design): LogicalModel {
  const known = models.get(design)
  if (known) return known
  const made = new Model(design)
  models.set(design, made)
  return made
}

/** `Cargo line` → `cargo_line`, before any engine's rules. */
export const plainName = (name: string): string => wordsOf(name).join('_').toLowerCase()

const snake = (object: { readonly name: string; readonly dbName?: string | undefined }) =>
  object.dbName ?? plainName(object.name)

class Model implements LogicalModel {
  private readonly done = new Map<string, LogicalEntity>()
  private readonly keys = new Map<string, LogicalColumn[]>()
  private readonly open = new Set<string>()
  private readonly circular = new Set<string>()
  private readonly groups = new Map<string, Subtypes>()
  private readonly linksTo = new Map<string, Link[]>()

  constructor(private readonly design: Design) {
    for (const group of Object.values(design.subtypes)) for (const id of group.subtypes) this.groups.set(id, group)
    for (const link of Object.values(design.links))
      if (link.kind !== 'many-to-many' && !link.drawnOnly) {
        const list = this.linksTo.get(link.child)
        if (list) list.push(link)
        else this.linksTo.set(link.child, [link])
      }
  }

  entity(id: string): LogicalEntity | undefined {
    const known = this.done.get(id)
    if (known) return known
    const entity = this.design.entities[id]
    if (!entity) return undefined
    const made = this.make(entity)
    this.done.set(id, made)
    return made
  }

  /** The columns of an entity's primary key; empty where it would be part of itself. */
  private key(id: string): LogicalColumn[] {
    const known = this.keys.get(id)
    if (known) return known
    const entity = this.design.entities[id]
    if (!entity) return []
    if (this.open.has(id)) {
      // It is reached again from within itself: all on the way are part of their own keys.
      for (const on of [...this.open].slice([...this.open].indexOf(id))) this.circular.add(on)
      return []
    }
    this.open.add(id)
    const columns = this.makeKey(entity)
    this.open.delete(id)
    if (columns.length || this.open.size === 0) this.keys.set(id, columns)
    return columns
  }

  private makeKey(entity: Entity): LogicalColumn[] {
    const group = this.groups.get(entity.id)
    if (group && this.design.entities[group.supertype])
      return this.key(group.supertype).map((column) => this.inherited(group, entity, column))
    const parts = this.keyParts(entity)
    if (parts.length === 0) return [this.identifier(entity)]
    return parts.flatMap((part) => {
      const attribute = entity.attributes.find((a) => a.id === part)
      if (attribute) return [this.column(entity, attribute, true)]
      const link = this.design.links[part]
      return link ? this.migrated(entity, link, true) : []
    })
  }

  /** Key parts as given, with identifying links that are missing put first. */
  private keyParts(entity: Entity): string[] {
    const links = this.linksTo.get(entity.id) ?? []
    const missing = links
      .filter((link) => link.identifying && !entity.primaryKey.includes(link.id))
      .map((link) => link.id)
    const given = entity.primaryKey.filter(
      (part) => entity.attributes.some((a) => a.id === part) || links.some((link) => link.id === part)
    )
    return [...missing, ...given]
  }

  private identifier(entity: Entity): LogicalColumn {
    const { identifier = {} } = entity
    const kind = identifier.kind ?? this.design.settings.identifier
    const name = identifier.name ?? 'id'
    return {
      origin: { id: entity.id, part: 'identifier' },
      path: '#',
      name,
      dbName: identifier.dbName ?? plainName(name),
      fixed: identifier.dbName !== undefined,
      type: { kind },
      required: true,
      key: true,
      identity: kind !== 'uuid',
      links: []
    }
  }

  private inherited(group: Subtypes, entity: Entity, column: LogicalColumn): LogicalColumn {
    // It stands in no row of the subtype, and what the supertype says of its values is kept there.
    const { row: _row, attribute: _attribute, ...plain } = column
    return {
      ...plain,
      origin: { id: entity.id, part: `key ${column.path}` },
      path: `^/${column.path}`,
      identity: false,
      key: true,
      links: []
    }
  }

  private column(entity: Entity, attribute: Attribute, key: boolean): LogicalColumn {
    return {
      origin: { id: attribute.id, part: 'column' },
      path: attribute.id,
      row: attribute.id,
      name: attribute.name,
      dbName: snake(attribute),
      fixed: attribute.dbName !== undefined,
      type: attribute.type,
      required: attribute.required || key,
      key,
      // A key of one whole number that nobody fills in is numbered by the engine.
      identity: false,
      attribute,
      links: []
    }
  }

  /** The parent's columns that a link refers to. */
  private parentColumns(link: Link): LogicalColumn[] {
    const parent = this.design.entities[link.parent]
    const unique = parent?.uniques.find((key) => key.id === link.parentKey)
    if (!parent || !unique) return this.key(link.parent)
    return unique.parts.flatMap((part) => {
      const attribute = parent.attributes.find((a) => a.id === part)
      const own = this.design.links[part]
      return attribute ? [this.column(parent, attribute, false)] : own ? this.migrated(parent, own, false) : []
    })
  }

  /** The child's columns for a link: attributes that serve, and columns made for what no attribute holds. */
  private migrated(child: Entity, link: Link, key: boolean): LogicalColumn[] {
    const columns = this.parentColumns(link)
    const parentName = this.design.entities[link.parent]?.name ?? ''
    const called = link.role ?? parentName
    return columns.map((parent) => {
      const dbName = [...wordsOf(called), parent.dbName].join('_').toLowerCase()
      const attribute = this.servingAttribute(child, link, parent, dbName)
      if (attribute) return { ...this.column(child, attribute, key), links: [link.id] }
      return {
        origin: { id: link.id, part: `column ${parent.path}` },
        path: `${link.id}/${parent.path}`,
        row: link.id,
        name:
          columns.length === 1 && !key ? called.toLowerCase() : `${called.toLowerCase()} ${parent.name.toLowerCase()}`,
        dbName,
        fixed: false,
        type: parent.type,
        required: link.parentRequired || key,
        key,
        identity: false,
        links: [link.id]
      }
    })
  }

  /**
   * The child's own attribute that holds a parent's key column: the one it was told, else one with exactly the name
   * the rules would give and the same type; never one of the child's own key unless the link identifies or is one-to-one.
   */
  private servingAttribute(child: Entity, link: Link, parent: LogicalColumn, dbName: string): Attribute | undefined {
    const told = link.columns[parent.path]
    if (told !== undefined) return child.attributes.find((a) => a.id === told)
    return child.attributes.find(
      (a) =>
        snake(a).toLowerCase() === dbName &&
        JSON.stringify(a.type) === JSON.stringify(parent.type) &&
        (link.identifying || link.kind === 'one-to-one' || !child.primaryKey.includes(a.id))
    )
  }

  private make(entity: Entity): LogicalEntity {
    const key = this.key(entity.id)
    const group = this.groups.get(entity.id)
    const keyPaths = new Set(key.map((column) => column.path))
    const columns = new Map<string, LogicalColumn>()
    const add = (column: LogicalColumn) => {
      const there = columns.get(column.path)
      const links = [...new Set([...(there?.links ?? []), ...column.links])]
      columns.set(column.path, { ...(there ?? column), links })
    }
    // What was added to make a key leads; the rest stands where it was put.
    for (const column of key) if (column.row === undefined) add(column)
    const links = this.linksTo.get(entity.id) ?? []
    const own = new Map(links.map((link) => [link.id, link]))
    for (const row of rowIds(this.design, entity)) {
      const attribute = entity.attributes.find((a) => a.id === row)
      if (attribute) add(this.column(entity, attribute, keyPaths.has(attribute.id)))
      const link = own.get(row)
      if (!link) continue
      const inKey = link.identifying
      for (const column of this.migrated(entity, link, inKey))
        add(
          column.path === column.row
            ? { ...column, key: keyPaths.has(column.path), required: column.required || keyPaths.has(column.path) }
            : column
        )
    }
    const all = [...columns.values()]
    const byPath = (path: string) => all.find((column) => column.path === path)
    return {
      entity,
      columns: all,
      key: key.flatMap((column) => byPath(column.path) ?? []),
      foreignKeys: links.map((link): LogicalForeignKey => {
        const parents = this.parentColumns(link)
        const children = this.migrated(entity, link, link.identifying)
        return {
          link,
          pairs: parents.flatMap((parent, i) => {
            const child = byPath(children[i]?.path ?? '')
            return child ? [{ parent, child }] : []
          })
        }
      }),
      ...(group ? { subtypeOf: group } : {}),
      circular: key.length === 0 || this.circular.has(entity.id)
    }
  }
}
