// The columns of entities before any engine: attributes, migrated keys, identifiers, in order. The diagram and the sheet
// show these; `derive` gives them an engine's types and names.
import {
  commonsOf,
  IDENTIFIER,
  rowIds,
  type Attribute,
  type Common,
  type Design,
  type Entity,
  type Link,
  type Settings,
  type Subtypes
} from '../design'
import { patterned, shortened, tableWords, wordsOf } from '../naming'
import type { Origin } from '../catalog'
import type { NeutralType } from '../types'
import { keyName, KeyOrder, type KeyNode } from './keyorder'
import { keysReached } from './keys-reached'

export interface LogicalColumn {
  readonly origin: Origin
  /**
   * The way to this column from its entity: an attribute's id; `link/path` for a column that a link brings, where the
   * path goes on in the parent; `#` for an added identifier; `^/path` for a supertype's key in its subtype; the id of a
   * column that every entity has.
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
  /** The column of every entity that it is. */
  readonly common?: Common
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
  /** It is part of its own key. */
  readonly circular: boolean
  /** Its key has more columns than any engine takes, or from too far up: the entities it comes from, the nearest first. */
  readonly tooWide?: readonly Entity[]
}

/**
 * More columns than engines take in a key (PostgreSQL 32, MariaDB and Firebird 16 by their manuals; only SQLite takes more).
 * Identifying links, two by two, double a key each time.
 */
const WIDEST_KEY = 64
/** Of a key path, in characters: each entity on the way up adds its link. */
const LONGEST_PATH = 1000

export interface LogicalModel {
  entity(id: string): LogicalEntity | undefined
}

const models = new WeakMap<Design, LogicalModel>()
/** The model that was made last: most designs are that one after an edit. */
let latest: Model | undefined

/**
 * The logical model of a design; entities are worked out as they are asked for, once. What an edit does not reach is what it was
 * in the design before, the same object.
 */
export function logical(design: Design): LogicalModel {
  const known = models.get(design)
  if (known) return known
  const made = new Model(design, latest)
  models.set(design, made)
  latest = made
  return made
}

/** `Cargo line` → `cargo_line`, by the design's own short words, before any engine's rules. */
export const plainName = (name: string, { abbreviations }: Settings): string =>
  shortened(wordsOf(name), abbreviations).join('_').toLowerCase()

/** A table's or view's name, before any engine's rules: as it was set by hand, or by the design's. */
export const plainTable = (
  { name, dbName }: { readonly name: string; readonly dbName?: string | undefined },
  settings: Settings
): string =>
  dbName ??
  [
    settings.tablePrefix.replace(/_$/, ''),
    patterned('table', { name: tableWords(name, settings).join('_') }, settings.patterns)
  ]
    .filter((word) => word !== '')
    .join('_')
    .toLowerCase()

const byChild = new WeakMap<Design['links'], ReadonlyMap<string, readonly Link[]>>()

/** The links that bring each entity a parent's key. */
function linksByChild(links: Design['links']): ReadonlyMap<string, readonly Link[]> {
  const known = byChild.get(links)
  if (known) return known
  const found = new Map<string, Link[]>()
  for (const link of Object.values(links))
    if (link.kind !== 'many-to-many' && !link.drawnOnly) {
      const list = found.get(link.child)
      if (list) list.push(link)
      else found.set(link.child, [link])
    }
  byChild.set(links, found)
  return found
}

const byMember = new WeakMap<Design['subtypes'], ReadonlyMap<string, Subtypes>>()

/** The group that each subtype is of. */
export function groupsOf({ subtypes }: Pick<Design, 'subtypes'>): ReadonlyMap<string, Subtypes> {
  const known = byMember.get(subtypes)
  if (known) return known
  const found = new Map(Object.values(subtypes).flatMap((group) => group.subtypes.map((id) => [id, group] as const)))
  byMember.set(subtypes, found)
  return found
}

class Model implements LogicalModel {
  private readonly done = new Map<string, LogicalEntity>()
  private readonly keys = new Map<string, readonly LogicalColumn[]>()
  private readonly circular = new Set<string>()
  private readonly tooWide = new Map<string, readonly Entity[]>()
  private readonly order = new KeyOrder((key) => this.needsOf(key))
  private readonly groups: ReadonlyMap<string, Subtypes>
  private readonly linksTo: ReadonlyMap<string, readonly Link[]>

  constructor(
    private readonly design: Design,
    before: Model | undefined
  ) {
    this.groups = groupsOf(design)
    this.linksTo = linksByChild(design.links)
    if (before) this.takeOver(before)
  }

  /** Takes over what is as it was; nothing where keys go round or are too wide: what is said of those hangs on others. */
  private takeOver(before: Model): void {
    if (before.circular.size > 0 || before.tooWide.size > 0) return
    const other = keysReached(before.design, this.design)
    if (!other) return
    for (const [id, entity] of before.done) if (!other.has(id)) this.done.set(id, entity)
    for (const [name, columns] of before.keys) if (!other.has(name.split('/', 1).join())) this.keys.set(name, columns)
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

  /** The columns of a key; without those that would come from itself. */
  private key(wanted: KeyNode): readonly LogicalColumn[] {
    const known = this.keys.get(keyName(wanted))
    if (known) return known
    this.order.follow(wanted, (together) => {
      const [first] = together
      // It was taken over with what it comes from.
      if (first && together.length === 1 && this.keys.has(keyName(first))) return
      const parted = together.length > 1 || (first !== undefined && this.needsOf(first).some(isKeyOf(first)))
      if (parted) for (const { entity } of together) this.circular.add(entity)
      // Each is worked out while none of the others is known.
      const made = together.map((key) => [keyName(key), this.bounded(key, this.makeKey(key))] as const)
      for (const [name, columns] of made) this.keys.set(name, columns)
    })
    return this.keys.get(keyName(wanted)) ?? []
  }

  /** The keys that a key takes columns from. */
  private needsOf(key: KeyNode): KeyNode[] {
    const entity = this.design.entities[key.entity]
    if (!entity) return []
    const group = this.groupAbove(entity)
    if (group && key.unique === undefined) return [{ entity: group.supertype }]
    return this.partsOf(entity, key).flatMap((part) => {
      const link = typeof part === 'object' && 'child' in part ? part : undefined
      return link && this.design.entities[link.parent] ? [this.keyOfLink(link)] : []
    })
  }

  /** The parent's key that a link refers to. */
  private keyOfLink({ parent, parentKey }: Link): KeyNode {
    const unique = this.design.entities[parent]?.uniques.find((key) => key.id === parentKey)
    return unique ? { entity: parent, unique: unique.id } : { entity: parent }
  }

  private groupAbove(entity: Entity): Subtypes | undefined {
    const group = this.groups.get(entity.id)
    return group && this.design.entities[group.supertype] ? group : undefined
  }

  /** The attributes and links that a key is made of, and the identifier. */
  private partsOf(entity: Entity, { unique }: KeyNode): (Attribute | Link | typeof IDENTIFIER)[] {
    const primary = this.keyParts(entity)
    const parts = unique === undefined ? primary : (entity.uniques.find((key) => key.id === unique)?.parts ?? [])
    // Over fewer columns it would be another key.
    if (parts.includes(IDENTIFIER) && (primary.length > 0 || this.groupAbove(entity))) return []
    return parts.flatMap((part): Attribute | Link | typeof IDENTIFIER | [] =>
      part === IDENTIFIER ? part : (entity.attributes.find((a) => a.id === part) ?? this.design.links[part] ?? [])
    )
  }

  private makeKey(key: KeyNode): LogicalColumn[] {
    const entity = this.design.entities[key.entity]
    if (!entity) return []
    const primary = key.unique === undefined
    const group = this.groupAbove(entity)
    if (group && primary)
      return this.known({ entity: group.supertype }).map((column) => this.inherited(group, entity, column))
    const parts = this.partsOf(entity, key)
    if (parts.length === 0 && primary) return [this.identifier(entity)]
    return parts.flatMap((part) =>
      part === IDENTIFIER
        ? [{ ...this.identifier(entity), key: primary }]
        : 'child' in part
          ? this.migrated(entity, part, primary)
          : [this.column(entity, part, primary)]
    )
  }

  private bounded(key: KeyNode, columns: LogicalColumn[]): LogicalColumn[] {
    const near = columns.filter(({ path }) => path.length <= LONGEST_PATH)
    if (near.length <= WIDEST_KEY && near.length === columns.length) return columns
    this.tooWide.set(key.entity, this.above(key))
    return near.slice(0, WIDEST_KEY)
  }

  /** The entities that a key comes from, by its widest way, as far up as one would read. */
  private above(key: KeyNode): Entity[] {
    const chain: Entity[] = []
    for (let at: KeyNode | undefined = key; at && chain.length < 12;) {
      const entity = this.design.entities[at.entity]
      if (entity) chain.push(entity)
      const needs: KeyNode[] = this.needsOf(at)
      at = needs.sort((a, b) => this.known(b).length - this.known(a).length)[0]
    }
    return chain
  }

  private known = (key: KeyNode): readonly LogicalColumn[] => this.keys.get(keyName(key)) ?? []

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
      path: IDENTIFIER,
      name,
      dbName: identifier.dbName ?? plainName(name, this.design.settings),
      fixed: identifier.dbName !== undefined,
      type: { kind },
      required: true,
      key: true,
      identity: kind !== 'uuid',
      links: []
    }
  }

  private common(entity: Entity, common: Common): LogicalColumn {
    return {
      origin: { id: entity.id, part: `common ${common.id}` },
      path: common.id,
      row: common.id,
      name: common.name,
      dbName: this.named(common),
      fixed: common.dbName !== undefined,
      type: common.type,
      required: common.required,
      key: false,
      identity: false,
      common,
      links: []
    }
  }

  private named({ name, dbName }: Pick<Attribute, 'name' | 'dbName'>): string {
    return dbName ?? plainName(name, this.design.settings)
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
      dbName: this.named(attribute),
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

  /** The child's columns for a link: attributes that serve, and columns made for what no attribute holds. */
  private migrated(child: Entity, link: Link, key: boolean): LogicalColumn[] {
    const columns = this.known(this.keyOfLink(link))
    const parentName = this.design.entities[link.parent]?.name ?? ''
    const called = link.role ?? parentName
    return columns.map((parent) => {
      const dbName = `${plainName(called, this.design.settings)}_${parent.dbName}`.toLowerCase()
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
        this.named(a).toLowerCase() === dbName &&
        JSON.stringify(a.type) === JSON.stringify(parent.type) &&
        (link.identifying || link.kind === 'one-to-one' || !child.primaryKey.includes(a.id))
    )
  }

  private make(entity: Entity): LogicalEntity {
    const key = this.key({ entity: entity.id })
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
    // Once asked for, the parents' keys are known.
    for (const link of links) this.key(this.keyOfLink(link))
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
    for (const common of commonsOf(this.design, entity)) add(this.common(entity, common))
    const all = [...columns.values()]
    const byPath = (path: string) => columns.get(path)
    const tooWide = this.tooWide.get(entity.id)
    return {
      entity,
      columns: all,
      key: key.flatMap((column) => byPath(column.path) ?? []),
      foreignKeys: links.map((link): LogicalForeignKey => {
        const parents = this.known(this.keyOfLink(link))
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
      circular: this.circular.has(entity.id) || (key.length === 0 && !tooWide),
      ...(tooWide ? { tooWide } : {})
    }
  }
}

const isKeyOf = (key: KeyNode) => (other: KeyNode) => keyName(other) === keyName(key)
