// What is saved has the colours that are seen: those of the themes, as the style sheet says them.
import { readFileSync } from 'node:fs'
import { expect, it } from 'vitest'
import { DAYLIGHT, LAMPLIGHT } from './palette'

const css = readFileSync(new URL('../../../app.css', import.meta.url), 'utf8')

/** The custom properties of a theme, from both of its places. */
function coloursOf(theme: string): (name: string) => string | undefined {
  const parts = [
    new RegExp(`name: '${theme}';([^}]*)}`).exec(css)?.[1] ?? '',
    new RegExp(`\\[data-theme='${theme}'\\] {([^}]*)}`).exec(css)?.[1] ?? ''
  ]
  const said = new Map(
    [...parts.join('').matchAll(/(--[\w-]+): (#[0-9a-f]+);/g)].map(([, name, value]) => [name, value])
  )
  return (name) => said.get(name)
}

it.each([
  ['daylight', DAYLIGHT],
  ['lamplight', LAMPLIGHT]
] as const)('%s', (theme, { inks, edges, areas }) => {
  const of = coloursOf(theme)
  expect(inks).toEqual({
    ink: of('--color-base-content'),
    soft: of('--soft'),
    line: of('--line'),
    sheet: of('--color-base-100'),
    ground: of('--color-base-200'),
    key: of('--key-tint'),
    sea: of('--color-primary')
  })
  expect(edges).toEqual([0, 1, 2, 3, 4, 5].map((tint) => of(`--edge-${tint}`)))
  expect(areas).toEqual([0, 1, 2, 3, 4, 5].map((tint) => of(`--area-${tint}`)))
})
