// A text read again after something was typed is what reading all of it gives.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import { edits } from '../../../../tests/support/designs'
import { allAttributes, edit, type Design } from '../design'
import { printJot, readAgain, readJot, type JotState } from '.'

/** What somebody does to a text: at a place, so many characters go, and others come. */
const typing = fc.record({
  line: fc.nat(),
  how: fc.constantFrom('letter', 'rub out', 'words', 'new line', 'gone', 'moved', 'name', 'broken', 'field', 'opener'),
  n: fc.nat(30)
})
type Typing = typeof typing extends fc.Arbitrary<infer T> ? T : never

function typed(text: string, { line, how, n }: Typing): string {
  const lines = text.split('\n')
  const at = line % lines.length
  const own = lines[at] ?? ''
  const put = (...some: string[]) => [...lines.slice(0, at), ...some, ...lines.slice(at + 1)].join('\n')
  const column = own.length === 0 ? 0 : 2 + (n % Math.max(1, own.length - 2))
  switch (how) {
    case 'letter':
      return put(own.slice(0, column) + 'xyz'.charAt(n % 3) + own.slice(column))
    case 'rub out':
      return put(own.slice(0, column) + own.slice(column + 1))
    case 'words':
      return put(`${own} ${['required', 'unique', 'index', 'min 3', 'means what it is', 'default 5'][n % 6] ?? ''}`)
    case 'new line':
      return put(
        own,
        `  lamp ${n}: ${['', 'text(9)', 'integer required', 'Vessel', 'list of text'][n % 5] ?? ''}`,
        ...(n % 2 ? ['  berth code:'] : [])
      )
    case 'gone':
      return put()
    case 'moved': {
      const left = [...lines.slice(0, at), ...lines.slice(at + 1)]
      const to = (at + 7 * n) % left.length
      return [...left.slice(0, to), own, ...left.slice(to)].join('\n')
    }
    case 'name':
      return put(own.replace(/^( *)[^:]*:/, `$1light ${n}:`))
    case 'field':
      return put(own, `  marks ${n}: list of object`, '    code: text(5) required', '    seen at:')
    case 'opener':
      return put(...(n % 3 ? [`entity Buoy ${n}`, `  mark: text(${n + 1})`, own] : [`domain Sort ${n}: integer`, own]))
    default:
      return put(own, '  (')
  }
}

const ids = (design: Design): Set<string> =>
  new Set([
    ...Object.keys(design.entities),
    ...Object.keys(design.links),
    ...Object.values(design.entities).flatMap((entity) => allAttributes(entity).map(({ id }) => id))
  ])
/** Of things that were there before. */
const kept = (design: Design, base: Design) => [...ids(base)].filter((id) => ids(design).has(id)).sort()

describe('a text that is typed in', () => {
  it('is read as all of it is, block by block, whatever else is changed in between', () => {
    let [partly, all] = [0, 0]
    fc.assert(
      fc.property(fc.array(typing, { minLength: 1, maxLength: 8 }), edits, fc.nat(7), (steps, makes, when) => {
        let design: Design = harbour()
        let text = printJot(design)
        let state: JotState | undefined = readAgain(text, design, undefined)
        for (const [i, step] of steps.entries()) {
          text = typed(text, step)
          const whole = readJot(text, design, state?.gone)
          state = readAgain(text, design, state)
          const { read } = state
          expect(printJot(read.design)).toBe(printJot(whole.design))
          expect(kept(read.design, design)).toEqual(kept(whole.design, design))
          expect(read.text).toBe(whole.text)
          expect([...read.notices].sort(byPlace)).toEqual([...whole.notices].sort(byPlace))
          expect([...read.lines.values()].sort()).toEqual([...whole.lines.values()].sort())
          expect(printJot(edit(design, read.edit))).toBe(printJot(read.design))
          all += 1
          if (state.partly) partly += 1
          // The page has copies of what was read; now and then something else is changed there.
          design = structuredClone(read.design)
          text = read.text
          const make = i === when ? makes[0] : undefined
          if (make) design = edit(design, make(design))
        }
      }),
      { numRuns: 300 }
    )
    expect(partly / all).toBeGreaterThan(0.25)
  }, 300_000)
})

const byPlace = (a: { where?: string; message: string }, b: { where?: string; message: string }) =>
  `${a.where} ${a.message}` < `${b.where} ${b.message}` ? -1 : 1
