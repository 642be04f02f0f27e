import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { harbour } from '../../../demo/harbour'
import { edits } from '../../../tests/support/designs'
import { edit, type Design } from '../core/design'
import { packed, Receiver, Sender, unpacked } from './held'

describe('a design on its way to a worker', () => {
  it('is there what it is here, and what is the same object here is the same there', () => {
    fc.assert(
      fc.property(edits, (makes) => {
        const [sender, receiver] = [new Sender(), new Receiver()]
        const send = (design: Design) =>
          unpacked(structuredClone(packed({ design, more: 1 }, sender)), receiver) as { design: Design }
        let design: Design = harbour()
        let there = send(design).design
        for (const make of makes) {
          const next = edit(design, make(design))
          const arrived = send(next).design
          expect(arrived).toEqual(next)
          for (const id in next.entities)
            if (next.entities[id] === design.entities[id]) expect(arrived.entities[id]).toBe(there.entities[id])
          ;[design, there] = [next, arrived]
        }
        // Back, as undo goes.
        expect(send(harbour()).design).toEqual(harbour())
      }),
      { numRuns: 100 }
    )
  })
})
