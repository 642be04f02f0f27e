// Comparisons of one target overlap: an edit's own, begun before, may end after what was read of newer files.
import { begin } from '../../core/design'
import { expect, it, vi } from 'vitest'
import { harbour } from '../../../../demo/harbour'
import type { Catalog } from '../../core/catalog'
import type { Compared, Sides } from '../../workers'
import { GivenUp } from '../../workers'
import { Desk } from './desk.svelte'

const asked: { live: Catalog; answer: (compared: Compared) => void; giveUp: () => void }[] = []
const files = new Map<string, Catalog>()

vi.mock('../../workers', () => ({
  GivenUp: class extends Error {},
  compareNewest: ({ live }: Sides) =>
    new Promise<Compared>((answer, no) => asked.push({ live, answer, giveUp: () => no(new GivenUp('')) })),
  agreeApart: () => Promise.resolve({ tables: [] }),
  coreWorker: () => ({
    review: () => Promise.resolve({ findings: [], silenced: [] })
  })
}))
vi.mock('../bring/files', () => ({
  namesOf: ([file]: File[]) => file?.name,
  readFiles: ([file]: File[]) => Promise.resolve({ catalog: files.get(file?.name ?? ''), statements: [] })
}))
vi.mock('../../storage', () => ({
  loadAgreed: () => Promise.resolve(undefined),
  saveAgreed: () => Promise.resolve(),
  targetKey: (design: string, target: string) => `${design}/${target}`
}))
vi.mock('./keeper.svelte', () => ({ Keeper: class { left() {} soon() {} } })) // prettier-ignore
vi.mock('./pen.svelte', () => ({ Pen: class { here = true } })) // prettier-ignore

const compared = { differences: [], notices: [] } as unknown as Compared
const settled = () => new Promise((resolve) => setTimeout(resolve))

it.each([
  ['the newest one ends last', (_count: number, at: number) => at],
  ['the newest one ends first', (count: number, at: number) => count - 1 - at]
])('what was read last is what is shown, where %s', async (_, turn) => {
  const demo = harbour()
  const [id = ''] = Object.keys(demo.targets)
  const design = { ...demo, targets: Object.fromEntries(Object.entries(demo.targets).slice(0, 1)) }
  for (const name of ['older.sql', 'newer.sql']) files.set(name, { tables: [], name } as unknown as Catalog)
  const desk = new Desk(begin(design), 1)
  const compare = async (name: string) => {
    void desk.compareWithFiles(id, [new File([], name)])
    await settled()
  }
  const answerAll = async () => {
    const open = asked.splice(0)
    for (const at of open.keys()) {
      open[turn(open.length, at)]?.answer(compared)
      await settled()
    }
  }
  await compare('older.sql')
  await answerAll()
  expect(desk.status.get(id)).toMatchObject({ live: files.get('older.sql'), files: 'older.sql' })

  // An edit has the older one compared again; the newer is read while that goes on.
  vi.useFakeTimers({ toFake: ['setTimeout'] })
  desk.edit({ kind: 'design.set', set: { name: 'Harbour' } })
  await vi.advanceTimersByTimeAsync(1000)
  vi.useRealTimers()
  await settled()
  await compare('newer.sql')
  // The edit's comparison goes on with what is known now, not with what was known when it began.
  await answerAll()
  await answerAll()
  expect(desk.status.get(id)).toMatchObject({ live: files.get('newer.sql'), files: 'newer.sql', design: desk.design })
})

it('a comparison that was given up for another target’s is begun again', async () => {
  const demo = harbour()
  const [id = ''] = Object.keys(demo.targets)
  files.set('some.sql', { tables: [] } as unknown as Catalog)
  const desk = new Desk(begin(demo), 1)
  void desk.compareWithFiles(id, [new File([], 'some.sql')])
  await settled()
  asked.splice(0)[0]?.giveUp()
  await settled()
  asked.splice(0)[0]?.answer(compared)
  await settled()
  expect(desk.status.get(id)).toMatchObject({ state: 'looked', design: desk.design })
})
