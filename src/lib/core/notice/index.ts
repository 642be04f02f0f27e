/** What is said to a person about a design, a script or a database: data, never a printed line. */
export type Severity = 'error' | 'warning' | 'info'

/**
 * One finding. `code` is stable and made for machines; `message` is one plain sentence that says what
 * happened and what follows. `where` is the id of a design object or a `line:column` in a text.
 */
export interface Notice {
  readonly code: string
  readonly severity: Severity
  readonly message: string
  readonly where?: string
}

/** The outcome of something that a person's input can make fail. */
export type Result<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly notices: readonly Notice[] }

export const ok = <T>(value: T): Result<T> => ({ ok: true, value })

/** A failed result with a single error. */
export function failed(code: string, message: string, where?: string): { ok: false; notices: readonly Notice[] } {
  return { ok: false, notices: [{ code, severity: 'error', message, ...(where === undefined ? {} : { where }) }] }
}
