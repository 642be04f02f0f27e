// Allowed values as the type itself, where a target wants them so: "ENUM" instead of a check.
import { withProperty, type Check, type Column, type Table } from '../../catalog'
import { significant, textOf } from '../../sql'
import type { TypeSystem } from '../dialect'
import { mariadbLexis } from './lexis'
import { literal, VALUES_AS } from './words'

/** The texts that a check lists of one column, which is all that it says; nothing of any other check. */
function valuesIn({ expression }: Check, column: string): readonly string[] | undefined {
  const [name, word, open, ...rest] = significant(expression, mariadbLexis)
  const close = rest.pop()
  const isOf = name?.text.replaceAll('`', '') === column && word?.text.toLowerCase() === 'in'
  if (!isOf || open?.text !== '(' || close?.text !== ')') return undefined
  const values = rest.flatMap((token) => (token.text === ',' ? [] : [textOf(token, mariadbLexis)]))
  return values.every((value) => value !== undefined) ? values : undefined
}

/** A table whose columns have their values by their types, where they are said to. */
export function listed(table: Table, types: TypeSystem): Table {
  const chosen = table.columns.filter(({ options }) => options?.[VALUES_AS] === 'enum')
  return chosen.reduce((now, column): Table => {
    const check = now.checks.find((one) => valuesIn(one, column.name))
    const values = check && valuesIn(check, column.name)
    const { [VALUES_AS]: _, ...options } = column.options ?? {}
    const plain = withProperty<Column>(column, 'options', Object.keys(options).length > 0 ? options : undefined)
    const made = values ? { ...plain, type: types.read(`enum(${values.map(literal).join(',')})`) } : plain
    return {
      ...now,
      columns: now.columns.map((one) => (one === column ? made : one)),
      checks: now.checks.filter((one) => one !== check)
    }
  }, table)
}
