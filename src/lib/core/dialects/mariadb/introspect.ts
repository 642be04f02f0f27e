// Asks a server of MariaDB or MySQL what the database of the connection holds: "Information Schema Tables" of each; what is different is
// told by the member (`shown.ts`).
import {
  addressOf,
  type Catalog,
  type Check,
  type Column,
  type ForeignKey,
  type Index,
  type Key,
  type Options,
  type ReferentialAction,
  type Sequence,
  type Table,
  type Trigger,
  type UnreadObject
} from '../../catalog'
import type { CatalogQueries } from '../dialect'
import { byHand } from './by-hand'
import { lettersOf } from './letters'
import { partedBy } from './partitions'
import {
  atHome,
  eventsOf,
  PROGRAMS,
  routinesOf,
  sequenceOf,
  sequenceQuestion,
  triggersOf,
  viewsOf,
  type Row
} from './programs'
import { withRefs } from './refs'
import { typeOf } from './types'
import { asWritten, mariadbShown, mysqlShown, type Shown } from './shown'
import { COLLATION, ENGINE, ON_UPDATE, usualMethod, WITH_COLUMN } from './words'

const str = (row: Row, key: string): string => String(row[key] ?? '')

/** Rows by the table they are about. */
function byTable(rows: readonly Row[]): (table: string) => readonly Row[] {
  const groups = new Map<string, Row[]>()
  for (const row of rows) groups.set(str(row, 'owner'), [...(groups.get(str(row, 'owner')) ?? []), row])
  return (table) => groups.get(table) ?? []
}

function grouped<T>(rows: readonly Row[], make: (name: string, rows: readonly Row[]) => T): T[] {
  const names = new Map<string, Row[]>()
  for (const row of rows) names.set(str(row, 'name'), [...(names.get(str(row, 'name')) ?? []), row])
  return [...names].map(([name, own]) => make(name, own))
}

export const mariadbQueries: CatalogQueries = { byHand: byHand('mariadb'), read: readOf(() => mariadbShown) }
export const mysqlQueries: CatalogQueries = { byHand: byHand('mysql'), read: readOf(mysqlShown) }

function readOf(shownBy: (version: string) => Shown): CatalogQueries['read'] {
  return async (query): Promise<Catalog> => {
    const here = 'table_schema = database()'
    const [server] = await query(
      'SELECT version() AS version, database() AS home, @@lower_case_table_names AS letters, default_collation_name AS collation FROM information_schema.schemata WHERE schema_name = database()'
    )
    const [usual, home] = [str(server ?? {}, 'collation'), str(server ?? {}, 'home')]
    const letters = lettersOf(str(server ?? {}, 'letters'))
    const shown = shownBy(str(server ?? {}, 'version'))
    const tables = await query(
      `SELECT table_name AS name, table_comment AS comment, table_type AS type, engine AS engine, table_collation AS collation,
         create_options AS options FROM information_schema.tables WHERE ${here} ORDER BY table_name`
    )
    const columns = byTable(
      await query(
        `SELECT table_name AS owner, column_name AS name, column_default AS value, is_nullable AS nullable, column_type AS type,
           extra AS extra, generation_expression AS generated, column_comment AS comment, collation_name AS collation
         FROM information_schema.columns WHERE ${here} ORDER BY table_name, ordinal_position`
      )
    )
    const indexes = byTable(
      await query(
        `SELECT table_name AS owner, index_name AS name, non_unique AS shared, column_name AS part, collation AS direction,
           sub_part AS cut, index_type AS method, index_comment AS comment, ${shown.unused} AS ignored
         FROM information_schema.statistics WHERE ${here} ORDER BY table_name, index_name, seq_in_index`
      )
    )
    const links = byTable(
      await query(
        `SELECT k.table_name AS owner, k.constraint_name AS name, k.column_name AS part, k.referenced_table_name AS parent,
           k.referenced_column_name AS parent_part, r.delete_rule AS on_delete, r.update_rule AS on_update
         FROM information_schema.key_column_usage k JOIN information_schema.referential_constraints r
           ON r.constraint_schema = k.constraint_schema AND r.table_name = k.table_name AND r.constraint_name = k.constraint_name
         WHERE k.table_schema = database() AND k.referenced_table_name IS NOT NULL
         ORDER BY k.table_name, k.constraint_name, k.ordinal_position`
      )
    )
    const checks = byTable(shown.checks === undefined ? [] : await query(shown.checks))
    const programs: UnreadObject[] = []
    const held = <T>({ held, unread }: { readonly held: readonly T[]; readonly unread: readonly UnreadObject[] }) => {
      programs.push(...unread)
      return held
    }
    const views = held(viewsOf(await query(shown.views), home))
    const routines = held(routinesOf(await query(PROGRAMS.routines), await query(PROGRAMS.parameters)))
    // Each has names of its own there, and one name here.
    const events = held(eventsOf(await query(PROGRAMS.events)))
    const named = new Map([...routines, ...events].map((routine) => [routine.name, routine]))
    for (const routine of [...routines, ...events])
      if (named.get(routine.name) !== routine) programs.push({ kind: routine.form, name: routine.name })
    const triggers = new Map<string, Trigger[]>()
    for (const { table, trigger } of held(triggersOf(await query(PROGRAMS.triggers))))
      triggers.set(table, [...(triggers.get(table) ?? []), trigger])
    const sequences: Sequence[] = []
    for (const row of tables.filter((one) => str(one, 'type') === 'SEQUENCE')) {
      const name = str(row, 'name')
      const [counts] = await query(sequenceQuestion(name))
      if (counts) sequences.push(sequenceOf(name, counts))
      else programs.push({ kind: 'sequence', name })
    }
    const unread: UnreadObject[] = [...programs]
    const read: Table[] = []
    for (const row of tables) {
      const name = str(row, 'name')
      const type = str(row, 'type')
      if (type === 'VIEW' || type === 'SEQUENCE') continue
      if (type !== 'BASE TABLE') {
        unread.push({ kind: type.toLowerCase(), name })
        continue
      }
      const table = tableOf(shown, row, usual, home, columns(name), indexes(name), links(name), checks(name))
      unread.push(...table.unread)
      const own = triggers.get(name)
      const isParted = /\bpartitioned\b/.test(str(row, 'options'))
      const [made = {}] = isParted ? await query(`SHOW CREATE TABLE \`${name.replaceAll('`', '``')}\``) : []
      const parted = partedBy(String(Object.values(made)[1] ?? ''))
      if (isParted && parted === undefined)
        unread.push({ kind: 'parts of the table', name, of: [addressOf('table', 'main', name)] })
      read.push({
        ...table.table,
        ...(parted === undefined ? {} : { parted }),
        ...(own ? { triggers: own } : {})
      })
    }
    return withRefs({
      engine: shown.engine,
      defaultSchema: 'main',
      serverVersion: str(server ?? {}, 'version'),
      ...(usual === '' ? {} : { collation: usual }),
      ...(letters === undefined ? {} : { tableNames: letters }),
      tables: read,
      ...(views.length > 0 ? { views } : {}),
      ...(named.size > 0 ? { routines: [...named.values()] } : {}),
      ...(sequences.length > 0 ? { sequences } : {}),
      unread
    })
  }
}

function tableOf(
  shown: Shown,
  row: Row,
  usual: string,
  home: string,
  columns: readonly Row[],
  statistics: readonly Row[],
  links: readonly Row[],
  clauses: readonly Row[]
): { table: Table; unread: UnreadObject[] } {
  const unread: UnreadObject[] = []
  const foreignKeys = grouped(links, foreignKeyOf)
  // JSON is text that is checked: the check is the type.
  const json = new Set<string>()
  const checks: Check[] = []
  for (const clause of clauses) {
    const [, column] = /^json_valid\(`(.+)`\)$/.exec(str(clause, 'clause')) ?? []
    if (column !== undefined && str(clause, 'level') === 'Column') json.add(column)
    else
      checks.push({
        name: str(clause, 'name'),
        expression: shown.expression(atHome(str(clause, 'clause'), home)),
        ...(str(clause, 'level') === 'Column' ? { options: { [WITH_COLUMN]: 'yes' } } : {})
      })
  }
  let primaryKey: Key | undefined
  const uniques: Key[] = []
  const indexes: Index[] = []
  grouped(statistics, (name, parts) => {
    const names = parts.map((part) => str(part, 'part'))
    const ascending = parts.every((part) => str(part, 'direction') !== 'D')
    const [first] = parts
    const comment = first ? str(first, 'comment') : ''
    const unique = first !== undefined && Number(first['shared']) === 0
    const ignored = first !== undefined && str(first, 'ignored') === 'YES'
    const special = /^(fulltext|spatial)$/i.test(first ? str(first, 'method') : '')
    const plain = !special && parts.every((part) => part['cut'] === null)
    const cut = parts.map((part) => (part['cut'] === null ? {} : { length: Number(part['cut']) }))
    if (name === 'PRIMARY') primaryKey = { name, columns: names, ...(plain ? {} : { parts: cut }) }
    else if (unique && ascending && comment === '' && !special && !ignored)
      uniques.push({ name, columns: names, ...(plain ? {} : { parts: cut }) })
    else if (!(foreignKeys.some((fk) => fk.name === name && fk.columns.join() === names.join()) && !unique))
      indexes.push({
        name,
        unique,
        parts: parts.map((part) => ({
          column: str(part, 'part'),
          ...(part['cut'] === null || special ? {} : { length: Number(part['cut']) }),
          descending: str(part, 'direction') === 'D'
        })),
        ...(first && !['', usualMethod(str(row, 'engine'))].includes(str(first, 'method').toLowerCase())
          ? { method: str(first, 'method').toLowerCase() }
          : {}),
        ...(comment === '' ? {} : { comment }),
        ...(ignored ? { options: { ignored: 'yes' } } : {})
      })
  })
  const comment = str(row, 'comment')
  const name = str(row, 'name')
  return {
    unread,
    table: {
      schema: 'main',
      name,
      ...(comment === '' ? {} : { comment }),
      columns: columns.map((column) =>
        columnOf(shown, column, str(row, 'collation'), home, json.has(str(column, 'name')))
      ),
      ...(primaryKey ? { primaryKey } : {}),
      uniques,
      foreignKeys,
      checks,
      indexes,
      ...someOptions(optionsOf(row, usual))
    }
  }
}

const someOptions = (options: Options): { options?: Options } => (Object.keys(options).length > 0 ? { options } : {})

/** "TABLES Table": the engine, how text is kept where that is not the database's way, and whatever else was said. */
function optionsOf(row: Row, usual: string): Options {
  const [engine, collation] = [str(row, 'engine'), str(row, 'collation')]
  // "Aria Storage Engine": these are so unless it is said, and stay behind when another engine takes its place.
  const told = str(row, 'options').replace(/\b(page_checksum|transactional)=1\b/g, '')
  const others = [...told.matchAll(/(?:`([^`]+)`|(\w+))=('(?:[^']|'')*'|\S+)/g)]
  return {
    ...(engine === '' || engine === 'InnoDB' ? {} : { [ENGINE]: engine }),
    ...(collation === '' || collation === usual ? {} : { [COLLATION]: collation }),
    ...Object.fromEntries(
      others.map(([, quoted, name = '', value = '']) => [
        (quoted ?? name).toLowerCase(),
        value.startsWith("'") ? value.slice(1, -1).replaceAll("''", "'") : value
      ])
    )
  }
}

function columnOf(shown: Shown, row: Row, usual: string, home: string, json: boolean): Column {
  const [extra, generated, comment] = [str(row, 'extra').toLowerCase(), str(row, 'generated'), str(row, 'comment')]
  const type = typeOf(json ? 'json' : str(row, 'type'))
  const value = generated === '' ? shown.defaultOf(row, type) : undefined
  const [, onUpdate] = /on update (\S+)/.exec(extra) ?? []
  return {
    name: str(row, 'name'),
    type,
    nullable: str(row, 'nullable') === 'YES',
    ...(value === undefined ? {} : { default: asWritten(atHome(value, home)) }),
    ...(extra.includes('auto_increment') ? { identity: 'by default' as const } : {}),
    ...someOptions({
      ...(onUpdate === undefined ? {} : { [ON_UPDATE]: onUpdate }),
      ...(/\binvisible\b/.test(extra) ? { invisible: 'yes' } : {})
    }),
    ...(generated === '' ? {} : { generated: shown.expression(atHome(generated, home)) }),
    ...(extra.includes('virtual') ? { virtual: true as const } : {}),
    // JSON is text of one collation; other text is as its table has it, unless it is said.
    ...(row['collation'] == null || json || row['collation'] === usual ? {} : { collation: str(row, 'collation') }),
    ...(comment === '' ? {} : { comment })
  }
}

function foreignKeyOf(name: string, rows: readonly Row[]): ForeignKey {
  const [first = {}] = rows
  return {
    name,
    columns: rows.map((row) => str(row, 'part')),
    references: { schema: 'main', table: str(first, 'parent'), columns: rows.map((row) => str(row, 'parent_part')) },
    onDelete: str(first, 'on_delete').toLowerCase() as ReferentialAction,
    onUpdate: str(first, 'on_update').toLowerCase() as ReferentialAction,
    deferrable: 'no'
  }
}
