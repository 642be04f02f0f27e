// PostgreSQL's statements for what stands beside tables, or on them by its text: manual, "SQL Commands".
import { namesOf, propertyOf, type Index, type Kind, type Right } from '../../../catalog'
import type { Carried, Carrier, StepDraft, Writer } from '../../dialect'
import { standardCarrier } from '../../standard'
import { defaultRightsCarrier } from './rights'
import { sequenceCarrier } from './sequences'
import { typeCarrier } from './types'
import { typesAgain } from './types-again'
import { viewCarrier } from './views'
import { wordsOf } from './words'

const KINDS: readonly Kind[] = [
  'schema',
  'extension',
  'type',
  'sequence',
  'routine',
  'view',
  'trigger',
  'policy',
  'rule',
  'index',
  'defaultRights'
]

export function postgresCarrier(write: Writer): Carrier {
  const words = wordsOf(write)
  const { quote, place, homeOf, ownName, what, grantable, more, withoutOne } = words
  const types = typeCarrier(words)
  const sequences = sequenceCarrier(words)
  const views = viewCarrier(write, words)
  const rights = defaultRightsCarrier(words)

  const define = (object: Carried): string | undefined => {
    switch (object.kind) {
      case 'schema':
        return `CREATE SCHEMA IF NOT EXISTS ${ownName(object)}`
      case 'extension': {
        const { schema } = object.value
        return `CREATE EXTENSION IF NOT EXISTS ${ownName(object)}${schema === undefined ? '' : ` WITH SCHEMA ${quote(schema)}`}`
      }
      case 'type':
        return types.typeStatement(object.value)
      case 'sequence':
        return sequences.sequenceStatement(object.value)
      case 'view':
        return views.viewOf(object.value)
      case 'policy':
        return `CREATE POLICY ${ownName(object)} ON ${homeOf(object)} ${object.value.definition}`
      case 'index':
        return indexStatement(object)
      default:
        return undefined
    }
  }
  const indexStatement = (object: Carried): string => {
    const { schema, table } = namesOf(object.address)
    const home = { schema, name: table, columns: [], uniques: [], foreignKeys: [], checks: [], indexes: [] }
    return write.createIndex(home, object.value as Index)
  }

  const enable = (object: Carried, to: string | undefined): StepDraft[] => {
    const word = to === 'no' ? 'DISABLE' : to === undefined ? 'ENABLE' : `ENABLE ${to.toUpperCase()}`
    const { schema, table } = namesOf(object.address)
    return [
      more(
        object,
        `ALTER TABLE ${place(schema, table)} ${word} ${object.kind.toUpperCase()} ${ownName(object)}`,
        'enabled',
        to
      )
    ]
  }

  /** What is made by a statement behind the one that makes the object. */
  const after = (object: Carried): StepDraft[] => {
    if (object.kind === 'trigger' || object.kind === 'rule') {
      const { enabled } = object.value
      return enabled === undefined ? [] : enable(withoutOne(object, 'enabled'), enabled)
    }
    if (object.kind === 'view' && object.value.notes)
      return views.notes(withoutOne(object, 'notes'), object.value.notes)
    return object.kind === 'type' ? types.afterType(object) : []
  }

  const alter = (object: Carried, property: string, to: unknown, held?: boolean): StepDraft[] | undefined => {
    if (object.kind === 'type') return types.alterType(object, property, to, held)
    if (object.kind === 'sequence') return sequences.alterSequence(object, property, to)
    if (object.kind === 'view') return views.alterView(object, property, to)
    if ((object.kind === 'trigger' || object.kind === 'rule') && property === 'enabled')
      return enable(object, to as string | undefined)
    if (object.kind === 'routine' && property === 'definition' && object.value.form !== 'aggregate')
      return [more(object, String(to), property, to)]
    if (object.kind === 'extension' && property === 'schema')
      return [more(object, `ALTER EXTENSION ${ownName(object)} SET SCHEMA ${quote(String(to))}`, property, to)]
    if (object.kind === 'defaultRights' && property === 'rights') return rights.alter(object, to as readonly Right[])
    return undefined
  }

  const carrier = standardCarrier(write, {
    kinds: KINDS,
    define,
    what,
    grantable,
    after,
    alter,
    replaced: typesAgain(words, ({ was, now }) => {
      const owner = propertyOf(was.value, 'owner')
      const owned = owner === undefined ? [] : (carrier.alter(now, 'owner', owner) ?? [])
      return [...carrier.create(now), ...owned]
    }),
    owners: true
  })
  return {
    ...carrier,
    together: (object, changes) => {
      if (object.kind !== 'sequence') return undefined
      const { drafts, rest } = sequences.countedOtherwise(object, changes)
      return [...drafts, ...rest.flatMap(({ property, to }) => carrier.alter(object, property, to) ?? [])]
    },
    // Rights that new objects get are given by as many statements as there are.
    create: (object) => (object.kind === 'defaultRights' ? rights.create(object) : carrier.create(object)),
    drop: (object) => (object.kind === 'defaultRights' ? rights.drop(object) : carrier.drop(object))
  }
}
