// A line between a driver and its server that can be cut at any message.
import { connect, createServer, type AddressInfo, type Socket } from 'node:net'

export interface Proxy {
  readonly port: number
  /** Messages that have passed since the last `cutAfter`, either way. */
  readonly passed: number
  /** Cuts all lines in place of the message after so many more; new lines are let through again. */
  cutAfter(messages: number): void
  stop(): Promise<void>
}

/** What one side sends at once counts as a message: each is passed on whole, or not at all. */
export async function startProxy(to: number): Promise<Proxy> {
  let [passed, left] = [0, Infinity]
  const lines = new Set<Socket>()
  const cut = () => {
    left = Infinity
    for (const socket of lines) socket.destroy()
    lines.clear()
  }
  const server = createServer((near) => {
    const far = connect(to, '127.0.0.1')
    for (const [from, onto] of [
      [near, far],
      [far, near]
    ] as const) {
      lines.add(from)
      from.setNoDelay(true)
      from.on('error', () => undefined)
      from.on('close', () => (lines.delete(from), onto.destroy()))
      from.on('data', (data) => {
        if (left-- <= 0) return cut()
        passed++
        onto.write(data)
      })
    }
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return {
    port: (server.address() as AddressInfo).port,
    get passed() {
      return passed
    },
    cutAfter: (messages) => {
      passed = 0
      left = messages
    },
    stop: () => {
      cut()
      return new Promise((resolve) => server.close(() => resolve()))
    }
  }
}
