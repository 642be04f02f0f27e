// Asks a MariaDB server what the database of the connection holds: "Information Schema Tables".
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
import { textOf, tokenize } from '../../sql'
import type { CatalogQueries } from '../dialect'
import { mariadbByHand } from './by-hand'
import { mariadbLexis } from './lexis'
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
import { COLLATION, ENGINE, literal, ON_UPDATE, usualMethod, WITH_COLUMN } from './words'

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

export const mariadbQueries: CatalogQueries = {
  byHand: mariadbByHand,
  read: async (query): Promise<Catalog> => {
    const here = 'table_schema = database()'
    const [server] = await query(
      'SELECT version() AS version, database() AS home, default_collation_name AS collation FROM information_schema.schemata WHERE schema_name = database()'
    )
    const [usual, home] = [str(server ?? {}, 'collation'), str(server ?? {}, 'home')]
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
           sub_part AS cut, index_type AS method, index_comment AS comment, ignored AS ignored
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
    const checks = byTable(
      await query(
        `SELECT table_name AS owner, constraint_name AS name, level AS level, check_clause AS clause
         FROM information_schema.check_constraints WHERE constraint_schema = database() ORDER BY constraint_name`
      )
    )
    const programs: UnreadObject[] = []
    const held = <T>({ held, unread }: { readonly held: readonly T[]; readonly unread: readonly UnreadObject[] }) => {
      programs.push(...unread)
      return held
    }
    const views = held(viewsOf(await query(PROGRAMS.views), home))
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
      const table = tableOf(row, usual, home, columns(name), indexes(name), links(name), checks(name))
      unread.push(...table.unread)
      const own = triggers.get(name)
      const isParted = /\bpartitioned\b/.test(str(row, 'options'))
      const [shown = {}] = isParted ? await query(`SHOW CREATE TABLE \`${name.replaceAll('`', '``')}\``) : []
      const parted = partedBy(String(Object.values(shown)[1] ?? ''))
      if (isParted && parted === undefined)
        unread.push({ kind: 'parts of the table', name, of: [addressOf('table', 'main', name)] })
      read.push({
        ...table.table,
        ...(parted === undefined ? {} : { parted }),
        ...(own ? { triggers: own } : {})
      })
    }
    return withRefs({
      engine: 'mariadb',
      defaultSchema: 'main',
      serverVersion: str(server ?? {}, 'version'),
      tables: read,
      ...(views.length > 0 ? { views } : {}),
      ...(named.size > 0 ? { routines: [...named.values()] } : {}),
      ...(sequences.length > 0 ? { sequences } : {}),
      unread
    })
  }
}

/**
 * An expression in words that every reader of SQL knows: the server prints a quote in text behind a backslash, LENGTH by
 * its other name, and the character set of a cast.
 */
function asWritten(printed: string): string {
  const tokens = tokenize(printed, mariadbLexis)
  const written: string[] = []
  for (const [i, token] of tokens.entries()) {
    const text = textOf(token, mariadbLexis)
    const charset = token.kind === 'word' && token.text === 'charset' && tokens[i - 2]?.text === ')'
    // What no file or script can hold as it is stays behind its backslashes.
    if (text !== undefined) written.push(UNWRITABLE.test(text) ? token.text : literal(text))
    else if (token.kind === 'word' && token.text === 'octet_length') written.push('length')
    else if (charset) written.length -= 1
    else if (!(tokens[i - 2]?.text === 'charset' && tokens[i - 4]?.text === ')')) written.push(token.text)
  }
  return written.join('')
}

const UNWRITABLE = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/

function tableOf(
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
        expression: asWritten(str(clause, 'clause')),
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
      columns: columns.map((column) => columnOf(column, str(row, 'collation'), home, json.has(str(column, 'name')))),
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

function columnOf(row: Row, usual: string, home: string, json: boolean): Column {
  const [extra, generated, comment] = [str(row, 'extra').toLowerCase(), str(row, 'generated'), str(row, 'comment')]
  const value = row['value']
  const [, onUpdate] = /on update (\S+)/.exec(extra) ?? []
  return {
    name: str(row, 'name'),
    type: typeOf(json ? 'json' : str(row, 'type')),
    nullable: str(row, 'nullable') === 'YES',
    // "COLUMNS Table": no default reads as NULL where a value may be missing, and is nothing where it may not.
    ...(value === null || value === undefined || value === 'NULL' || generated !== ''
      ? {}
      : { default: asWritten(atHome(String(value), home)) }),
    ...(extra.includes('auto_increment') ? { identity: 'by default' as const } : {}),
    ...someOptions({
      ...(onUpdate === undefined ? {} : { [ON_UPDATE]: onUpdate }),
      ...(/\binvisible\b/.test(extra) ? { invisible: 'yes' } : {})
    }),
    ...(generated === '' ? {} : { generated: asWritten(generated) }),
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
