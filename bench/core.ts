// Derive, write and compare against reading the same design as plain JSON: how many times as long.
import { adopt } from '../src/lib/core/adopt'
import type { Catalog } from '../src/lib/core/catalog'
import { compare } from '../src/lib/core/compare'
import { derive, deriveAgain } from '../src/lib/core/derive'
import { edit, parseDesign, type Design } from '../src/lib/core/design'
import { loadModule, parseSync } from 'libpg-query'
import { dialect, printScript, type Dialect } from '../src/lib/core/dialects'
import { printJot, readAgain, readJot } from '../src/lib/core/jot'
import { picture } from '../src/lib/core/picture'
import { plan, writeAgain, writeScript } from '../src/lib/core/plan'
import { largeFile } from './design'
import { median } from './median'

const engine = dialect('postgres')
if (!engine) throw new Error('PostgreSQL is known')

for (const tables of [200, 1000]) {
  const text = largeFile(tables)
  const parse = median(() => JSON.parse(text))
  const target = { subtypeTables: {}, schemas: {} }
  const read = () => {
    const result = parseDesign(text)
    if (!result.ok) throw new Error(result.notices[0]?.message)
    return result.value
  }
  const design = read()
  // A copy each time: what is worked out for a design is remembered for that design.
  const fresh = () => derive({ ...design }, target, engine).catalog
  const wanted = fresh()
  const live = { ...wanted, tables: wanted.tables.map((t, i) => (i % 10 ? t : { ...t, columns: t.columns.slice(1) })) }
  const found = compare({ wanted, live }, engine)
  const words = printJot(design)
  const rows: [string, number][] = [
    ['read the design file, checked', median(read)],
    ['derive', median(fresh)],
    ['write the script', median(() => writeScript(wanted, engine))],
    ['compare', median(() => compare({ wanted, live }, engine))],
    [
      'derive + write + compare',
      median(() => compare({ wanted: fresh(), live }, engine).changes.length + writeScript(wanted, engine).length)
    ],
    ['plan', median(() => plan(live, found.changes, engine))],
    ['write it in words', median(() => printJot({ ...design }))],
    ['read the words against it', median(() => readJot(words, design))]
  ]
  rows.push(...afterEdits(design, engine), ...afterKeys(design))
  console.log(`${tables} tables, against JSON.parse of the same design (${(text.length / 1e6).toFixed(1)} MB):`)
  for (const [name, time] of rows) console.log(`  ${name.padEnd(32)} ${(time / parse).toFixed(1)} ×`)
}

/** One column gets another name: the whole script again, and the picture. */
function afterEdits(design: Design, of: Dialect): [string, number][] {
  const target = { subtypeTables: {}, schemas: {} }
  const ids = Object.keys(design.entities)
  const [first] = Object.values(design.diagrams)
  if (!first) return []
  const places = Object.fromEntries(ids.map((id, i) => [id, { x: (i % 40) * 380, y: Math.floor(i / 40) * 420 }]))
  let now = edit(design, { kind: 'diagram.place', id: first.id, places })
  let standing = deriveAgain(now, target, of, undefined)
  let written = writeAgain(standing.catalog, of, {}, undefined)
  const draw = () => picture(now, now.diagrams[first.id] ?? first)
  draw()
  let turn = 0
  const rename = () => {
    turn += 1
    const entity = now.entities[ids[(turn * 37) % ids.length] ?? '']
    const column = entity?.attributes[1]
    if (entity && column)
      now = edit(now, { kind: 'attribute.set', entity: entity.id, id: column.id, set: { name: `name ${turn}` } })
  }
  const script = median(() => {
    rename()
    standing = deriveAgain(now, target, of, standing)
    written = writeAgain(standing.catalog, of, {}, written)
    if (!standing.redone || !written.kept) throw new Error('only a part is done again')
  }, 101)
  const drawn = median(() => {
    rename()
    draw()
  }, 51)
  return [
    ['a column renamed, its script', script],
    ['a column renamed, its picture', drawn]
  ]
}

/** One letter more in the text. */
function afterKeys(design: Design): [string, number][] {
  const lines = printJot(design).split('\n')
  let state = readAgain(lines.join('\n'), design, undefined)
  let turn = 0
  const key = median(() => {
    turn += 1
    const from = (turn * 997) % lines.length
    const at = lines.findIndex((line, i) => i > from && / text\(/.test(line) && !/key/.test(line))
    if (at < 0) return
    lines[at] = `${lines[at] ?? ''}${lines[at]?.includes('means') ? 'x' : ' means x'}`
    state = readAgain(lines.join('\n'), state.read.design, state)
  }, 51)
  return [['a key in its words', key]]
}

/** The tables of a catalogue so many times over, each copy in names of its own. */
function times(catalog: Catalog, copies: number): Catalog {
  const copy = (k: number) =>
    catalog.tables.map((table) => ({
      ...table,
      name: `${table.name}_${k}`,
      ...(table.origin ? { origin: { ...table.origin, id: `${table.origin.id}_${k}` } } : {}),
      foreignKeys: table.foreignKeys.map((fk) => ({
        ...fk,
        references: { ...fk.references, table: `${fk.references.table}_${k}` }
      }))
    }))
  return { ...catalog, tables: Array.from({ length: copies }, (_, k) => copy(k)).flat() }
}
{
  const result = parseDesign(largeFile(500))
  if (!result.ok) throw new Error(result.notices[0]?.message)
  const some = derive(result.value, { subtypeTables: {}, schemas: {} }, engine).catalog
  const perTable = (copies: number) => {
    const wanted = times(some, copies)
    const live = {
      ...wanted,
      tables: wanted.tables.map((t, i) => (i % 10 ? t : { ...t, columns: t.columns.slice(1) }))
    }
    return median(() => compare({ wanted, live, agreed: wanted }, engine)) / wanted.tables.length
  }
  const [small, large] = [perTable(1), perTable(20)]
  console.log('comparing in three ways, time for each table:')
  console.log(`  at 10,000 tables over 500       ${(large / small).toFixed(2)} ×`)

  const sqlite = dialect('sqlite')
  if (!sqlite?.readScript) throw new Error('SQLite’s scripts are read')
  const brought = (copies: number) => {
    const { partial: _partial, ...catalog } = times(some, copies)
    return median(() => adopt(catalog, engine, { name: 'Large', target: 'there' }), 3) / catalog.tables.length
  }
  const script = (copies: number, of: Dialect) => {
    const text = printScript(writeScript(times(some, copies), of), of)
    return median(() => of.readScript?.(text), 3) / text.length
  }
  console.log('starting from what exists, at 10,000 tables over 500:')
  console.log(`  a database, time for each table ${(brought(20) / brought(1)).toFixed(2)} ×`)
  console.log(`  an SQLite script, a character  ${(script(20, sqlite) / script(1, sqlite)).toFixed(2)} ×`)
  console.log(`  a PostgreSQL one, a character  ${(script(20, engine) / script(1, engine)).toFixed(2)} ×`)
  await loadModule()
  const text = printScript(writeScript(times(some, 5), engine), engine)
  const parsed = median(() => JSON.stringify(parseSync(text)), 3)
  console.log(`  one of ${(text.length / 1e6).toFixed(1)} MB, over the engine’s own parser to JSON`)
  console.log(`                                 ${(median(() => engine.readScript?.(text), 3) / parsed).toFixed(2)} ×`)
}
