// Texts of the engine's own language that stand in a design: types, defaults, conditions. One that is not whole by the
// engine's rules could end the statement that it stands in and begin another: it is told, and left out.
import type { Catalog, Column, Table } from '../catalog'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import { whyNotWhole } from '../sql'

export function wholeTexts(catalog: Catalog, dialect: Dialect): { catalog: Catalog; notices: Notice[] } {
  const notices: Notice[] = []
  // Most types and many defaults are the same texts.
  const known = new Map<string, string | undefined>()
  const whyNot = (text: string) => {
    if (!known.has(text)) known.set(text, whyNotWhole(text, dialect.write.lexis))
    return known.get(text)
  }
  const isWhole = (table: Table, member: { name: string; origin?: { id: string } }, what: string, text?: string) => {
    const why = text === undefined ? undefined : whyNot(text)
    if (why !== undefined)
      notices.push({
        code: 'text-not-whole',
        severity: 'error',
        ...(member.origin ? { where: member.origin.id } : {}),
        message: `${what} of ${table.name}.${member.name} is left out. ${why}`
      })
    return why === undefined
  }
  const column = (table: Table, given: Column): Column => {
    const { default: preset, generated, ...rest } = given
    const type = isWhole(table, given, 'The type', dialect.write.type(given.type))
      ? given.type
      : dialect.types.fromNeutral({ kind: 'text' }).type
    return {
      ...rest,
      type,
      ...(preset !== undefined && isWhole(table, given, 'The default', preset) ? { default: preset } : {}),
      ...(generated !== undefined && isWhole(table, given, 'The expression', generated) ? { generated } : {})
    }
  }
  const checked = (table: Table): Table => ({
    ...table,
    columns: table.columns.map((given) => column(table, given)),
    checks: table.checks.filter((check) => isWhole(table, check, 'The condition', check.expression)),
    indexes: table.indexes.filter((index) =>
      [index.where, ...index.parts.map((part) => part.expression)].every((text) =>
        isWhole(table, index, 'A text', text)
      )
    )
  })
  const tables = catalog.tables.map(checked)
  return { catalog: notices.length === 0 ? catalog : { ...catalog, tables }, notices }
}
