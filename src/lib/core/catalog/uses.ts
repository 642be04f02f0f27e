// Which members of a table speak of a column.
import { namesIn, type Lexis } from '../sql'
import type { Index, MemberKind, MemberOf } from './shapes'

/** Whether a key, check, exclusion, index, foreign key (its child's side) or computed column of a table uses one of its columns. */
export function usesColumn<K extends MemberKind>(kind: K, member: MemberOf[K], column: string, lexis: Lexis): boolean {
  const { columns, parts, expression, where, include, generated, definition } = member as Partial<Index> & {
    readonly columns?: readonly string[]
    readonly expression?: string
    readonly generated?: string
    readonly definition?: string
  }
  const inText = (text: string | undefined) => text !== undefined && namesIn(text, lexis).has(lexis.fold(column, true))
  if (kind === 'column') return member.name === column || inText(generated)
  if (kind === 'check') return inText(expression)
  if (kind === 'exclusion') return inText(definition)
  const inParts = parts?.some((part) => part.column === column || inText(part.expression)) ?? false
  return (columns?.includes(column) ?? false) || inParts || inText(where) || (include?.includes(column) ?? false)
}
