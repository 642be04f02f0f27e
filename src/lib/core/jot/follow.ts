// A text that follows a design which was changed elsewhere: only the blocks concerned are written anew; remarks, blank lines and the
// order of the rest stay.
import type { Design, Edit } from '../design'
import { linesOf, type Line } from './lines'
import { printEntity, printJot } from './print'
import { printView } from './views'
import { readJot } from './read'
import { remarksOf, withRemarks, type Remarks } from './remarks'

/** The text after it has been made to say the design; the same text where it says it already. */
export function followJot(text: string, design: Design): string {
  if (text.trim() === '') return printJot(design)
  const read = readJot(text, design)
  const edits = flat(read.edit)
  if (edits.length === 0) return text
  const stale = new Set<string>()
  const missing: string[] = []
  for (const edit of edits) {
    // What is said once for all stands in many places: then all of it is written.
    if (edit.kind !== 'object.set' && edit.kind !== 'object.remove') return printJot(design)
    const { collection } = edit
    const id = edit.kind === 'object.set' ? edit.object.id : edit.id
    if (collection === 'entities') {
      if (edit.kind === 'object.remove') missing.push(id)
      else stale.add(id)
    } else if (collection === 'views') {
      if (edit.kind === 'object.remove') missing.push(id)
      else stale.add(id)
    } else if (collection === 'links') {
      for (const one of [design.links[id], read.design.links[id]]) if (one) stale.add(one.child)
    } else return printJot(design)
  }
  const rows = text.split('\n')
  const blocks = new Map(linesOf(text).map((line) => [line.number, line]))
  const found = [...stale].flatMap((id) => {
    const block = blocks.get(read.lines.get(id) ?? 0)
    return block ? [{ id, from: block.number - 1, to: lastOf(block) }] : []
  })
  const remarks = new Map<string, Remarks>()
  const owners = new Map([...read.lines].map(([id, number]) => [number, id]))
  // From the end on, so that lines keep their numbers.
  for (const { id, from, to } of found.sort((a, b) => b.from - a.from)) {
    const now = printed(design, id)
    remarks.set(
      id,
      remarksOf(rows.slice(from, to), (row) => owners.get(from + row + 1))
    )
    if (now !== undefined) rows.splice(from, to - from, ...now.split('\n'))
    // What is not in the design is gone, with one of the blank lines around it.
    else rows.splice(from, to - from + (rows[to]?.trim() === '' ? 1 : 0))
  }
  const added = missing.flatMap((id) => {
    const object = design.entities[id] ?? design.views[id]
    const now = printed(design, id)
    return now !== undefined && object?.area === undefined && object?.namespace === undefined ? [now] : []
  })
  const plain = withHead(rows.join('\n'), added)
  const next = remarked(plain, design, remarks)
  const again = readJot(next, design)
  // A mistake that was there before may stay: it is for the person who made it.
  return flat(again.edit).length === 0 && again.notices.length <= read.notices.length ? next : printJot(design)
}

/** The text with the remarks of the blocks that were written anew. */
function remarked(text: string, design: Design, remarks: ReadonlyMap<string, Remarks>): string {
  const kept = [...remarks].filter(([, { over, behind }]) => over.length > 0 || behind.size > 0)
  if (kept.length === 0) return text
  const { lines } = readJot(text, design)
  const owners = new Map([...lines].map(([id, number]) => [number, id]))
  const blocks = new Map(linesOf(text).map((line) => [line.number, line]))
  const rows = text.split('\n')
  const places = kept.flatMap(([id, own]) => {
    const block = blocks.get(lines.get(id) ?? 0)
    return block ? [{ own, from: block.number - 1, to: lastOf(block) }] : []
  })
  for (const { own, from, to } of places.sort((a, b) => b.from - a.from)) {
    const block = rows.slice(from, to)
    rows.splice(from, to - from, ...withRemarks(block, (row) => owners.get(from + row + 1), own))
  }
  return rows.join('\n')
}

function printed(design: Design, id: string): string | undefined {
  const [entity, view] = [design.entities[id], design.views[id]]
  return entity ? printEntity(design, entity) : view && printView(design, view)
}

/** New entities stand before the first area: what comes after it would be in that. */
function withHead(text: string, added: readonly string[]): string {
  if (added.length === 0) return text
  const area = linesOf(text).find((line) => /^(area|namespace)\s/i.test(line.text))
  const block = added.join('\n\n')
  return area ? `${text.slice(0, area.at)}${block}\n\n${text.slice(area.at)}` : `${text.trimEnd()}\n\n${block}\n`
}

const lastOf = (line: Line): number => {
  const last = line.inside.at(-1)
  return last ? lastOf(last) : line.number
}

const flat = (edit: Edit): Exclude<Edit, { kind: 'all' }>[] => (edit.kind === 'all' ? edit.edits.flatMap(flat) : [edit])
