// Several tabs on one design: one holds the pen and writes, the others follow what it saves, and any of them may ask for
// the pen. It is a lock of the browser, so that it is free again when a tab goes away.

interface Message {
  readonly kind: 'saved' | 'give it to me'
}

interface Holder {
  /** Somebody else has saved, or removed it: look again. */
  readonly onsaved: () => void
  /** Somebody else wants to write: keep what there is first. */
  readonly ongive: () => Promise<void>
  /** The pen is here: begin from what was saved last. */
  readonly ontake: () => Promise<void>
}

const nameOf = (design: string) => `ramblet design ${design}`

/** Tells whoever has a design open that it is gone. */
export function tellRemoved(design: string) {
  const channel = new BroadcastChannel(nameOf(design))
  channel.postMessage({ kind: 'saved' } satisfies Message)
  channel.close()
}

/** Whether a tab has a design open. */
export async function isOpen(design: string): Promise<boolean> {
  const { held = [] } = await navigator.locks.query()
  return held.some(({ name }) => name === nameOf(design))
}

export class Pen {
  here = $state(true)
  private readonly name: string
  private readonly channel: BroadcastChannel
  private release: (() => void) | undefined
  private closed = false

  constructor(
    design: string,
    private readonly holder: Holder
  ) {
    this.name = nameOf(design)
    this.channel = new BroadcastChannel(this.name)
    this.channel.onmessage = (event: MessageEvent<Message>) => void this.hear(event.data)
    void this.claim()
  }

  /** Takes the pen if it lies there, else waits for it. */
  private async claim() {
    const got = await new Promise<boolean>((resolve) => {
      void navigator.locks.request(this.name, { ifAvailable: true }, (lock) => {
        resolve(lock !== null)
        return lock === null ? undefined : this.hold()
      })
    })
    this.here = got
    if (!got) this.wait()
  }

  private wait() {
    void navigator.locks.request(this.name, async () => {
      if (this.closed) return
      await this.holder.ontake()
      this.here = true
      await this.hold()
    })
  }

  private hold = () => new Promise<void>((resolve) => (this.release = resolve))

  private async hear({ kind }: Message) {
    if (kind === 'saved') this.holder.onsaved()
    else if (this.here && this.release) {
      await this.holder.ongive()
      this.here = false
      this.release()
      this.release = undefined
      this.wait()
    }
  }

  /** Asks whoever writes to stop; the pen comes when they have saved. */
  take() {
    this.channel.postMessage({ kind: 'give it to me' } satisfies Message)
  }
  /** Tells the others that there is something new to see. */
  saved() {
    this.channel.postMessage({ kind: 'saved' } satisfies Message)
  }
  close() {
    this.closed = true
    this.release?.()
    this.channel.close()
  }
}
