// Saves of one open design, one at a time: each begins on what the one before it has stored, however long that took.
import type { Design } from '../core/design'
import { saveDesign } from './designs'

export class Saver {
  private last: Promise<unknown> = Promise.resolve()

  /** `stored` is what was saved last, as `revision`. */
  constructor(
    public stored: Design,
    public revision: number
  ) {}

  /** Stores what `latest` gives when its turn comes; `elsewhere` when somebody else has saved since. Rejects when it cannot. */
  save(latest: () => Design): Promise<'saved' | 'unchanged' | 'elsewhere'> {
    const saved = this.last.then(async () => {
      const design = latest()
      if (design === this.stored) return 'unchanged' as const
      const revision = await saveDesign(design, this.stored, this.revision)
      if (revision === undefined) return 'elsewhere' as const
      this.revision = revision
      this.stored = design
      return 'saved' as const
    })
    this.last = saved.catch(() => undefined)
    return saved
  }
}
