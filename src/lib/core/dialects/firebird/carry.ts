// How what stands by its own text is made, changed and taken away: "CREATE DOMAIN", "CREATE SEQUENCE", "CREATE EXCEPTION", "CREATE
// PROCEDURE", "CREATE FUNCTION", "CREATE PACKAGE" and their ALTER.
import {
  numbersOf,
  type CatalogObject,
  type Check,
  type Column,
  type DataType,
  type Routine,
  type Sequence,
  type TypeObject
} from '../../catalog'
import type { Alterer, Carried, Carrier, StepDraft, TypeAgain, Writer } from '../dialect'
import { altered as alteredMember, alteredThing, hazard, standardCarrier, step } from '../standard'
import { conversion } from './conversion'
import { BODY, engineName } from './packages'

/** A new head of a package takes its body away, and what calls it is not asked; a trigger of the database is of one occasion. */
const MADE_AGAIN: ReadonlySet<string> = new Set(['package', 'trigger'])

export function firebirdCarrier(write: Writer, alter: Alterer): Carrier {
  const { quote } = write
  const rule = (checks: readonly Check[] | undefined): string | undefined => checks?.[0]?.expression
  const domain = ({ name, base, collation, nullable, default: preset, checks }: TypeObject): string =>
    [
      `CREATE DOMAIN ${quote(name)} AS ${base ? write.type(base) : ''}`,
      preset !== undefined && `DEFAULT ${preset}`,
      nullable === false && 'NOT NULL',
      checks?.[0] && `CHECK (${checks[0].expression})`,
      collation !== undefined && `COLLATE ${collation}`
    ]
      .filter((part) => part)
      .join(' ')
  const sequence = ({ name, start, increment }: Sequence): string =>
    [
      `CREATE SEQUENCE ${quote(name)}`,
      start !== undefined && `START WITH ${start}`,
      increment !== undefined && `INCREMENT BY ${increment}`
    ]
      .filter((part) => part)
      .join(' ')
  const what = (object: Carried): string | undefined => {
    if (object.kind === 'type') return `DOMAIN ${quote(object.value.name)}`
    if (object.kind === 'sequence') return `SEQUENCE ${quote(object.value.name)}`
    if (object.kind === 'routine') return `${object.value.form.toUpperCase()} ${quote(engineName(object.value))}`
    return undefined
  }
  const said = (object: Carried, statement: string, property: string, to: unknown, why?: string): StepDraft =>
    step(
      statement,
      `changes ${object.value.name}`,
      alteredThing(object, property, to),
      why === undefined ? [] : [hazard('may fail', why)]
    )

  /** A domain in place: its default, its rule, whether it may be empty, and a type that holds all that it held. */
  function ofDomain(object: Carried & { kind: 'type' }, property: string, to: unknown): StepDraft[] | undefined {
    const { value } = object
    const alter = `ALTER DOMAIN ${quote(value.name)}`
    if (property === 'default')
      return [said(object, `${alter} ${to === undefined ? 'DROP DEFAULT' : `SET DEFAULT ${String(to)}`}`, property, to)]
    if (property === 'nullable')
      return [
        said(
          object,
          `${alter} ${to === false ? 'SET' : 'DROP'} NOT NULL`,
          property,
          to,
          to === false ? `fails if a row has no value where it is of ${value.name}` : undefined
        )
      ]
    if (property === 'base') {
      const [was, now] = [value.base, to as DataType]
      const fits =
        was &&
        conversion({ type: was }, { type: now }, quote(value.name)).how === 'in place' &&
        (numbersOf(now)[0] ?? 0) >= (numbersOf(was)[0] ?? 0)
      return fits ? [said(object, `${alter} TYPE ${write.type(now)}`, property, to)] : undefined
    }
    if (property !== 'checks') return undefined
    const next = rule(to as readonly Check[] | undefined)
    // "ALTER DOMAIN": there is one rule at most; values that are there are not looked at.
    const words = [
      ...(rule(value.checks) === undefined ? [] : ['DROP CONSTRAINT']),
      ...(next === undefined ? [] : [`ADD CHECK (${next})`])
    ]
    return [said(object, `${alter} ${words.join(' ')}`, property, to)]
  }

  const replaced = (object: Carried & { kind: 'routine' }, to: unknown): StepDraft[] => {
    const { definition } = { ...object.value, definition: String(to) } satisfies Routine
    const again = object.value.form === BODY ? 'RECREATE' : 'CREATE OR ALTER'
    return [said(object, definition.replace(/^\s*create\b/i, again), 'definition', to)]
  }

  /** A domain in its new form: its columns are of what the old one was made of meanwhile, and their values are written to it. */
  function again({ was, now, users }: TypeAgain, create: Carrier['create']): StepDraft[] {
    const [{ base }, { name }] = [was.value as TypeObject, now.value as TypeObject]
    if (!base) return []
    const meanwhile = (column: Column): Column => ({ ...column, type: base })
    return [
      ...users.map(({ table, column }) =>
        step(
          `ALTER TABLE ${quote(table.name)} ALTER COLUMN ${quote(column.name)} TYPE ${write.type(base)}`,
          `${column.name} is of no domain while ${name} is made again`,
          alteredMember(table, 'column', column.name, 'type', column.type, base)
        )
      ),
      step(`DROP ${what(was)}`, `removes the old ${name}`, {
        action: 'drop',
        address: was.address,
        object: { kind: 'type', value: was.value } as CatalogObject
      }),
      ...create(now),
      ...users.flatMap(({ table, column }) => {
        const columns = table.columns.map((one) => (one.name === column.name ? meanwhile(one) : one))
        return alter.alterColumn({ ...table, columns }, meanwhile(column), column)
      })
    ]
  }

  const carrier = standardCarrier(write, {
    kinds: ['type', 'sequence', 'routine', 'view', 'trigger'],
    // Whom rights are given to has the word for what he is with his name.
    holder: (name) => name,
    define: (object) =>
      object.kind === 'type' ? domain(object.value) : object.kind === 'sequence' ? sequence(object.value) : undefined,
    what,
    grantable: (object) => what(object) ?? quote(object.address.path[1] ?? ''),
    alter: (object, property, to) => {
      if (object.kind === 'type') return ofDomain(object, property, to)
      if (object.kind === 'routine' && property === 'definition')
        return MADE_AGAIN.has(object.value.form) ? undefined : replaced(object, to)
      if (object.kind === 'sequence' && property === 'increment')
        return [
          said(object, `ALTER SEQUENCE ${quote(object.value.name)} INCREMENT BY ${String(to ?? 1)}`, property, to)
        ]
      return undefined
    }
  })
  return { ...carrier, replaced: (types) => types.flatMap((type) => again(type, carrier.create)) }
}
