// The text with new names in the lines that have the old ones.
import type { Design, Entity } from '../design'
import { isGuessOf } from './guessed-link'
import { escaped, nameAmong, nameBefore } from './names'
import { outside } from './pieces'
import { columnNames, rowNames } from './print'
import { type Reading, type Draft } from './reading'

/** What lists and conditions of an entity call its lines and its columns. */
const spokenNames = (design: Design, entity: Entity): Map<string, string> =>
  new Map([...columnNames(design, entity), ...rowNames(design, entity)])

/** What has got another name has it in all lines that speak of it. */
export function withNewNames(reading: Reading, drafts: readonly Draft[], design: Design): string {
  const names = new Map(drafts.map(({ entity }) => [entity.id, entity.name]))
  const fixes: { line: number; from: string; to: string }[] = []
  /** Lines that are called by what has another name now say what they lead to. */
  const guesses: { line: number; head: string; now: string }[] = []
  for (const { block, entity, links, clauses, rows } of drafts) {
    const was = reading.base.entities[entity.id]
    for (const { id, parent } of links) {
      const [old, now] = [reading.base.entities[parent]?.name, names.get(parent)]
      const line = reading.lines.get(id)
      if (old !== undefined && now !== undefined && old !== now && line)
        fixes.push({ line, from: old, to: nameAmong(now) })
    }
    const heads = new Map(rows.flatMap((row) => ('called' in row ? [[row.id, row.called ?? ''] as const] : [])))
    for (const { id, parent } of heads.size > 0 ? links : []) {
      const [head, to] = [heads.get(id), design.entities[parent]]
      if (head !== undefined && to && !isGuessOf(design, head, to))
        guesses.push({
          line: reading.lines.get(id) ?? 0,
          head,
          now: `${nameBefore(to.name.toLowerCase())}: ${nameAmong(to.name)}`
        })
    }
    const supertype = block.kindOf && reading.before.get(block.kindOf.supertype.toLowerCase())
    if (supertype && block.kindOf)
      fixes.push({ line: block.line.number, from: block.kindOf.supertype, to: nameAmong(supertype.name) })
    const worked = rows.flatMap((row) => (row.says.computed === undefined ? [] : (reading.lines.get(row.id) ?? [])))
    const speaking = [...clauses.map((clause) => clause.number), ...worked]
    const own = design.entities[entity.id]
    if (!was || !own || speaking.length === 0) continue
    const now = spokenNames(design, own)
    const taken = new Set([...now.values()].map((name) => name.toLowerCase()))
    for (const [id, old] of spokenNames(reading.base, was)) {
      const name = now.get(id)
      if (name === undefined || old === name || taken.has(old.toLowerCase())) continue
      for (const line of speaking) fixes.push({ line, from: old, to: nameBefore(name) })
    }
  }
  if (fixes.length + guesses.length === 0) return reading.text
  const rows = reading.text.split('\n')
  for (const { line, head, now } of guesses)
    rows[line - 1] = (rows[line - 1] ?? '').replace(
      new RegExp(`^(\\s*)"?${escaped(head)}"?(\\s*:)?`, 'i'),
      (_, indent: string) => indent + now
    )
  for (const { line, from, to } of fixes) {
    const row = rows[line - 1] ?? ''
    // Not what stands before a colon, nor what something means.
    const start = Math.max(0, outside(row, ':'))
    const end = /\smeans\s/.exec(row)?.index ?? row.length
    const word = new RegExp(`"${escaped(from)}"|(?<![\\p{L}\\p{N}_])${escaped(from)}(?![\\p{L}\\p{N}_])`, 'giu')
    rows[line - 1] = row.slice(0, start) + row.slice(start, end).replace(word, () => to) + row.slice(end)
  }
  return rows.join('\n')
}
