// What a design leaves unsaid is said by edits that every target follows.
import { describe, expect, it } from 'vitest'
import { adopt } from '../adopt'
import { derive } from '../derive'
import { edit, type Design } from '../design'
import { dialect, type Dialect } from '../dialects'
import { accepted, suggestions } from '../infer'
import { said, unsaidIn } from '.'

const postgres = dialect('postgres') as Dialect
const SCRIPT = `CREATE TABLE vessel (imo integer PRIMARY KEY, name varchar(80) NOT NULL, remark varchar(200));
CREATE TABLE berth (code varchar(8) NOT NULL UNIQUE, remark varchar(200));
CREATE TABLE visit (id serial PRIMARY KEY, vessel_imo integer NOT NULL, remark varchar(200))`

function brought(): { design: Design; target: string } {
  const catalog = postgres.readScript?.(SCRIPT).catalog
  if (!catalog) throw new Error('Scripts are read')
  const { design, target } = adopt(catalog, postgres, { name: 'Tidewell', target: 'quay' })
  return { design, target: target.id }
}

describe.each(['in the names of its target', 'without a target'])('%s', (where) => {
  it('nothing is unsaid that was accepted when it was brought in, though the target does without it', () => {
    const catalog = postgres.readScript?.(SCRIPT).catalog
    if (!catalog) throw new Error('Scripts are read')
    const links = suggestions(catalog, postgres).filter(({ kind }) => kind === 'link')
    const { design, target } = adopt(catalog, postgres, { name: 'Tidewell', target: 'quay', ...accepted(links) })
    const at = where === 'without a target' ? undefined : target.id
    expect(unsaidIn(at === undefined ? { ...design, targets: {} } : design, at).map(({ kind }) => kind)).not.toContain(
      'link'
    )
  })

  it('links, keys, indexes and domains are said one after the other, until nothing is left', () => {
    const { design: start, target } = brought()
    const at = where === 'without a target' ? undefined : target
    let design = at === undefined ? { ...start, targets: {} } : start
    const order: string[] = []
    for (let [next] = unsaidIn(design, at); next; [next] = unsaidIn(design, at)) {
      const answer = said(design, at, next)
      if ('conflict' in answer) throw new Error(`${next.says}: ${answer.conflict}`)
      order.push(`${next.kind} ${next.says}`)
      design = edit(design, answer.edit)
    }
    expect(order).toEqual([
      // Where there is no target, what has no key of its own is given one.
      ...(at === undefined ? [] : ['key berth (code)']),
      'link visit.vessel_imo → vessel.imo',
      'index visit (vessel_imo)',
      'domain Remark: text(200)'
    ])
    if (at !== undefined) {
      const there = derive(design, design.targets[at] ?? { subtypeTables: {}, schemas: {} }, postgres).catalog
      const berth = there.tables.find(({ name }) => name === 'berth')
      expect([berth?.primaryKey?.columns, berth?.columns.map(({ name }) => name)]).toEqual([
        ['code'],
        ['code', 'remark']
      ])
    }
    const [visit] = derive(
      design,
      { subtypeTables: {}, schemas: {} },
      dialect('sqlite') as Dialect
    ).catalog.tables.filter(({ name }) => name === 'visit')
    expect(visit?.foreignKeys[0]?.references.table).toBe('vessel')
    expect(visit?.indexes).toHaveLength(1)
    expect(Object.values(design.domains).map(({ name }) => name)).toEqual(['Remark'])
  })
})
