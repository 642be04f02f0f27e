// A large design: as many tables as wanted, each linked to two before it, in ten areas.
import { printDesign, type Design } from '../src/lib/core/design'
import { builder } from '../demo/build'

export function large(tables: number): Design {
  const b = builder('Large')
  for (let a = 0; a < 10; a++) b.area(`are_${a}`, `Area ${a}`, a % 6)
  for (let t = 0; t < tables; t++)
    b.entity(`are_${Math.floor((t / tables) * 10)}`, `Buoy ${t}`, 'a mark on the water', [
      ['name', 'text(80)', { required: true, unique: true }],
      ['kind', 'one of (lateral, cardinal, safe water)', { required: true, default: 'lateral' }],
      ['laid on', 'date', { default: 'now' }],
      ['depth', 'decimal(6,2)', { min: 0 }],
      ['lit', 'boolean', { required: true, default: 'no' }],
      ['remark', 'text', {}]
    ])
  for (let t = 1; t < tables; t++) {
    b.link(`Buoy ${t}`, `Buoy ${Math.floor(t / 3)}`)
    if (t % 5 < 2 && t > 10) b.link(`Buoy ${t}`, `Buoy ${t - 7}`, { parentRequired: false, role: 'neighbour' })
  }
  b.target('tgt_dev', 'dev')
  const design = b.design
  // Scripts only: the measurements are not of a database.
  return {
    ...design,
    targets: Object.fromEntries(Object.values(design.targets).map((t) => [t.id, { ...t, connection: 'none' as const }]))
  }
}

export const largeFile = (tables: number): string => printDesign(large(tables))
