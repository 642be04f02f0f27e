// A catalogue made a design of, kept in a file, and derived from that.
import { expect } from 'vitest'
import { adopt } from '../../src/lib/core/adopt'
import type { Catalog, Change } from '../../src/lib/core/catalog'
import { derive, readDesign } from '../../src/lib/core/derive'
import { printDesign } from '../../src/lib/core/design'
import type { Dialect } from '../../src/lib/core/dialects'

/** `also`: what the design says beside; the target does without. */
export function throughDesign(catalog: Catalog, dialect: Dialect, also: readonly Change[] = []): Catalog {
  const { design, target, left } = adopt(catalog, dialect, { name: 'Tidewell', target: 'quay', also })
  expect(left).toEqual([])
  const file = readDesign(printDesign(design))
  if (!file.ok) throw new Error(file.notices.map((notice) => notice.message).join())
  const { catalog: wanted, notices } = derive(file.value, file.value.targets[target.id] ?? target, dialect)
  expect(notices.filter(({ severity }) => severity === 'error')).toEqual([])
  return wanted
}
