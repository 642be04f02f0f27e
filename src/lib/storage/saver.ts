// Saves of one open design, one at a time: each begins on what the one before it has stored, however long that took.
import type { Design } from '../core/design'
import { saveDesign } from './designs'

/** `elsewhere`: somebody else has saved since; `removed`: the design is gone. */
export type Saved = 'saved' | 'unchanged' | 'elsewhere' | 'removed'

export class Saver {
  private last: Promise<unknown> = Promise.resolve()

  /** `stored` is what was saved last, as `revision`. */
  constructor(
    public stored: Design,
    public revision: number,
    private whole = false
  ) {}

  /** Of a design of which nothing is stored any more. */
  static anew = (design: Design): Saver => new Saver(design, 0, true)

  /** Stores what `latest` gives when its turn comes. Rejects when it cannot. */
  save(latest: () => Design): Promise<Saved> {
    const saved = this.last.then(async () => {
      const design = latest()
      if (design === this.stored && !this.whole) return 'unchanged' as const
      const revision = await saveDesign(design, this.whole ? undefined : this.stored, this.revision)
      if (typeof revision === 'string') return revision
      this.whole = false
      this.revision = revision
      this.stored = design
      return 'saved' as const
    })
    this.last = saved.catch(() => undefined)
    return saved
  }
}
