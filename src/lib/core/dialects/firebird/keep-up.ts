// A column that is filled anew whenever its row changes: a trigger ("CREATE TRIGGER"), in the words in which it is read back.
import { addressOf } from '../../catalog'
import type { KeepUp, Writer } from '../dialect'

export const firebirdKeepUp =
  ({ quote }: Writer): KeepUp =>
  (table, column, value, called) => ({
    trigger: {
      name: called,
      definition: [
        `CREATE TRIGGER ${quote(called)} FOR ${quote(table.name)} ACTIVE BEFORE UPDATE POSITION 0`,
        'AS',
        'BEGIN',
        `  NEW.${quote(column.name)} = ${value};`,
        'END'
      ].join('\n'),
      refs: [{ to: addressOf('table', table.schema, table.name) }]
    }
  })
