// What a choice brings with it, by example, and as a law: any choice with what it needs is a state that an engine can hold.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { asRenamed, catalogs, withOrigins } from '../../../../tests/support/catalogs'
import { column, table, tables } from '../../../../tests/support/tables'
import { applied, typeText, usesColumn, namesOf, type Catalog, type Change } from '../catalog'
import { compare } from '../compare'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { closure } from '.'

const postgres = dialectOf('postgres') as Dialect
const engines = [postgres, dialectOf('firebird', '3.0') as Dialect, testingDialect()].map(
  (dialect) => [dialect.profile.label, dialect] as const
)
const say = (c: Change) => `${c.action} ${c.address.kind} ${namesOf(c.address).name}`

const fk = (name: string, columns: string[], parent: string, keys: string[]) => ({
  name,
  columns,
  references: { schema: 'public', table: parent, columns: keys },
  onDelete: 'restrict' as const,
  onUpdate: 'no action' as const,
  deferrable: 'no' as const
})

describe('choosing', () => {
  const live = tables(table('vessel', [column('imo')]), table('visit', [column('arrives', 'date')]))
  const wanted = tables(
    table('vessel', [column('imo')], { primaryKey: { name: 'pk', columns: ['imo'] } }),
    table('visit', [column('arrives', 'date'), column('ship')], {
      foreignKeys: [fk('fk', ['ship'], 'vessel', ['imo'])]
    })
  )
  const choose = (from: Catalog, to: Catalog, what: string) => {
    const all = compare({ live: from, wanted: to }, postgres).changes
    const { changes, needed } = closure(
      { chosen: all.filter((c) => say(c) === what), all, live: from, wanted: to },
      postgres
    )
    return { changes: changes.map(say), because: [...needed].map(([a, b]) => `${say(a)} for ${say(b)}`) }
  }

  it('a foreign key chooses its column and the key it goes to, and says for what', () => {
    expect(choose(live, wanted, 'create foreignKey fk')).toEqual({
      changes: ['create column ship', 'create primaryKey pk', 'create foreignKey fk'],
      because: ['create column ship for create foreignKey fk', 'create primaryKey pk for create foreignKey fk']
    })
  })
  it('a column alone chooses nothing else', () => {
    expect(choose(live, wanted, 'create column ship').changes).toEqual(['create column ship'])
  })
  it('a key that goes chooses the foreign key that stands on it', () => {
    expect(choose(wanted, live, 'drop primaryKey pk').changes).toEqual(['drop primaryKey pk', 'drop foreignKey fk'])
  })
})

/** What is wrong with a catalogue as no engine would have it; nothing is. */
function faults(catalog: Catalog, dialect: Dialect): string[] {
  const found: string[] = []
  const names = new Set<string>()
  for (const t of catalog.tables) {
    const own = t.columns.map((c) => c.name)
    const key = `${t.schema}.${t.name}`
    if (names.has(key)) found.push(`two tables ${key}`)
    names.add(key)
    if (own.length === 0) found.push(`no columns in ${key}`)
    if (new Set(own).size < own.length) found.push(`a column twice in ${key}`)
    for (const [kind, list] of [
      ['primaryKey', t.primaryKey ? [t.primaryKey] : []],
      ['unique', t.uniques]
    ] as const)
      for (const k of list)
        if (!k.columns.every((c) => own.includes(c))) found.push(`${kind} ${k.name} without its column`)
    for (const i of t.indexes)
      if (!i.parts.every((p) => p.column === undefined || own.includes(p.column)))
        found.push(`index ${i.name} without its column`)
    for (const c of t.checks)
      if (!own.some((name) => usesColumn('check', c, name, dialect.write.lexis)))
        found.push(`check ${c.name} without its column`)
    for (const k of t.primaryKey?.columns ?? [])
      if (t.columns.find((c) => c.name === k)?.nullable) found.push(`key column ${k} of ${key} may be empty`)
    for (const f of t.foreignKeys) {
      const parent = catalog.tables.find((p) => p.schema === f.references.schema && p.name === f.references.table)
      if (!f.columns.every((c) => own.includes(c))) found.push(`${f.name} without its column`)
      const keys = parent
        ? [...(parent.primaryKey ? [parent.primaryKey] : []), ...parent.uniques].map((k) => k.columns)
        : []
      const indexed = parent?.indexes.filter((i) => i.unique).map((i) => i.parts.flatMap((p) => p.column ?? [])) ?? []
      if (
        ![...keys, ...indexed].some(
          (k) => k.length === f.references.columns.length && k.every((c) => f.references.columns.includes(c))
        )
      )
        found.push(`${f.name} of ${key} goes to no key`)
      f.columns.forEach((c, i) => {
        const [a, b] = [
          t.columns.find((x) => x.name === c),
          parent?.columns.find((x) => x.name === f.references.columns[i])
        ]
        if (a && b && typeText(a.type) !== typeText(b.type))
          found.push(`${f.name} of ${key} joins ${typeText(a.type)} and ${typeText(b.type)}`)
      })
    }
  }
  return found
}

describe.each(engines)('%s', (_, dialect) => {
  it('any choice, with what it needs, leads to a state that stands', () => {
    const choices = fc
      .tuple(catalogs(dialect), catalogs(dialect), fc.nat(4), fc.boolean(), fc.array(fc.nat(1000), { maxLength: 6 }))
      .map(([live, b, shift, renaming, picks]) => {
        const agreed = renaming ? withOrigins(live) : undefined
        const wanted = agreed ? asRenamed(b, agreed, shift) : b
        const all = compare({ live, wanted, agreed }, dialect).changes
        return { live, wanted, all, chosen: picks.flatMap((n) => all[n % Math.max(all.length, 1)] ?? []) }
      })
    fc.assert(
      fc.property(choices, (input) => {
        const { changes } = closure(input, dialect)
        for (const change of input.chosen) expect(changes).toContain(change)
        expect(closure({ ...input, chosen: changes }, dialect).changes).toEqual(changes)
        const reached = applied(changes, input.live, dialect.write)
        const before = faults(input.live, dialect)
        expect(
          faults(reached, dialect).filter((fault) => !before.includes(fault)),
          changes.map(say).join('\n')
        ).toEqual([])
      }),
      { numRuns: 300 }
    )
  })
})
