// What stands on the columns of a table: unique keys, indexes, rules and foreign keys.
import type { Check, ForeignKey, Index, Key } from '../catalog'
import { IDENTIFIER, type Design, type Entity, type Index as EntityIndex } from '../design'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import type { Layout } from './layout'
import { plainName, type LogicalColumn, type LogicalEntity } from './logical'
import type { Namer } from './namer'

interface Of {
  readonly design: Design
  readonly namer: Namer
  readonly layout: Layout
  readonly dialect: Dialect
  readonly columnName: (column: LogicalColumn) => string
  readonly say: (code: string, severity: Notice['severity'], where: string | undefined, message: string) => void
}

export class Keys {
  constructor(private readonly of: Of) {}

  /** The columns of a row (an attribute's one, a link's several) by name. */
  private rowColumns(part: LogicalEntity, row: string): string[] {
    const attribute = part.columns.find((column) => column.path === row)
    if (attribute) return [this.of.columnName(attribute)]
    const fk = part.foreignKeys.find(({ link }) => link.id === row)
    return fk?.pairs.map(({ child }) => this.of.columnName(child)) ?? []
  }

  /** Over fewer columns it would say something else: it is left out, and told. */
  private isWithoutIdentifier(part: LogicalEntity, rows: readonly string[], id: string): boolean {
    const lacks = rows.includes(IDENTIFIER) && !part.columns.some(({ path }) => path === IDENTIFIER)
    if (lacks)
      this.of.say(
        'no-identifier',
        'warning',
        id,
        `${part.entity.name} has a key of its own now: what stands on its identifier is left out.`
      )
    return lacks
  }

  uniques(part: LogicalEntity, table: string, schema: string): Key[] {
    const own = part.entity.uniques.flatMap((key): Key[] => {
      if (this.isWithoutIdentifier(part, key.parts, key.id)) return []
      const columns = key.parts.flatMap((row) => this.rowColumns(part, row))
      const name = this.of.namer.member('uq', key.name, [table, ...columns], { schema, table }, key.id)
      return [{ name, columns, origin: { id: key.id, part: 'unique' } }]
    })
    // One-to-one: the child's foreign key is unique, unless it is the child's whole key already.
    const single = part.foreignKeys.filter(
      ({ link, pairs }) =>
        link.kind === 'one-to-one' &&
        pairs.length > 0 &&
        !isKey(
          part,
          pairs.map((p) => p.child.path)
        )
    )
    const links = single.map(({ link, pairs }): Key => {
      const columns = pairs.map(({ child }) => this.of.columnName(child))
      return {
        name: this.of.namer.constraint('uq', [table, ...columns], { schema, table }, link.id),
        columns,
        origin: { id: link.id, part: 'unique' }
      }
    })
    const all = [...own, ...links].filter((key) => key.columns.length > 0)
    return all.filter((key, i) => {
      const twice = all.slice(0, i).some((other) => other.columns.join() === key.columns.join())
      if (twice)
        this.of.say(
          'unique-twice',
          'warning',
          key.origin?.id,
          `${part.entity.name} says twice that ${key.columns.join(', ')} is unique: once is enough.`
        )
      return !twice
    })
  }

  indexes(part: LogicalEntity, table: string, schema: string): Index[] {
    return part.entity.indexes.flatMap((index): Index[] => {
      const named = index.parts.map(({ id }) => id)
      if (this.isWithoutIdentifier(part, named, index.id)) return []
      const parts = index.parts.flatMap(({ id, descending }) =>
        this.rowColumns(part, id).map((column) => ({ column, descending }))
      )
      if (parts.length === 0) return []
      const full = [table, ...parts.map((p) => p.column)]
      const name = this.of.namer.member('ix', index.name, full, { schema, table }, index.id)
      const where = this.only(part, index)
      return [
        {
          name,
          unique: index.unique && (where !== undefined || index.where === undefined),
          parts,
          ...(where === undefined ? {} : { where }),
          origin: { id: index.id, part: 'index' }
        }
      ]
    })
  }

  /** A condition in which `{id}` stands for a column. */
  condition(part: LogicalEntity, text: string): string {
    const names = new Map(part.columns.map((column) => [column.path, this.of.columnName(column)]))
    return text.replace(/\{([^}]+)\}/g, (whole, id: string) => {
      const column = names.get(id)
      return column === undefined ? whole : this.of.dialect.write.quote(column)
    })
  }

  /** Of which rows an index is; an engine that has none of some rows has it of all, and then they need not be unique. */
  private only(part: LogicalEntity, { id, where, unique }: EntityIndex): string | undefined {
    if (where === undefined) return undefined
    const { features, label } = this.of.dialect.profile
    if (features.partialIndexes) return this.condition(part, where)
    this.of.say(
      'index-not-partial',
      'warning',
      id,
      `${label} has no index of some rows only: this one of ${part.entity.name} is of all${unique ? ', and does not keep them unique' : ''}.`
    )
    return undefined
  }

  rules(part: LogicalEntity, table: string, schema: string): Check[] {
    return part.entity.rules.map((rule, i): Check => {
      const expression = this.condition(part, rule.condition)
      const parts = rule.name === undefined ? [table, `rule_${i + 1}`] : [table, rule.name]
      return {
        name: this.of.namer.member('ck', rule.dbName, parts, { schema, table }, rule.id),
        expression,
        origin: { id: rule.id, part: 'check' }
      }
    })
  }

  foreignKeys(part: LogicalEntity, table: string, schema: string, home: Entity): ForeignKey[] {
    const keys = part.foreignKeys.flatMap(({ link, pairs }): ForeignKey[] => {
      const parent = this.of.layout.homeOf(link.parent)
      if (!parent || pairs.length === 0) return []
      if (parent.id !== link.parent)
        this.of.say(
          'link-to-subtype',
          'info',
          link.id,
          `A link to ${this.of.design.entities[link.parent]?.name ?? ''} goes to the table ${parent.name} that it shares: the engine does not check the subtype.`
        )
      const columns = pairs.map(({ child }) => this.of.columnName(child))
      if ([link.onDelete, link.onUpdate].includes('set null') && pairs.some(({ child }) => child.required))
        this.of.say(
          'link-set-null',
          'error',
          link.id,
          `The link from ${part.entity.name} sets ${columns.join(', ')} to nothing, but a value is required there.`
        )
      const place = this.of.layout.place(parent)
      return [
        {
          name: this.of.namer.member(
            'fk',
            link.dbName,
            [
              table,
              link.role
                ? this.of.namer.column(plainName(link.role, this.of.design.settings), false, link.id)
                : place.name
            ],
            { schema, table },
            link.id
          ),
          columns,
          references: {
            schema: place.schema,
            table: place.name,
            columns: pairs.map((pair) => this.parentName(pair.parent))
          },
          onDelete: link.onDelete,
          onUpdate: link.onUpdate,
          deferrable: link.deferrable ? 'deferrable' : 'no',
          origin: { id: link.id, part: 'fk' }
        }
      ]
    })
    const supertype =
      part.subtypeOf && part.entity.id === home.id ? this.of.layout.homeOf(part.subtypeOf.supertype) : undefined
    // A key that is part of itself has no columns to refer to: that is told.
    if (!supertype || part.key.length === 0) return keys
    const place = this.of.layout.place(supertype)
    const columns = part.key.map((column) => this.of.columnName(column))
    return [
      {
        name: this.of.namer.member(
          'fk',
          part.subtypeOf?.foreignKeys?.[part.entity.id],
          [table, place.name],
          { schema, table },
          part.entity.id
        ),
        columns,
        references: { schema: place.schema, table: place.name, columns },
        // A row and what makes it special are one thing: they go together.
        onDelete: 'cascade',
        onUpdate: 'no action',
        deferrable: 'no',
        origin: { id: part.entity.id, part: 'supertype' }
      },
      ...keys
    ]
  }

  /** In a shared table a subtype's inherited key columns are the supertype's own: they have the same names. */
  private parentName = (column: LogicalColumn): string => this.of.columnName(column)
}

const isKey = (part: LogicalEntity, paths: readonly string[]) =>
  part.key.length === paths.length && part.key.every((column) => paths.includes(column.path))
