// Rows of the engine's own tables, and names as they stand in statements.
export type Row = Readonly<Record<string, unknown>>

export const str = (row: Row, key: string): string => String(row[key] ?? '').trim()
export const num = (row: Row, key: string): number => Number(row[key] ?? 0)
/** A description stays as it was written. */
export const words = (row: Row): string => String(row['words'] ?? '')
export const quote = (name: string): string => `"${name.replaceAll('"', '""')}"`

/** A default, without the words that stand before it. */
export const presetOf = (row: Row): string => str(row, 'preset').replace(/^(default\b|=)\s*/i, '')

/** Without the parentheses that stand around the whole. */
export function inside(text: string): string {
  const trimmed = text.trim()
  return trimmed.startsWith('(') && trimmed.endsWith(')') ? trimmed.slice(1, -1).trim() : trimmed
}

export function grouped(rows: readonly Row[], by: string): (key: string) => readonly Row[] {
  const groups = new Map<string, Row[]>()
  for (const row of rows) {
    const list = groups.get(str(row, by))
    if (list) list.push(row)
    else groups.set(str(row, by), [row])
  }
  return (key) => groups.get(key) ?? []
}
