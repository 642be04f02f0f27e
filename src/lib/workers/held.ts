// A design on its way to a worker that has the one before: only what is other goes along.
import { COLLECTIONS, type CollectionName, type Design } from '../core/design'

type Some = { readonly put: readonly { readonly id: string }[]; readonly gone: readonly string[] }

/** A design, or what makes it of the one that was sent before. */
export type Sent = { readonly sent: 'whole'; readonly design: Design } | SentChange
interface SentChange {
  readonly sent: 'change'
  readonly head: Pick<Design, 'id' | 'name' | 'settings'>
  readonly collections: Partial<Record<CollectionName, Some>>
}

const names = Object.keys(COLLECTIONS) as CollectionName[]

/** What stays the same object here, stays the same object there. */
export class Sender {
  private last: Design | undefined

  pack(design: Design): Sent {
    const before = this.last
    this.last = design
    if (!before || before.id !== design.id) return { sent: 'whole', design }
    const { id, name, settings } = design
    const collections: Partial<Record<CollectionName, Some>> = {}
    for (const collection of names)
      if (before[collection] !== design[collection])
        collections[collection] = otherOf(before[collection], design[collection])
    return {
      sent: 'change',
      head: { id, name, settings },
      collections
    }
  }
}

function otherOf(
  before: Readonly<Record<string, { readonly id: string }>>,
  now: Readonly<Record<string, { readonly id: string }>>
): Some {
  const put = Object.values(now).filter((object) => before[object.id] !== object)
  const gone = Object.keys(before).filter((id) => !(id in now))
  return { put, gone }
}

export class Receiver {
  private held: Design | undefined

  unpack(sent: Sent): Design {
    if (sent.sent === 'whole') return (this.held = sent.design)
    const before = this.held
    if (!before) throw new Error('A worker was sent what is other than a design that it does not have.')
    const next: Record<string, unknown> = { ...before, ...this.head(before, sent.head) }
    for (const name of names) {
      const some = sent.collections[name]
      if (!some || (some.put.length === 0 && some.gone.length === 0)) continue
      const all: Record<string, unknown> = { ...before[name] }
      for (const id of some.gone) Reflect.deleteProperty(all, id)
      for (const object of some.put) all[object.id] = object
      next[name] = all
    }
    return (this.held = next as Design)
  }

  /** Settings that say the same are the same: much hangs on them. */
  private head(before: Design, head: SentChange['head']) {
    const same = JSON.stringify(before.settings) === JSON.stringify(head.settings)
    return same ? { ...head, settings: before.settings } : head
  }
}

const isDesign = (value: object): value is Design => 'entities' in value && 'links' in value && 'settings' in value
const isSent = (value: object): value is Sent => 'sent' in value

/** An argument of a call, with its design changed: it may be one, or have one. */
function withDesign<T>(
  value: unknown,
  isOne: (value: object) => value is T & object,
  change: (one: T) => unknown
): unknown {
  if (typeof value !== 'object' || value === null) return value
  if (isOne(value)) return change(value)
  const { design } = value as { design?: unknown }
  return typeof design === 'object' && design !== null && isOne(design) ? { ...value, design: change(design) } : value
}

export const packed = (value: unknown, sender: Sender): unknown =>
  withDesign(value, isDesign, (design) => sender.pack(design))

export const unpacked = (value: unknown, receiver: Receiver): unknown =>
  withDesign(value, isSent, (sent: Sent) => receiver.unpack(sent))
