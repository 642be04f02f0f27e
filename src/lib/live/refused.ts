// What stand-ins have in common: a refusal, and statements carried out one after the other.
import type { StatementOutcome } from './database'

/** What an engine would refuse, in its words and with its number: said by what answers in its place. */
export class Refused extends Error {
  override readonly name = 'Refused'
  constructor(
    message: string,
    readonly code: number
  ) {
    super(message)
  }
}

/** Carries statements out up to the first that is refused. */
export function oneByOne(
  statements: readonly string[],
  carryOut: (statement: string) => { readonly affected: number }
): StatementOutcome[] {
  const outcomes: StatementOutcome[] = []
  for (const statement of statements) {
    const start = performance.now()
    try {
      const { affected } = carryOut(statement)
      outcomes.push({ ok: true, time: performance.now() - start, affected })
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error)
      const code = error instanceof Refused ? { code: String(error.code) } : {}
      outcomes.push({ ok: false, time: performance.now() - start, affected: 0, error: { message, ...code } })
      break
    }
  }
  return outcomes
}
