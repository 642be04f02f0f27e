// The text with new names in the lines that have the old ones.
import { escaped, nameAmong, nameBefore } from './names'
import { outside } from './pieces'
import { type Reading, type Draft } from './reading'

/** What has got another name has it in all lines that speak of it. */
export function withNewNames(reading: Reading, drafts: readonly Draft[]): string {
  const names = new Map(drafts.map(({ entity }) => [entity.id, entity.name]))
  const fixes: { line: number; from: string; to: string }[] = []
  for (const { block, entity, links, clauses, rows } of drafts) {
    const was = reading.base.entities[entity.id]
    for (const { id, parent } of links) {
      const [old, now] = [reading.base.entities[parent]?.name, names.get(parent)]
      const line = reading.lines.get(id)
      if (old !== undefined && now !== undefined && old !== now && line)
        fixes.push({ line, from: old, to: nameAmong(now) })
    }
    const supertype = block.kindOf && reading.before.get(block.kindOf.supertype.toLowerCase())
    if (supertype && block.kindOf)
      fixes.push({ line: block.line.number, from: block.kindOf.supertype, to: nameAmong(supertype.name) })
    for (const { id, name } of entity.attributes) {
      const old = was?.attributes.find((one) => one.id === id)?.name
      if (old === undefined || old === name || entity.attributes.some((one) => one.name === old)) continue
      const worked = rows.flatMap((row) => (row.says.computed === undefined ? [] : (reading.lines.get(row.id) ?? [])))
      for (const number of [...clauses.map((clause) => clause.number), ...worked])
        fixes.push({ line: number, from: old, to: nameBefore(name) })
    }
  }
  if (fixes.length === 0) return reading.text
  const rows = reading.text.split('\n')
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
