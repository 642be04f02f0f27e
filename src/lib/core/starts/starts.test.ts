// Each pattern is a design that every engine takes, and that a review has nothing grave to say of.
import { expect, it } from 'vitest'
import { derive } from '../derive'
import { newTarget } from '../design'
import { dialect, ENGINES } from '../dialects'
import { review } from '../review'
import { PATTERNS, startFrom } from '.'

it.each(PATTERNS.map((pattern) => [pattern.name, pattern] as const))('%s', async (_, pattern) => {
  const design = startFrom(pattern)
  expect(Object.values(design.entities).map(({ name }) => name)).toEqual(Object.keys(pattern.entities))
  expect(Object.keys(design.links).length).toBeGreaterThan(1)
  for (const { id, versions } of ENGINES) {
    const target = newTarget('any', { engine: id, version: versions.at(-1) ?? '' })
    const engine = dialect(id, target.version)
    if (!engine) throw new Error(id)
    const { catalog, notices } = derive(design, target, engine)
    expect(notices.filter(({ severity }) => severity === 'error')).toEqual([])
    expect(catalog.tables.length).toBeGreaterThanOrEqual(Object.keys(pattern.entities).length)
  }
  const { findings } = await review(design, newTarget('any'))
  expect(findings.filter(({ grade }) => grade !== 'info').map(({ message }) => message)).toEqual([])
})

it('two designs of one pattern have nothing in common', () => {
  const [pattern] = PATTERNS
  if (!pattern) throw new Error('There are patterns')
  const [one, two] = [startFrom(pattern), startFrom(pattern)]
  expect(Object.keys(one.entities).some((id) => id in two.entities)).toBe(false)
})
