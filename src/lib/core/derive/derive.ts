// From a design to what one engine will hold.
import type { Address, Catalog, Check, Column, DataType, Origin, Table } from '../catalog'
import {
  EACH,
  EVERY,
  freeAddress,
  MEMBER_KINDS,
  memberAddress,
  members,
  tableAddress,
  withoutComments
} from '../catalog'
import {
  fieldsOf,
  IDENTIFIER,
  ledType,
  own,
  type Attribute,
  type Design,
  type Entity,
  type Link,
  type Subtypes,
  type Target
} from '../design'
import { nameKey, type Bounded, type DefaultValue, type Dialect } from '../dialects'
import type { Notice } from '../notice'
import { holdsFields, isPlain, type NeutralType } from '../types'
import { bridge } from './bridge'
import { clashes, withoutDoubles } from './clashes'
import { saidOf } from './column-checks'
import { numbered } from './counting'
import { depart } from './depart'
import { embedded } from './embedded'
import { inKeys, limitedInKeys } from './in-keys'
import { keepUp, keptValue } from './keep-up'
import { notKept } from './kept'
import { Keys } from './keys'
import { flattened } from './nested'
import { logical, plainName, type LogicalColumn, type LogicalEntity, type LogicalModel } from './logical'
import { Namer } from './namer'
import { Layout } from './layout'
import { parseDefault } from './values'
import { draftViews, withViews } from './views'
import { wholeTexts } from './whole'

export interface Derived {
  readonly catalog: Catalog
  /** Design object → the catalogue objects that come from it. */
  readonly trace: ReadonlyMap<string, readonly Address[]>
  readonly notices: readonly Notice[]
}

/** What a target needs to say for its catalogue to be derived. */
export type DeriveTarget = Pick<Target, 'subtypeTables' | 'schemas' | 'nested' | 'departures' | 'extras' | 'naming'>

/**
 * Derives a catalogue. Always gives one, the best it can; what is wrong or was changed on the way is in the notices
 * (errors: `entity-circular-key`, `entity-key-too-wide`, `name-twice`, `default-…`, `link-set-null`, `text-not-whole`, `view-left-out`; the rest are warnings and remarks).
 */
export function derive(design: Design, target: DeriveTarget, dialect: Dialect): Derived {
  const { catalog, trace, notices } = derived(design, target, dialect)
  return { catalog, trace: trace(), notices }
}

/** What is derived, with what it takes to do a part of it again. */
export interface Worked extends Omit<Derived, 'trace'> {
  readonly trace: () => ReadonlyMap<string, readonly Address[]>
  /** The design with what is nested in tables of its own. */
  readonly flat: Design
  readonly names: Pick<Namer, 'claims' | 'wantedTwice'>
}

export const derived = (design: Design, target: DeriveTarget, dialect: Dialect): Worked =>
  new Derivation(design, target, dialect).run()

class Derivation {
  readonly notices: Notice[] = []
  private readonly namer: Namer
  private readonly model: LogicalModel
  private readonly layout: Layout
  private readonly keys: Keys
  /** Keys and checks speak of them again and again. */
  private readonly columnNames = new Map<LogicalColumn, string>()

  private readonly design: Design

  constructor(
    whole: Design,
    private readonly target: DeriveTarget,
    private readonly dialect: Dialect
  ) {
    const { design, notices } = flattened(whole, target)
    this.design = design
    this.notices.push(...notices)
    this.namer = new Namer(dialect, { ...design.settings, ...target.naming }, this.notices)
    this.model = logical(design)
    this.layout = new Layout(design, target, this.namer, dialect)
    this.keys = new Keys({
      design,
      namer: this.namer,
      layout: this.layout,
      dialect,
      columnName: (column) => this.columnName(column),
      say: (...told) => this.say(...told)
    })
  }

  run(): Worked {
    const homes = this.layout.homes()
    // No constraint or index takes a table's name from it.
    for (const home of homes) this.namer.claimTable(this.layout.place(home))
    for (const view of Object.values(this.design.views)) this.namer.claimTable(this.layout.place(view, 'view'))
    const tables = homes.map((entity) => this.table(entity))
    const bridges = Object.values(this.design.links)
      .filter((link) => link.kind === 'many-to-many' && !link.drawnOnly)
      .map((link) => this.bridge(link))
    const all = this.embedded([...tables, ...bridges])
    const views = draftViews(this.design, this.dialect, (view) => this.layout.place(view), this.notices)
    const plain: Catalog = {
      engine: this.dialect.profile.id,
      defaultSchema: this.dialect.profile.defaultSchema,
      partial: true as const,
      tables: all,
      ...(views.length ? { views } : {}),
      unread: []
    }
    // What things mean stays in the design where the engine has no comments.
    const held = this.dialect.profile.features.comments ? plain : withoutComments(plain)
    const fitted = inKeys(held, this.dialect)
    const settled = this.dialect.settle?.(fitted) ?? fitted
    this.notices.push(...notKept(held, settled, this.dialect.profile.label))
    // A change of one of two things that have one name would be a change of either.
    this.notices.push(...clashes(settled, this.dialect))
    const kept = keepUp(withoutDoubles(settled), this.design, this.dialect, this.keeperName, this.notices)
    const departing = depart(kept, this.target, this.dialect, this.notices)
    // What one target has otherwise may be what makes an engine keep less.
    const departed = departing === kept ? kept : (this.dialect.settle?.(departing) ?? departing)
    this.notices.push(...notKept(departing, departed, this.dialect.profile.label))
    this.notices.push(...limitedInKeys(held, fitted, departed, this.dialect))
    const viewed = withViews(departed, this.dialect)
    const { catalog, notices: left } = wholeTexts(viewed.catalog, this.dialect)
    this.notices.push(...viewed.notices, ...left)
    this.notices.push(...clashes(catalog, this.dialect))
    const single = withoutDoubles(catalog)
    // A name is asked for wherever it is used; a person wants to hear of it once.
    const notices = [...new Map(this.notices.map((n) => [`${n.code} ${n.where ?? ''} ${n.message}`, n])).values()]
    return { catalog: single, trace: () => traceOf(single), notices, flat: this.design, names: this.namer }
  }

  /** With those of one entity in another's, where the engine has documents. */
  private embedded(tables: readonly Table[]): readonly Table[] {
    if (!this.dialect.profile.features.fields) return tables
    const nameOf = ({ id, kind, parent, role, childRole }: Link, child: Table) => {
      const isPair = kind === 'many-to-many'
      const called = isPair ? (role ?? this.design.entities[parent]?.name) : childRole
      return called === undefined ? child.name : this.namer.column(plainName(called, this.design.settings), false, id)
    }
    return embedded(
      tables,
      this.design,
      { nameOf, typeOf: (type) => this.dialect.types.fromNeutral(type).type },
      this.notices
    )
  }

  private say(code: string, severity: Notice['severity'], where: string | undefined, message: string) {
    this.notices.push({ code, severity, message, ...(where === undefined ? {} : { where }) })
  }

  private table(entity: Entity): Table {
    const { schema, name } = this.layout.place(entity)
    // In one table, the supertype's columns come first, then those of each subtype.
    const parts = [entity, ...this.layout.folded(entity)].flatMap((e) => this.model.entity(e.id) ?? [])
    const [main] = parts
    if (main?.circular)
      this.say(
        'entity-circular-key',
        'error',
        entity.id,
        `${entity.name} is part of its own key: one of its identifying links must not identify.`
      )
    if (main?.tooWide)
      this.say(
        'entity-key-too-wide',
        'error',
        entity.id,
        `The key of ${entity.name} takes in too many columns, from too far up: those of ${main.tooWide.map(({ name }) => name).join(', of ')}. One of the links between them must not identify.`
      )

    const columns: Column[] = []
    const taken = new Set<string>()
    const checks: Check[] = []
    for (const part of parts) {
      const inside = part.entity.id !== entity.id
      for (const column of part.columns) {
        if (inside && column.path.startsWith('^/')) continue
        const made = this.column(column, inside, part)
        const key = nameKey('column', made.name, this.dialect)
        if (taken.has(key))
          this.say(
            'name-twice',
            'error',
            column.row ?? entity.id,
            `Two columns of ${entity.name} would be called ${made.name}.`
          )
        else columns.push(made, ...this.fields(column.attribute, made.name))
        taken.add(key)
        checks.push(...this.columnChecks(column, made, { schema, table: name }))
        if (inside && column.required)
          checks.push(this.requiredInSubtype(entity, part, column, made.name, name, schema))
      }
    }
    columns.push(...this.discriminators(entity, name, schema, checks))
    const nameOf = (column: LogicalColumn) => this.columnName(column)
    const key = main?.key.map(nameOf) ?? []
    const uniques = parts.flatMap((part) => this.keys.uniques(part, name, schema))
    return {
      schema,
      name,
      ...(entity.means ? { comment: entity.means } : {}),
      columns,
      ...(key.length
        ? {
            primaryKey: {
              name: this.namer.member('pk', entity.keyName, [name], { schema, table: name }, entity.id),
              columns: key,
              origin: { id: entity.id, part: 'pk' }
            }
          }
        : {}),
      uniques,
      foreignKeys: parts.flatMap((part) => this.keys.foreignKeys(part, name, schema, entity)),
      checks: [...checks, ...parts.flatMap((part) => this.keys.rules(part, name, schema))],
      indexes: parts.flatMap((part) => this.keys.indexes(part, name, schema)),
      origin: { id: entity.id, part: 'table' }
    }
  }

  private columnName(column: LogicalColumn): string {
    const { rowId } = this.dialect
    // A subtype's own is its supertype's.
    if (rowId && /^(\^\/)*$/.test(column.path.slice(0, -IDENTIFIER.length)) && column.path.endsWith(IDENTIFIER))
      return rowId.name
    let name = this.columnNames.get(column)
    if (name === undefined)
      this.columnNames.set(
        column,
        (name = this.namer.column(column.dbName, column.fixed, column.row ?? column.origin.id))
      )
    return name
  }

  /** What keeps a column up is called by it; by its table too, where no other may have the name. */
  private keeperName = (table: Table, column: Column, id: string): string =>
    this.namer.column(
      ['keep', ...(this.dialect.profile.features.triggersInTable ? [] : [table.name]), column.name].join('_'),
      false,
      id
    )

  private column(column: LogicalColumn, optional: boolean, part: LogicalEntity): Column {
    const { types } = this.dialect
    const { type, grade, note } = types.fromNeutral(this.keptAs(column))
    const where = column.row ?? column.origin.id
    if (grade === 'wider' || grade === 'narrower' || grade === 'impossible')
      this.say(
        `type-${grade}`,
        grade === 'wider' ? 'info' : 'warning',
        where,
        `${column.name} becomes ${this.dialect.write.type(type)}: ${note ?? ''}.`
      )
    const says = column.attribute ?? column.common
    const text = says?.default
    let value: string | undefined
    const kept = column.common && keptValue(column.common)
    if (kept) value = this.defaultValue(kept, column, where)
    else if (text !== undefined && text.trim() !== '') {
      const read = parseDefault(text, column.type)
      if (read.ok) value = this.defaultValue(read.value, column, where)
      else this.notices.push(...read.notices.map((notice) => ({ ...notice, where })))
    } else if (column.path === IDENTIFIER && column.type.kind === 'uuid')
      value = this.defaultValue({ kind: 'new uuid' }, column, where)
    const computed = column.attribute?.computed
    const generated = computed === undefined ? undefined : this.keys.condition(part, computed.trim())
    return {
      name: this.columnName(column),
      type,
      // Not every engine lets one say that what is worked out is never empty.
      nullable: optional || !column.required || (generated !== undefined && !column.key),
      ...(generated !== undefined ? { generated } : value === undefined ? {} : { default: value }),
      ...(column.identity && !this.dialect.rowId
        ? numbered(column, this.design.entities[column.origin.id]?.identifier, this.dialect, this.notices)
        : {}),
      ...(says?.means ? { comment: says.means } : {}),
      ...(column.attribute ? this.filled(column.attribute, type) : {}),
      ...this.bounds(says),
      origin: column.origin
    }
  }

  /** What the engine says of values where it says it with the column. */
  private bounds(says: Bounded | undefined): Pick<Column, 'options'> {
    const options = (says && this.dialect.bounds?.(says)) ?? {}
    return Object.keys(options).length > 0 ? { options } : {}
  }

  /** What an attribute holds, where the engine keeps it with the column: each field by its path. */
  private fields(attribute: Attribute | undefined, path: string): Column[] {
    if (!attribute || !holdsFields(attribute.type) || !this.dialect.profile.features.fields) return []
    return fieldsOf(attribute).flatMap((field): Column[] => {
      const own = this.namer.column(
        field.dbName ?? plainName(field.name, this.design.settings),
        field.dbName !== undefined,
        field.id
      )
      const name = `${path}${eachOf(attribute.type)}.${own}`
      const { type } = this.dialect.types.fromNeutral(this.led(field))
      const column: Column = {
        name,
        type,
        nullable: !field.required,
        ...(field.means ? { comment: field.means } : {}),
        ...this.filled(field, type),
        ...this.bounds(field),
        origin: { id: field.id, part: 'column' }
      }
      return [column, ...this.fields(field, name)]
    })
  }

  /** What a field that is added is filled with in what is there. */
  private filled({ default: text, type: neutral }: Attribute, type: DataType): Pick<Column, 'fill'> {
    if (!this.dialect.filled || text === undefined || text.trim() === '') return {}
    const read = parseDefault(text, neutral)
    const fill = read.ok ? this.dialect.filled(read.value, type) : undefined
    return fill === undefined ? {} : { fill }
  }

  /** The type of what leads to an entity is that of its key here. */
  private led({ id, name, type, leadsTo }: Attribute): NeutralType {
    if (leadsTo === undefined) return type
    const [key, ...more] = this.model.entity(leadsTo)?.key ?? []
    if (key && more.length === 0) return ledType(type, this.keptAs(key))
    const to = this.design.entities[leadsTo]?.name ?? ''
    this.say(
      'leads-to-many',
      'warning',
      id,
      `${name} leads to ${to}, whose key is of several columns: nothing is said of what it holds.`
    )
    return ledType(type, { kind: 'json' })
  }

  /** The type of a column as this target has it: a list may be kept as a document where the engine has lists. */
  private keptAs({ type: said, attribute, path }: LogicalColumn): NeutralType {
    const { rowId } = this.dialect
    const type = attribute?.leadsTo === undefined ? said : this.led(attribute)
    if (rowId && type.kind !== 'uuid' && path.split('/').at(-1) === IDENTIFIER) return rowId.type
    return attribute && !isPlain(type) && own(this.target.nested ?? {}, attribute.id) === 'document'
      ? { kind: 'json' }
      : type
  }

  private defaultValue(value: DefaultValue, column: LogicalColumn, where: string): string | undefined {
    const { profile, write } = this.dialect
    const written = write.value(value, this.keptAs(column))
    if (written === undefined)
      this.say(
        'default-not-kept',
        'warning',
        where,
        `${profile.label} cannot fill ${column.name} with ${DEFAULTS[value.kind] ?? 'that default'} by itself: whoever adds a row must give one.`
      )
    return written
  }

  private columnChecks(column: LogicalColumn, made: Column, home: { schema: string; table: string }): Check[] {
    const { attribute = column.common } = column
    if (!attribute || this.dialect.bounds) return []
    const own = column.common ? `${column.origin.part} ` : ''
    const { rule } = this.design.domains[column.attribute?.domain ?? ''] ?? {}
    return saidOf(attribute, made, rule, this.dialect).map(({ part, expression }) => ({
      name: this.namer.constraint(
        'ck',
        [home.table, made.name, ...(part === 'check' ? [] : [part])],
        home,
        attribute.id
      ),
      expression,
      origin: { id: column.common ? column.origin.id : attribute.id, part: own + part }
    }))
  }

  /** A required column of a subtype that shares its supertype's table must be filled in the subtype's rows alone. */
  private requiredInSubtype(
    home: Entity,
    part: LogicalEntity,
    column: LogicalColumn,
    name: string,
    table: string,
    schema: string
  ): Check {
    const group = part.subtypeOf
    const discriminator = group ? this.discriminatorName(group) : this.namer.column('kind', false, home.id)
    const values = [part.entity, ...this.layout.folded(part.entity)].map(subtypeValue)
    return {
      name: this.namer.constraint('ck', [table, name, 'required'], { schema, table }, column.origin.id),
      expression: this.dialect.write.requiredWhen(discriminator, values, name),
      origin: { id: column.origin.id, part: `${column.origin.part} required` }
    }
  }

  private discriminatorName = (group: Subtypes): string =>
    this.namer.column(plainName(group.discriminator, this.design.settings), false, group.id)

  private discriminators(entity: Entity, table: string, schema: string, checks: Check[]): Column[] {
    return this.layout.groupsInTable(entity).map((group): Column => {
      const values = group.subtypes.flatMap((id) => {
        const subtype = this.design.entities[id]
        return subtype ? [subtype, ...this.layout.folded(subtype)].map(subtypeValue) : []
      })
      const name = this.discriminatorName(group)
      checks.push({
        name: this.namer.constraint('ck', [table, name], { schema, table }, group.id),
        expression: this.dialect.write.oneOf(name, values),
        origin: { id: group.id, part: 'values' }
      })
      const { type } = this.dialect.types.fromNeutral({ kind: 'oneOf', values })
      return { name, type, nullable: !group.complete, origin: { id: group.id, part: 'discriminator' } }
    })
  }

  private bridge(link: Link): Table {
    return bridge(link, {
      design: this.design,
      key: (id) => this.model.entity(id)?.key ?? [],
      place: (id) => {
        const home = this.layout.homeOf(id)
        return home ? this.layout.place(home) : { schema: this.dialect.profile.defaultSchema, name: '' }
      },
      namer: this.namer,
      dialect: this.dialect,
      // Kept in documents of one of the two, they are no table.
      say: (message) =>
        link.embedded && this.dialect.profile.features.fields
          ? undefined
          : this.say('link-bridge', 'info', link.id, message)
    })
  }
}

const DEFAULTS: Readonly<Partial<Record<DefaultValue['kind'], string>>> = {
  'new uuid': 'a new uuid',
  user: 'the user'
}

/** How a path goes through what holds many: once more for each list, or map, in it. */
function eachOf(type: NeutralType): string {
  if (type.kind === 'list') return EACH + eachOf(type.of)
  if (type.kind === 'map') return EVERY + eachOf(type.of)
  // Of several types, the first that has fields.
  const holder = type.kind === 'either' ? type.of.find(holdsFields) : undefined
  return holder ? eachOf(holder) : ''
}

const subtypeValue = (entity: Entity): string => entity.name.toLowerCase()

export function traceOf(catalog: Catalog): Map<string, Address[]> {
  const trace = new Map<string, Address[]>()
  const note = (origin: Origin | undefined, address: Address) => {
    if (!origin) return
    const list = trace.get(origin.id)
    if (list) list.push(address)
    else trace.set(origin.id, [address])
  }
  for (const table of catalog.tables) {
    note(table.origin, tableAddress(table))
    for (const kind of MEMBER_KINDS)
      for (const member of members(table, kind)) note(member.origin, memberAddress(table, kind, member))
  }
  for (const view of catalog.views ?? []) note(view.origin, freeAddress('view', view))
  return trace
}
