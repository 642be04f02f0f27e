// What the rest may ask of any engine's words, in commands. Conditions on columns are not written here: a validator has them with the
// fields.
import { typeText } from '../../catalog'
import type { EngineProfile, Writer } from '../dialect'
import { collModCommand, createCommand, createIndexCommand, statementOf, type Command } from './commands'
import { moveField, removeField } from './moves'
import { shellText } from './shell'

export function mongodbWriter(profile: EngineProfile): Writer {
  const plain = (name: string) => name
  const mod = (table: Parameters<typeof collModCommand>[0]) => statementOf(collModCommand(table))
  return {
    lexis: { ...profile.lexis, fold: plain },
    quote: plain,
    keywords: new Set(),
    table: (_, name) => name,
    type: (type) => typeText(type),
    // "Schema Validation": a validator fills in nothing.
    value: () => undefined,
    oneOf: (column, values) => JSON.stringify({ [column]: { $in: values } }),
    range: (column, min, max) =>
      JSON.stringify({
        [column]: { ...(min === undefined ? {} : { $gte: min }), ...(max === undefined ? {} : { $lte: max }) }
      }),
    inLetters: (column, letters) => JSON.stringify({ [column]: { $regex: LETTERS[letters] } }),
    requiredWhen: (discriminator, values, column) =>
      JSON.stringify({ $or: [{ [discriminator]: { $nin: values } }, { [column]: { $exists: true } }] }),
    createSchema: () => statementOf({ ping: 1 }),
    first: (query, rows) => {
      const command = JSON.parse(query) as Command
      return 'find' in command ? JSON.stringify({ ...command, limit: rows }) : query
    },
    insert: (table, values) => statementOf({ insert: table.name, documents: [values] }),
    createTable: (table) => statementOf(createCommand(table)),
    constraint: ({ value }) => value.name,
    dropTable: (_, name) => statementOf({ drop: name }),
    renameTable: (_, from, to) => statementOf({ renameCollection: from, to }),
    addColumn: (table, column) => mod({ ...table, columns: [...table.columns, column] }),
    dropColumn: (table, column) => statementOf(removeField(table.name, column.name)),
    renameMember: (table, _, from, to) => statementOf(moveField(table.name, from, to) ?? removeField(table.name, from)),
    addConstraint: (table) => mod(table),
    dropConstraint: (table) => mod(table),
    createIndex: (table, index) => statementOf(createIndexCommand(table.name, index)),
    dropIndex: (table, index) => statementOf({ dropIndexes: table.name, index: index.name }),
    inScript: shellText,
    comment: () => []
  }
}

/** Text of one sort of letters, as a pattern that a validator knows ("$jsonSchema", `pattern`). */
export const LETTERS = { upper: '^[^a-z]*$', lower: '^[^A-Z]*$' } as const
