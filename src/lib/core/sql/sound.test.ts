// What is let into a statement neither ends it nor swallows what follows: hostile texts, on every engine's rules and on
// PostgreSQL's own parser.
import fc from 'fast-check'
import { loadModule, parseSync } from 'libpg-query'
import { beforeAll, describe, expect, it } from 'vitest'
import { dialect, ENGINES, type Dialect } from '../dialects'
import { splitStatements, whyNotWhole } from '.'

const pieces = [
  ...['(', ')', '[', ']', ';', "'", '"', '`', "''", '\\', '--', '-- ', '#', '/*', '*/', '/*!', '$$', '$a$', 'E', "q'["],
  ...["]'", '\n', '\u0000', ' ', '1', 'a', '=', '+', ',', 'CASE WHEN', 'END', 'BEGIN', 'DROP TABLE victim', "'x'"]
]
const hostile = fc.array(fc.constantFrom(...pieces), { maxLength: 12 }).map((list) => list.join(''))
const lexisOf = (id: string) => (dialect(id) as Dialect).write.lexis

describe('a text that stands inside a statement', () => {
  beforeAll(() => loadModule())

  it.each(ENGINES.map(({ id }) => id))('leaves the statement one, where it is let in: %s', (id) => {
    let [whole, refused] = [0, 0]
    fc.assert(
      fc.property(hostile, (text) => {
        if (whyNotWhole(text, lexisOf(id)) !== undefined) return void refused++
        whole++
        expect(splitStatements(`SELECT (${text}) AS kept; SELECT 'after'`, lexisOf(id)).length, text).toBe(2)
      }),
      { numRuns: 2000 }
    )
    expect(Math.min(whole, refused)).toBeGreaterThan(100)
  })

  it('leaves it one to PostgreSQL’s own parser', () => {
    let parsed = 0
    fc.assert(
      fc.property(hostile, (text) => {
        if (whyNotWhole(text, lexisOf('postgres')) !== undefined) return
        let count: number | undefined
        try {
          count = parseSync(`SELECT (${text}) AS kept; SELECT 'after'`).stmts?.length
        } catch {
          return
        }
        parsed++
        expect(count, text).toBe(2)
      }),
      { numRuns: 4000 }
    )
    expect(parsed).toBeGreaterThan(10)
  })

  it('is told what is wrong with it, and where', () => {
    const told = (text: string, id = 'postgres') => whyNotWhole(text, lexisOf(id))
    expect(told('1=1)); DROP TABLE victim; --')).toBe('The ) at character 4 closes nothing.')
    expect(told('(a = 1')).toBe('The ( at character 1 is never closed.')
    expect(told("name = 'x")).toBe('What is quoted at character 8 has no end.')
    expect(told('a = 1 -- so')).toBe('The comment at character 7 would swallow what comes after it.')
    expect(told('a = 1 /* so')).toBe('The comment at character 7 has no end.')
    expect(told('a; b')).toBe('A semicolon stands at character 2: it would end the statement.')
    expect(told('a = 1 /*!50000 OR 1=1 */', 'mariadb')).toContain('carries out')
    for (const fine of ["name LIKE 'a;b%'", 'a = 1 /* so */', "code ~ E'\\\\d'", 'numeric(8,2)', 'x = $$;$$'])
      expect(told(fine), fine).toBeUndefined()
  })
})
