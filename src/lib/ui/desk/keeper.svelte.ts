// Keeping an open design in the browser: after a pause, at once when the page goes, and what there is to say when it cannot.
import { printDesign, type Design } from '../../core/design'
import { readDesign } from '../../core/derive'
import { forgetUnsaved, keepUnsaved, loadDesign, Saver, storageError, unsavedOf } from '../../storage'

const SAVE_PAUSE = 250

/** `elsewhere`: another tab has saved since; `removed`: another tab has taken it off the shelf. */
export type Keeping = 'saved' | 'saving' | 'elsewhere' | 'removed' | 'failed'

export class Keeper {
  state = $state<Keeping>('saved')
  /** Why it failed, and what to do. */
  trouble = $state('')
  /** What was typed before, not kept, and has been overtaken by another save since. */
  overtaken = $state.raw<Design | undefined>(undefined)
  private saver: Saver
  private timer: ReturnType<typeof setTimeout> | undefined
  /** What is written down as unsaved is of this page: once it is saved, it is forgotten. */
  private owns = false

  constructor(
    stored: Design,
    revision: number,
    private readonly latest: () => Design,
    private readonly onsaved: (stored: Design, revision: number) => void
  ) {
    this.saver = new Saver(stored, revision)
  }

  /** What the last page typed and had no time to keep; nothing when it did keep it. */
  left(): Design | undefined {
    const { stored, revision } = this.saver
    const left = unsavedOf(stored, revision)
    const read = left && readDesign(printDesign(left.design))
    if (!left || !read?.ok || printDesign(read.value) === printDesign(stored)) {
      forgetUnsaved(stored.id)
      return undefined
    }
    this.owns = !left.since
    if (!left.since) return read.value
    this.overtaken = read.value
    return undefined
  }

  /** Something has changed: it is saved after a pause. */
  soon() {
    this.state = 'saving'
    clearTimeout(this.timer)
    this.timer = setTimeout(() => void this.now(), SAVE_PAUSE)
  }

  /** Saves at once; quiet when there is nothing to save. */
  async now() {
    clearTimeout(this.timer)
    try {
      const how = await this.saver.save(this.latest)
      if (how === 'elsewhere' || how === 'removed') this.state = how
      else if (this.saver.stored === this.latest()) {
        this.state = 'saved'
        if (this.owns) forgetUnsaved(this.saver.stored.id)
        this.owns = false
      }
      if (how === 'saved') this.onsaved(this.saver.stored, this.saver.revision)
    } catch (error) {
      this.state = 'failed'
      this.trouble = storageError(error).message
    }
  }

  /** The page goes: what a save may have no time for is written down at once. */
  leave() {
    if (this.state !== 'saved' && this.state !== 'removed') {
      keepUnsaved(this.latest(), this.saver.stored, this.saver.revision)
      this.owns = true
    }
    void this.now()
  }

  /** What another tab has saved; nothing when there is nothing new, or when what is here is not kept yet. */
  async news(): Promise<Design | undefined> {
    if (this.latest() !== this.saver.stored) return undefined
    const loaded = await loadDesign(this.saver.stored.id)
    if (!loaded) this.state = 'removed'
    if (!loaded?.design.ok || loaded.revision === this.saver.revision) return undefined
    this.saver = new Saver(loaded.design.value, loaded.revision)
    return loaded.design.value
  }

  /** A design that was removed stands on the shelf again, whole. */
  async putBack() {
    this.saver = Saver.anew(this.latest())
    await this.now()
  }

  /** What was overtaken takes its place here, and is to be saved. */
  takeOvertaken() {
    this.owns ||= this.overtaken !== undefined
    this.overtaken = undefined
  }

  /** What was overtaken is not wanted. */
  letGo() {
    this.overtaken = undefined
    forgetUnsaved(this.saver.stored.id)
  }
}
