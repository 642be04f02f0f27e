// Firebird's way to write catalogue objects: "Firebird Language Reference", "Data Definition (DDL) Statements". Nothing
// there says IF EXISTS: what may not be there is looked for in the catalogue first.
import { typeText } from '../../catalog'
import { significant } from '../../sql'
import type { EngineProfile, Writer } from '../dialect'
import { literal, standardWriter } from '../standard'

export function firebirdWriter(profile: EngineProfile): Writer {
  const standard = standardWriter(profile, {
    // A domain has no schema that could be said.
    type: (type, quote) => (type.schema === undefined ? typeText(type) : quote(type.name)),
    column: (column) =>
      [
        standard.quote(column.name),
        standard.type(column.type),
        column.identity && `GENERATED ${column.identity.toUpperCase()} AS IDENTITY`,
        column.generated !== undefined && `GENERATED ALWAYS AS (${column.generated})`,
        column.default !== undefined && `DEFAULT ${column.default}`,
        !column.nullable && column.generated === undefined && 'NOT NULL',
        column.collation !== undefined && column.generated === undefined && `COLLATE ${collation(column.collation)}`
      ]
        .filter((part) => part)
        .join(' ')
  })
  const { quote } = standard
  const collation = (name: string) => (/^[A-Z][A-Z0-9_$]*$/.test(name) ? name : quote(name))
  const ifThere = (where: string, sql: string) =>
    `EXECUTE BLOCK AS\nBEGIN\n  IF (EXISTS (SELECT 1 FROM ${where})) THEN EXECUTE STATEMENT ${literal(sql)};\nEND`
  return {
    ...standard,
    value: (value, type) => {
      // A default is a literal or what the session knows: no function may be called there.
      if (value.kind === 'new uuid') return undefined
      if (value.kind === 'now' && type.kind === 'time') return 'CURRENT_TIME'
      return standard.value(value, type)
    },
    addColumn: (table, column) => standard.addColumn(table, column).replace(' ADD COLUMN ', ' ADD '),
    dropColumn: (table, column) => `ALTER TABLE ${quote(table.name)} DROP ${quote(column.name)}`,
    renameMember: (table, _, from, to) =>
      `ALTER TABLE ${quote(table.name)} ALTER COLUMN ${quote(from)} TO ${quote(to)}`,
    dropTable: (_, name, ifExists) => {
      const sql = `DROP TABLE ${quote(name)}`
      return ifExists ? ifThere(`RDB$RELATIONS WHERE RDB$RELATION_NAME = ${literal(name)}`, sql) : sql
    },
    dropConstraint: (table, name, ifExists) => {
      const sql = standard.dropConstraint(table, name)
      return ifExists ? ifThere(`RDB$RELATION_CONSTRAINTS WHERE RDB$CONSTRAINT_NAME = ${literal(name)}`, sql) : sql
    },
    createIndex: (table, index) => {
      const [first] = index.parts
      const what =
        first?.expression === undefined
          ? `(${index.parts.map((part) => quote(part.column ?? '')).join(', ')})`
          : `COMPUTED BY (${first.expression})`
      const where = index.where === undefined ? '' : ` WHERE ${index.where}`
      const words = [index.unique && 'UNIQUE', first?.descending && 'DESCENDING', 'INDEX'].filter((word) => word)
      return `CREATE ${words.join(' ')} ${quote(index.name)} ON ${quote(table.name)} ${what}${where}`
    },
    comment: (table, on, text) => {
      if (on.kind === 'table' || on.kind === 'column') return standard.comment(table, on, text)
      if (on.kind !== 'index') return []
      return [`COMMENT ON INDEX ${quote(on.name)} IS ${text === undefined ? 'NULL' : literal(text)}`]
    },
    // The tool that runs scripts commits what changes the structure by itself, and what changes rows when told to.
    inScript: (sql) => {
      const [first] = significant(sql, standard.lexis)
      const body = significant(sql, standard.lexis).some((token) => token.text === ';')
      const whole = body ? `SET TERM ^ ;\n\n${sql}^\n\nSET TERM ; ^` : `${sql};`
      return /^(insert|update|delete|merge|execute|select)$/i.test(first?.text ?? '') ? `${whole}\n\nCOMMIT;` : whole
    }
  }
}
