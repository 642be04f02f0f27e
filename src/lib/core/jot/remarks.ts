// Remarks of a block that is written anew: each stays with the line that it stood over, or behind.
import { withoutRemark } from './lines'

export interface Remarks {
  /** Whole lines, over the line of an object; at the end of the block where it is none. */
  readonly over: readonly { readonly id: string | undefined; readonly lines: readonly string[] }[]
  /** Behind what a line says. */
  readonly behind: ReadonlyMap<string, string>
}

/** `rows` are those of the block, from its first line on; `idAt` tells whose line one is, counted the same way. */
export function remarksOf(rows: readonly string[], idAt: (row: number) => string | undefined): Remarks {
  const over: { id: string | undefined; lines: string[] }[] = []
  const behind = new Map<string, string>()
  let open: string[] = []
  rows.forEach((row, i) => {
    const own = row.trim()
    if (i > 0 && own.startsWith('#')) return void open.push(row)
    const id = idAt(i)
    const said = withoutRemark(own)
    if (id !== undefined && said.length < own.length) behind.set(id, own.slice(said.length).trim())
    // What stands over a line of no object stays over the next one that is of any.
    if (id !== undefined && open.length > 0) {
      over.push({ id, lines: open })
      open = []
    }
  })
  if (open.length > 0) over.push({ id: undefined, lines: open })
  return { over, behind }
}

/** The rows of a block with its remarks; those over what is gone stand at its end. */
export function withRemarks(
  rows: readonly string[],
  idAt: (row: number) => string | undefined,
  { over, behind }: Remarks
): string[] {
  const ids = rows.map((_, i) => idAt(i))
  const known = new Set(ids)
  const result = rows.flatMap((row, i) => {
    const id = ids[i]
    if (id === undefined) return [row]
    const lines = over.flatMap((one) => (one.id === id ? one.lines : []))
    const remark = behind.get(id)
    return [...lines, remark === undefined ? row : `${row}   ${remark}`]
  })
  return [...result, ...over.flatMap(({ id, lines }) => (id === undefined || !known.has(id) ? lines : []))]
}
