// What a command ends with.
import { mkdir, writeFile } from 'node:fs/promises'
import { join } from 'node:path'
import type { Notice } from '../lib/core/notice'
import { CouldNot } from './could-not'

export interface Outcome {
  /** Writes the result. */
  readonly output: () => Promise<void>
  readonly notices: readonly Notice[]
  readonly code: 0 | 1 | 2
}

/** Writes a result to the file asked for, or to standard output. */
export const given =
  ({ output }: { readonly output?: string }, text: string | Uint8Array) =>
  async () => {
    if (output === undefined) process.stdout.write(text)
    else
      await writeFile(output, text).catch((error: unknown) => {
        throw new CouldNot(`${output} cannot be written: ${error instanceof Error ? error.message : String(error)}`)
      })
  }

/** Writes files into a folder, which is made where it is not there; or into one zip, where its name ends so. */
export const filesIn =
  (place: string, files: readonly { readonly name: string; readonly text: string }[]) => async () => {
    try {
      if (/\.zip$/i.test(place)) {
        const { zipSync, strToU8 } = await import('fflate')
        await writeFile(place, zipSync(Object.fromEntries(files.map(({ name, text }) => [name, strToU8(text)]))))
        return
      }
      await mkdir(place, { recursive: true })
      await Promise.all(files.map(({ name, text }) => writeFile(join(place, name), text)))
    } catch (error) {
      throw new CouldNot(`${place} cannot be written: ${error instanceof Error ? error.message : String(error)}`)
    }
  }

export const json = (value: unknown) => JSON.stringify(value, null, 2) + '\n'
