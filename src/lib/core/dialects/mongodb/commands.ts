// The commands that make collections and indexes ("Database Commands": create, collMod, createIndexes), as the documents that are
// sent. A statement of this engine is one such document as text.
import type { Index, IndexPart, Options, Table } from '../../catalog'
import { dotted } from '../../catalog'
import { schemaOf, type Json, type Schema } from './schema'

export type Command = { readonly [key: string]: Json }

/** A command as it is sent, and as it stands in a plan: extended JSON ("MongoDB Extended JSON (v2)"). */
export const statementOf = (command: Command): string => JSON.stringify(command)

/** A statement's command; nothing where it is none as JSON. */
export function commandIn(statement: string): Command | undefined {
  if (!statement.trimStart().startsWith('{')) return undefined
  try {
    return JSON.parse(statement) as Command
  } catch {
    return undefined
  }
}

/** What is said of a collection besides its fields, in commands' own words; the rest of its options are of ours. */
export const CREATED = [
  'capped',
  'size',
  'max',
  'collation',
  'timeseries',
  'expireAfterSeconds',
  'clusteredIndex',
  'changeStreamPreAndPostImages'
] as const
export const VALIDATION = ['validationLevel', 'validationAction'] as const

const worded = (options: Options | undefined, names: readonly string[]): Command =>
  Object.fromEntries(
    names.flatMap((name) => {
      const value = options?.[name]
      return value === undefined
        ? []
        : [[name, (/^[[{\d]|^(true|false)$/.test(value) ? JSON.parse(value) : value) as Json]]
    })
  )

/** The whole condition that documents must meet; nothing where none is said. */
export function validatorOf(table: Table): Schema | undefined {
  const { validator } = table.options ?? {}
  const others = validator === undefined ? {} : (JSON.parse(validator) as Schema)
  const isPlain = table.columns.length === 0 && table.comment === undefined && table.options?.['schema'] === undefined
  const all = { ...(isPlain ? {} : { $jsonSchema: schemaOf(table) }), ...others }
  return Object.keys(all).length > 0 ? all : undefined
}

export function createCommand(table: Table): Command {
  const validator = validatorOf(table)
  return {
    create: table.name,
    ...(validator ? { validator } : {}),
    ...worded(table.options, VALIDATION),
    ...worded(table.options, CREATED)
  }
}

/** States the validator as it should be, and how strictly it is kept. */
export const collModCommand = (table: Table): Command => ({
  collMod: table.name,
  validator: validatorOf(table) ?? {},
  validationLevel: table.options?.['validationLevel'] ?? 'strict',
  validationAction: table.options?.['validationAction'] ?? 'error'
})

/** The options of an index that stand beside its key as they are. */
export const INDEX_OPTIONS = [
  'sparse',
  'expireAfterSeconds',
  'hidden',
  'collation',
  'weights',
  'default_language',
  'language_override',
  'textIndexVersion',
  '2dsphereIndexVersion',
  'bits',
  'min',
  'max',
  'wildcardProjection'
] as const

/** An index on all that a field holds, by its kind; and what a key says for it ("Wildcard Indexes"). */
export const WILDCARD = 'wildcard'
export const ALL_WITHIN = '.$**'

const keyOf = ({ column, expression, descending, operators }: IndexPart): readonly [string, Json] => {
  const path = expression ?? dotted(column ?? '')
  return operators === WILDCARD ? [path + ALL_WITHIN, 1] : [path, operators ?? (descending ? -1 : 1)]
}

export const indexDocument = (index: Index): Command => ({
  key: Object.fromEntries(index.parts.map(keyOf)),
  name: index.name,
  ...(index.unique ? { unique: true } : {}),
  ...(index.where === undefined ? {} : { partialFilterExpression: JSON.parse(index.where) as Json }),
  ...worded(index.options, INDEX_OPTIONS)
})

export const createIndexCommand = (collection: string, index: Index): Command => ({
  createIndexes: collection,
  indexes: [indexDocument(index)]
})
