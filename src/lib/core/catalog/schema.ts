// The shapes of catalogue objects for what comes from outside, as in a design file. `shapes.ts` says what each field means;
// the types tie the two together.
import * as v from 'valibot'
import { PROPERTIES, propertyOf, type CatalogObject } from './change'
import type { Check, Column, ForeignKey, Index, Key, MemberOf, ObjectKind, Table } from './shapes'
import { MEMBER_KINDS } from './walk'

const text = v.string()
const name = v.pipe(text, v.minLength(1, 'a name cannot be empty'))
const maybe = v.exactOptional(text)
const names = v.pipe(v.array(name), v.minLength(1))
const origin = v.exactOptional(v.strictObject({ id: text, part: text }))
const action = v.picklist(['no action', 'restrict', 'cascade', 'set null', 'set default'])

const column = v.strictObject({
  name,
  type: text,
  nullable: v.boolean(),
  neverEmpty: v.exactOptional(v.literal(true)),
  default: maybe,
  identity: v.exactOptional(v.picklist(['always', 'by default'])),
  generated: maybe,
  virtual: v.exactOptional(v.literal(true)),
  collation: maybe,
  comment: maybe,
  origin
}) satisfies v.GenericSchema<unknown, Column>

const key = v.strictObject({ name, columns: names, comment: maybe, origin }) satisfies v.GenericSchema<unknown, Key>

const foreignKey = v.strictObject({
  name,
  columns: names,
  references: v.strictObject({
    schema: text,
    table: name,
    columns: v.array(name),
    unnamed: v.exactOptional(v.literal(true))
  }),
  onDelete: action,
  onUpdate: action,
  deferrable: v.picklist(['no', 'deferrable', 'initially deferred']),
  comment: maybe,
  origin
}) satisfies v.GenericSchema<unknown, ForeignKey>

const check = v.strictObject({ name, expression: name, comment: maybe, origin }) satisfies v.GenericSchema<
  unknown,
  Check
>

const index = v.strictObject({
  name,
  unique: v.boolean(),
  parts: v.pipe(
    v.array(
      v.pipe(
        v.strictObject({
          column: v.exactOptional(name),
          expression: v.exactOptional(name),
          length: v.exactOptional(v.pipe(v.number(), v.integer(), v.minValue(1))),
          descending: v.boolean(),
          nulls: v.exactOptional(v.picklist(['first', 'last']))
        }),
        v.check((part) => (part.column === undefined) !== (part.expression === undefined), 'a column or an expression')
      )
    ),
    v.minLength(1)
  ),
  include: v.exactOptional(v.array(name)),
  where: maybe,
  method: maybe,
  comment: maybe,
  origin
}) satisfies v.GenericSchema<unknown, Index>

const MEMBERS = { column, primaryKey: key, unique: key, foreignKey, check, index } satisfies {
  [K in keyof MemberOf]: v.GenericSchema<unknown, MemberOf[K]>
}

const table = v.strictObject({
  schema: text,
  name,
  comment: maybe,
  columns: v.array(column),
  primaryKey: v.exactOptional(key),
  uniques: v.array(key),
  foreignKeys: v.array(foreignKey),
  checks: v.array(check),
  indexes: v.array(index),
  origin
}) satisfies v.GenericSchema<unknown, Table>

/** A catalogue object as it stands, and the table that it is, or is in. */
export type PlacedObject = { readonly schema: string; readonly table: string } & CatalogObject

const placed = <K extends ObjectKind, S extends v.GenericSchema>(kind: K, value: S) =>
  v.strictObject({ schema: text, table: name, kind: v.literal(kind), value })

/** With the fields of its kind and no others. */
export const PlacedObjectSchema: v.GenericSchema<unknown, PlacedObject> = v.variant('kind', [
  placed('table', table),
  placed('column', column),
  placed('primaryKey', key),
  placed('unique', key),
  placed('foreignKey', foreignKey),
  placed('check', check),
  placed('index', index)
])

/** Whether a value may stand as one property of an object of a kind; nothing stands for "not there". */
export function propertyFits(kind: ObjectKind, property: string, value: unknown): boolean {
  if (property !== 'name' && !PROPERTIES[kind].includes(property)) return false
  const entries = kind === 'table' ? table.entries : MEMBERS[kind].entries
  const field = propertyOf(entries, property) as v.GenericSchema
  return value === undefined ? field.type === 'exact_optional' : v.is(field, value)
}

/** The kinds of object whose property a value may be. */
export const kindsFitting = (property: string, value: unknown): ObjectKind[] =>
  (['table', ...MEMBER_KINDS] as const).filter((kind) => propertyFits(kind, property, value))
