// The shapes of catalogue objects for what comes from outside, as in a design file. `shapes.ts` says what each field means;
// the types tie the two together.
import * as v from 'valibot'
import type { DataType } from './data-type'
import { propertyOf, type CatalogObject } from './change'
import { FREE_KINDS, KINDS, MEMBER_KINDS, type ObjectOf } from './kinds'
import type { Kind } from './shapes'
import type * as shapes from './shapes'

const text = v.string()
const name = v.pipe(text, v.minLength(1, 'a name cannot be empty'))
const maybe = v.exactOptional(text)
const yes = v.exactOptional(v.literal(true))
const names = v.pipe(v.array(name), v.minLength(1))
/** How many there are of something. */
const count = v.pipe(v.number(), v.integer(), v.minValue(0))
const madeFrom = v.strictObject({ id: text, part: text })
const origin = v.exactOptional(madeFrom)
const action = v.picklist(['no action', 'restrict', 'cascade', 'set null', 'set default'])
const options = v.exactOptional(v.record(text, text))
const kind = v.picklist([...FREE_KINDS, ...MEMBER_KINDS])
const path = v.pipe(v.array(text), v.minLength(1), v.maxLength(3))

/** Where an object stands, as a file may say it. */
export const AddressSchema = v.strictObject({ kind, path }) satisfies v.GenericSchema<unknown, shapes.Address>

const refs = v.exactOptional(v.array(v.strictObject({ to: AddressSchema, owned: yes })))
const rights = v.exactOptional(v.array(v.strictObject({ to: text, may: text, grantable: yes, revoked: yes })))
const held = { name, comment: maybe, origin }
const owned = { ...held, owner: maybe, rights }
const relation = v.strictObject({ schema: text, name })
const counting = { start: maybe, increment: maybe, min: maybe, max: maybe, cache: maybe, cycle: yes }

const dataType: v.GenericSchema<unknown, DataType> = v.strictObject({
  // SQLite has columns without a type.
  name: text,
  schema: v.exactOptional(name),
  args: v.exactOptional(v.array(text)),
  more: maybe,
  of: v.exactOptional(v.lazy(() => dataType))
})

const column = v.strictObject({
  ...held,
  type: dataType,
  nullable: v.boolean(),
  neverEmpty: yes,
  fill: maybe,
  seen: v.exactOptional(v.strictObject({ of: count, there: count, longest: v.exactOptional(count) })),
  default: maybe,
  identity: v.exactOptional(v.picklist(['always', 'by default'])),
  counting: v.exactOptional(v.strictObject({ name: maybe, ...counting })),
  generated: maybe,
  virtual: yes,
  collation: maybe,
  inherited: yes,
  rights,
  options,
  refs
}) satisfies v.GenericSchema<unknown, shapes.Column>

const key = v.strictObject({
  ...held,
  columns: names,
  include: v.exactOptional(v.array(name)),
  parts: v.exactOptional(
    v.array(v.strictObject({ collation: maybe, descending: yes, length: v.exactOptional(v.number()) }))
  ),
  nullsAlike: yes,
  deferrable: v.exactOptional(v.picklist(['deferrable', 'initially deferred'])),
  options
}) satisfies v.GenericSchema<unknown, shapes.Key>

const foreignKey = v.strictObject({
  ...held,
  columns: names,
  references: v.strictObject({ schema: text, table: name, columns: v.array(name), unnamed: yes }),
  onDelete: action,
  onUpdate: action,
  deferrable: v.picklist(['no', 'deferrable', 'initially deferred']),
  match: v.exactOptional(v.literal('full')),
  options
}) satisfies v.GenericSchema<unknown, shapes.ForeignKey>

const check = v.strictObject({ ...held, expression: name, inherited: yes, options, refs }) satisfies v.GenericSchema<
  unknown,
  shapes.Check
>
const exclusion = v.strictObject({ ...held, definition: name, refs }) satisfies v.GenericSchema<
  unknown,
  shapes.Exclusion
>

const index = v.strictObject({
  ...held,
  unique: v.boolean(),
  parts: v.pipe(
    v.array(
      v.pipe(
        v.strictObject({
          column: v.exactOptional(name),
          expression: v.exactOptional(name),
          length: v.exactOptional(v.pipe(v.number(), v.integer(), v.minValue(1))),
          descending: v.boolean(),
          nulls: v.exactOptional(v.picklist(['first', 'last'])),
          collation: maybe,
          operators: maybe
        }),
        v.check((part) => (part.column === undefined) !== (part.expression === undefined), 'a column or an expression')
      )
    ),
    v.minLength(1)
  ),
  include: v.exactOptional(v.array(name)),
  where: maybe,
  method: maybe,
  nullsAlike: yes,
  options,
  refs
}) satisfies v.GenericSchema<unknown, shapes.Index>

const defined = v.strictObject({ ...held, definition: name, enabled: maybe, refs })
const trigger = defined satisfies v.GenericSchema<unknown, shapes.Trigger>
const rule = defined satisfies v.GenericSchema<unknown, shapes.Rule>
const policy = v.strictObject({ ...held, definition: name, refs }) satisfies v.GenericSchema<unknown, shapes.Policy>

const table = v.strictObject({
  schema: text,
  ...owned,
  columns: v.array(column),
  primaryKey: v.exactOptional(key),
  uniques: v.array(key),
  foreignKeys: v.array(foreignKey),
  checks: v.array(check),
  exclusions: v.exactOptional(v.array(exclusion)),
  indexes: v.array(index),
  triggers: v.exactOptional(v.array(trigger)),
  policies: v.exactOptional(v.array(policy)),
  rules: v.exactOptional(v.array(rule)),
  inherits: v.exactOptional(v.array(relation)),
  partition: v.exactOptional(v.strictObject({ of: relation, bound: text })),
  parted: v.exactOptional(text),
  module: maybe,
  written: maybe,
  joins: v.exactOptional(
    v.array(v.strictObject({ link: text, pairs: v.array(v.strictObject({ own: madeFrom, key: madeFrom })) }))
  ),
  options,
  refs
}) satisfies v.GenericSchema<unknown, shapes.Table>

const view = v.strictObject({
  schema: text,
  ...owned,
  query: name,
  columns: v.exactOptional(v.array(name)),
  materialized: yes,
  notes: v.exactOptional(v.array(v.strictObject({ name, comment: maybe, default: maybe, rights }))),
  indexes: v.exactOptional(v.array(index)),
  triggers: v.exactOptional(v.array(trigger)),
  rules: v.exactOptional(v.array(rule)),
  options,
  refs
}) satisfies v.GenericSchema<unknown, shapes.View>

const type = v.strictObject({
  schema: text,
  ...owned,
  form: v.picklist(['enum', 'domain', 'composite', 'range']),
  values: v.exactOptional(v.array(text)),
  base: v.exactOptional(dataType),
  collation: maybe,
  nullable: v.exactOptional(v.literal(false)),
  default: maybe,
  checks: v.exactOptional(v.array(check)),
  fields: v.exactOptional(v.array(v.strictObject({ name, type: dataType, collation: maybe, comment: maybe }))),
  options,
  refs
}) satisfies v.GenericSchema<unknown, shapes.TypeObject>

const sequence = v.strictObject({
  schema: text,
  ...owned,
  type: maybe,
  ...counting,
  ownedBy: v.exactOptional(v.strictObject({ schema: text, table: name, column: name })),
  options
}) satisfies v.GenericSchema<unknown, shapes.Sequence>

const routine = v.strictObject({
  schema: text,
  ...owned,
  form: text,
  definition: name,
  signature: maybe,
  refs
}) satisfies v.GenericSchema<unknown, shapes.Routine>

const SHAPES = {
  schema: v.strictObject(owned),
  extension: v.strictObject({ ...held, schema: maybe }),
  type,
  sequence,
  routine,
  table,
  view,
  defaultRights: v.strictObject({
    ...held,
    role: text,
    schema: maybe,
    of: text,
    rights: v.array(v.strictObject({ to: text, may: text, grantable: yes, revoked: yes }))
  }),
  column,
  primaryKey: key,
  unique: key,
  foreignKey,
  check,
  exclusion,
  index,
  trigger,
  policy,
  rule
} satisfies { [K in Kind]: v.GenericSchema<unknown, ObjectOf[K]> }

/** A catalogue object as it stands, and where. */
export type PlacedObject = { readonly path: readonly string[] } & CatalogObject

const kinds: readonly Kind[] = [...FREE_KINDS, ...MEMBER_KINDS]
const placed = (of: Kind) => v.strictObject({ path, kind: v.literal(of), value: SHAPES[of] as v.GenericSchema })

/** With the fields of its kind and no others. */
export const PlacedObjectSchema = v.variant('kind', kinds.map(placed) as never) as v.GenericSchema<
  unknown,
  PlacedObject
>

const OPTION = 'options.'

/** One option of an object as a property: `options.tablespace`. */
export const optionProperty = (name: string): string => OPTION + name

/** The option that such a property is. */
export const optionIn = (property: string): string | undefined =>
  property.startsWith(OPTION) ? property.slice(OPTION.length) : undefined

/** Whether a value may stand as one property of an object of a kind, or as one of its options; nothing stands for "not there". */
export function propertyFits(kind: Kind, property: string, value: unknown): boolean {
  const { properties, silent = [] } = KINDS[kind]
  if (optionIn(property) !== undefined)
    return properties.includes('options') && (value === undefined || typeof value === 'string')
  if (property !== 'name' && !properties.includes(property) && !silent.includes(property)) return false
  const field = propertyOf(SHAPES[kind].entries, property) as v.GenericSchema
  return value === undefined ? field.type === 'exact_optional' : v.is(field, value)
}

/** The kinds of object whose property a value may be. */
export const kindsFitting = (property: string, value: unknown): Kind[] =>
  kinds.filter((kind) => propertyFits(kind, property, value))
