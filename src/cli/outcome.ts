// What a command ends with.
import { writeFile } from 'node:fs/promises'
import type { Notice } from '../lib/core/notice'
import { CouldNot } from './could-not'

export interface Outcome {
  /** Writes the result. */
  readonly output: () => Promise<void>
  readonly notices: readonly Notice[]
  readonly code: 0 | 1 | 2
}

/** Writes a text to the file asked for, or to standard output. */
export const given =
  ({ output }: { readonly output?: string }, text: string) =>
  async () => {
    if (output === undefined) process.stdout.write(text)
    else
      await writeFile(output, text).catch((error: unknown) => {
        throw new CouldNot(`${output} cannot be written: ${error instanceof Error ? error.message : String(error)}`)
      })
  }

export const json = (value: unknown) => JSON.stringify(value, null, 2) + '\n'
