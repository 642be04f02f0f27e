// How PostgreSQL changes what is there: manual, ALTER TABLE.
import { sameSet, withProperty, type Column, type Key, type Table } from '../../catalog'
import type { Alterer, Hazard, StepDraft, Writer } from '../dialect'
import { altered, computedAnew, hazard, literal, preflight, standardAlterer, step } from '../standard'
import { conversion, familyOf } from './conversion'

export function postgresAlterer(write: Writer, version: number): Alterer {
  const standard = standardAlterer(write, { foreignKeysInTable: false })
  const of = (table: Table) => write.table(table.schema, table.name)
  const convert = (from: Column, to: Column) => conversion(from.type, to.type, write.quote(from.name), version)

  /** A column that cannot be brought over: no cast leads to the type, or it is computed otherwise now. */
  const madeAnew = (from: Column, to: Column) =>
    (from.type !== to.type && convert(from, to).how === 'none') || computedAnew(from, to)

  function changeType(table: Table, from: Column, to: Column): StepDraft {
    const how = convert(from, to)
    const column = write.quote(from.name)
    const hazards: Hazard[] = []
    if (how.loses) hazards.push(hazard('loses data', how.loses))
    if (how.failsWhere !== undefined) hazards.push(hazard('may fail', 'fails if a value does not fit the new type'))
    if (!how.inPlace) hazards.push(hazard('rewrites table', 'every row is written again while the table is locked'))
    return step(
      `ALTER TABLE ${of(table)} ALTER COLUMN ${column} TYPE ${to.type}` + (how.using ? ` USING ${how.using}` : ''),
      `changes ${from.name} from ${from.type} to ${to.type}`,
      altered(table, 'column', from.name, 'type', from.type, to.type),
      hazards,
      how.failsWhere ? preflight(`Which values of ${from.name} do not fit?`, of(table), how.failsWhere) : undefined
    )
  }

  return {
    ...standard,
    inTheWay: (from, to) => {
      if (madeAnew(from, to)) return 'all that use it'
      if (from.type === to.type || familyOf(from.type) === familyOf(to.type)) return 'nothing'
      return 'all that use it'
    },
    alterColumn: (table, from, to) => {
      const bare: Column = withProperty(to, 'comment', undefined)
      if (madeAnew(from, to)) return [...standard.dropColumn(table, from), ...standard.addColumn(table, bare)]
      const alter = `ALTER TABLE ${of(table)} ALTER COLUMN ${write.quote(from.name)}`
      const steps: StepDraft[] = []
      const set = (sql: string, why: string, property: keyof Column, before: unknown, after: unknown) =>
        steps.push(step(`${alter} ${sql}`, why, altered(table, 'column', from.name, property, before, after)))

      if (from.generated !== undefined && to.generated === undefined)
        set(
          'DROP EXPRESSION',
          `${from.name} is no longer computed; its values stay`,
          'generated',
          from.generated,
          undefined
        )
      if (from.identity && from.identity !== to.identity && (!to.identity || from.type !== to.type))
        set('DROP IDENTITY', `${from.name} is no longer numbered by the engine`, 'identity', from.identity, undefined)
      else if (from.identity && to.identity && from.identity !== to.identity)
        set(
          `SET GENERATED ${to.identity.toUpperCase()}`,
          `who numbers ${from.name}`,
          'identity',
          from.identity,
          to.identity
        )

      // A default is not converted with its column: it goes first and comes back last.
      const retype = from.type !== to.type
      const setAside = from.default !== undefined && (to.default !== from.default || retype)
      if (setAside) set('DROP DEFAULT', `takes the default of ${from.name} away`, 'default', from.default, undefined)
      if (retype) steps.push(changeType(table, from, to))
      // What is left for the standard's words: whether the column must be filled.
      steps.push(...standard.alterColumn(table, { ...to, nullable: from.nullable }, to))
      if (to.default !== undefined && (setAside || from.default === undefined))
        set(`SET DEFAULT ${to.default}`, `sets the default of ${from.name}`, 'default', undefined, to.default)
      const dropsIdentity = from.identity && (!to.identity || (from.identity !== to.identity && retype))
      if (to.identity && (!from.identity || dropsIdentity)) {
        set(
          `ADD GENERATED ${to.identity.toUpperCase()} AS IDENTITY`,
          `${from.name} is numbered by the engine`,
          'identity',
          undefined,
          to.identity
        )
        steps.push({
          statement:
            `SELECT setval(pg_get_serial_sequence(${literal(of(table))}, ${literal(from.name)}), ` +
            `coalesce(max(${write.quote(from.name)}), 0) + 1, false) FROM ${of(table)}`,
          why: 'numbering goes on after the highest number in use',
          effects: [],
          hazards: []
        })
      }
      return steps
    },
    // Inside CREATE TABLE a unique rule over the columns of another key is quietly folded into it; said afterwards, it
    // stays.
    createTable: (table) => {
      const keys = [...(table.primaryKey ? [table.primaryKey] : []), ...table.uniques]
      const again = (key: Key) => keys.slice(0, keys.indexOf(key)).some((other) => sameSet(key.columns, other.columns))
      const [later, now] = [table.uniques.filter(again), table.uniques.filter((key) => !again(key))]
      return [
        ...standard.createTable({ ...table, uniques: now }),
        ...later
          .flatMap((key) => standard.addMember(table, 'unique', key))
          .map(({ preflight: _, ...draft }) => ({
            ...draft,
            // The table was made a moment ago and has no rows.
            hazards: []
          }))
      ]
    },
    addMember: (table, kind, member) =>
      standard.addMember(table, kind, member).map((draft) =>
        kind === 'foreignKey' && draft.preflight
          ? {
              ...draft,
              hazards: [
                ...draft.hazards,
                hazard('locks table', 'both tables are locked for writing while rows are checked')
              ]
            }
          : draft
      )
  }
}
