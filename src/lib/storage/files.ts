// Files that a person saves and opens.
import { csvFormatRow } from 'd3-dsv'

/** Offers a text for saving under a name. */
export const saveFile = (name: string, text: string, type = 'application/json') =>
  saveBlob(name, new Blob([text], { type }))

/** Several files as one. */
export async function saveZip(name: string, files: readonly { readonly name: string; readonly text: string }[]) {
  const { zipSync, strToU8 } = await import('fflate')
  const zip = zipSync(Object.fromEntries(files.map((file) => [file.name, strToU8(file.text)])))
  saveBlob(name, new Blob([new Uint8Array(zip)], { type: 'application/zip' }))
}

/** The same for what is too large for one text. */
export function saveBlob(name: string, blob: Blob) {
  const url = URL.createObjectURL(blob)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}

interface SavePicker {
  showSaveFilePicker?(options: { suggestedName: string }): Promise<{
    createWritable(): Promise<{ write(blob: Blob): Promise<void>; close(): Promise<void> }>
  }>
}

/** Whether this browser asks where a file is to be saved: "File System Access", not in all of them. */
export const canAsk = typeof window !== 'undefined' && 'showSaveFilePicker' in window

/** Asks for a place, and gives what writes there; nothing when no place is chosen. */
export async function askedPlace(name: string): Promise<((blob: Blob) => Promise<void>) | undefined> {
  try {
    const handle = await (window as SavePicker).showSaveFilePicker?.({ suggestedName: name })
    if (!handle) return undefined
    return async (blob) => {
      const file = await handle.createWritable()
      await file.write(blob)
      await file.close()
    }
  } catch (error) {
    if (error instanceof DOMException && error.name === 'AbortError') return undefined
    throw error
  }
}

/** Lets a person choose a file; nothing when they do not. */
export const openFile = async (accept: string): Promise<File | undefined> => (await choose(accept, false))[0]

/** The same for as many as they want. */
export const openFiles = (accept: string): Promise<File[]> => choose(accept, true)

function choose(accept: string, multiple: boolean): Promise<File[]> {
  return new Promise((resolve) => {
    const input = document.createElement('input')
    input.type = 'file'
    input.accept = accept
    input.multiple = multiple
    input.addEventListener('change', () => resolve([...(input.files ?? [])]))
    input.addEventListener('cancel', () => resolve([]))
    input.click()
  })
}

/** Whether a file is an SQLite database: "Database File Format", 1.3. */
export async function isSqliteFile(file: Blob): Promise<boolean> {
  return (await file.slice(0, 16).text()) === 'SQLite format 3\0'
}

/** Rows as lines of comma-separated values (RFC 4180); nothing stands where there is no value. */
export const csvLines = (rows: readonly (readonly unknown[])[]): string[] =>
  rows.map(
    (row) => `${csvFormatRow(row.map((value) => (value === null || value === undefined ? '' : String(value))))}\r\n`
  )
