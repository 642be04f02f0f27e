// A column that is filled anew whenever its row changes: a trigger that writes the row once more (sqlite.org/lang_createtrigger.html).
// Where triggers may set off each other, it stops by itself: what it has written is not written again.
import { addressOf } from '../../catalog'
import type { KeepUp, Writer } from '../dialect'

export const sqliteKeepUp =
  ({ quote }: Writer): KeepUp =>
  (table, column, value, called) => {
    const [name, own] = [quote(column.name), quote(table.name)]
    const key = table.primaryKey?.columns ?? []
    if (key.length === 0) return {}
    const row = key.map((part) => `${quote(part)} = NEW.${quote(part)}`).join(' AND ')
    return {
      trigger: {
        name: called,
        definition: [
          `CREATE TRIGGER ${quote(called)} AFTER UPDATE ON ${own} FOR EACH ROW WHEN NEW.${name} IS OLD.${name} AND NEW.${name} IS NOT ${value}`,
          'BEGIN',
          `  UPDATE ${own} SET ${name} = ${value} WHERE ${row};`,
          'END'
        ].join('\n'),
        refs: [{ to: addressOf('table', table.schema, table.name) }]
      }
    }
  }
