// How PostgreSQL's statements speak of what is carried, and the drafts that they come in.
import { isFree, namesOf, sameValue, withProperty, type Right } from '../../../catalog'
import type { Carried, Hazard, StepDraft, Writer } from '../../dialect'
import { alteredThing as altered, step } from '../../standard'

export type Words = ReturnType<typeof wordsOf>

export function wordsOf(write: Writer) {
  const { quote, table: place, type: typeName } = write
  const homeOf = ({ address }: Carried) => {
    const { schema, table } = namesOf(address)
    return place(schema, table)
  }
  /** A routine's name has its types, and is quoted already. */
  const routineName = ({ address }: Carried) => `${quote(namesOf(address).schema)}.${namesOf(address).name}`
  const freeName = ({ address }: Carried) => place(namesOf(address).schema, namesOf(address).name)
  const ownName = ({ address }: Carried) => quote(namesOf(address).name)

  const what = (object: Carried): string => {
    switch (object.kind) {
      case 'schema':
        return `SCHEMA ${ownName(object)}`
      case 'extension':
        return `EXTENSION ${ownName(object)}`
      case 'type':
        return `${object.value.form === 'domain' ? 'DOMAIN' : 'TYPE'} ${freeName(object)}`
      case 'routine':
        return `${object.value.form.toUpperCase()} ${routineName(object)}`
      case 'view':
        return `${object.value.materialized ? 'MATERIALIZED VIEW' : 'VIEW'} ${freeName(object)}`
      case 'sequence':
        return `SEQUENCE ${freeName(object)}`
      case 'trigger':
      case 'policy':
      case 'rule':
        return `${object.kind.toUpperCase()} ${ownName(object)} ON ${homeOf(object)}`
      case 'index':
        return `INDEX ${place(namesOf(object.address).schema, namesOf(object.address).name)}`
      default:
        return isFree(object.kind) ? `TABLE ${freeName(object)}` : ownName(object)
    }
  }

  const grantable = (object: Carried): string => {
    switch (object.kind) {
      case 'schema':
        return `SCHEMA ${ownName(object)}`
      case 'type':
        return `${object.value.form === 'domain' ? 'DOMAIN' : 'TYPE'} ${freeName(object)}`
      case 'routine':
        return `${object.value.form === 'procedure' ? 'PROCEDURE' : 'FUNCTION'} ${routineName(object)}`
      case 'sequence':
        return `SEQUENCE ${freeName(object)}`
      default:
        return `TABLE ${homeOf(object)}`
    }
  }

  const more = (object: Carried, statement: string, property: string, to: unknown, hazards: Hazard[] = []) =>
    step(statement, `changes ${namesOf(object.address).name}`, altered(object, property, to), hazards)

  const said = (statement: string, name: string): StepDraft => ({
    statement,
    why: `describes ${name}`,
    effects: [],
    hazards: [],
    undo: []
  })
  const withoutOne = (object: Carried, property: string): Carried =>
    ({ ...object, value: withProperty(object.value, property, undefined) }) as Carried

  /** Several statements for one property: the last has made it. */
  const asOne = (
    object: Carried,
    statements: readonly string[],
    property: string,
    to: unknown,
    hazards: Hazard[]
  ): StepDraft[] =>
    statements.map((statement, i) =>
      i === statements.length - 1
        ? more(object, statement, property, to, i === 0 ? hazards : [])
        : {
            statement,
            why: `changes ${namesOf(object.address).name}`,
            effects: [],
            hazards: i === 0 ? hazards : [],
            undo: []
          }
    )

  /** Somebody who is given something. */
  const who = (right: Right): string => (right.to === 'PUBLIC' ? 'PUBLIC' : quote(right.to))

  return { quote, place, typeName, homeOf, freeName, ownName, what, grantable, more, said, withoutOne, asOne, who }
}

export const hasRight = (list: readonly Right[] | undefined, right: Right): boolean =>
  list?.some((other) => sameValue(other, right)) ?? false
