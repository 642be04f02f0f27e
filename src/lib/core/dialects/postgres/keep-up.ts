// A column that is filled anew whenever its row changes: a trigger, and the function that it calls ("CREATE TRIGGER",
// "Trigger Functions"), both in the words in which the engine prints them.
import { addressOf, freeAddress, memberAddress, type Routine } from '../../catalog'
import type { KeepUp, Writer } from '../dialect'

export const postgresKeepUp =
  ({ quote, table: placed }: Writer): KeepUp =>
  (table, column, value, called) => {
    const { schema } = table
    const name = `${quote(called)}()`
    const routine: Routine = {
      schema,
      name,
      form: 'function',
      definition: [
        `CREATE OR REPLACE FUNCTION ${quote(schema)}.${name}`,
        ' RETURNS trigger',
        ' LANGUAGE plpgsql',
        `AS $function$`,
        'BEGIN',
        `  NEW.${quote(column.name)} := ${value};`,
        '  RETURN NEW;',
        'END',
        '$function$'
      ].join('\n'),
      signature: ' → trigger'
    }
    return {
      routine,
      trigger: {
        name: called,
        definition: `CREATE TRIGGER ${quote(called)} BEFORE UPDATE ON ${placed(schema, table.name)} FOR EACH ROW EXECUTE FUNCTION ${quote(schema)}.${name}`,
        refs: [
          { to: freeAddress('routine', routine) },
          { to: addressOf('table', schema, table.name) },
          { to: memberAddress(table, 'column', column) }
        ]
      }
    }
  }
