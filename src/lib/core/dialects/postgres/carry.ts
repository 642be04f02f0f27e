// PostgreSQL's statements for what stands beside tables, or on them by its text: manual, "SQL Commands".
import {
  isFree,
  namesOf,
  propertyOf,
  sameValue,
  withProperty,
  type Check,
  type ColumnNote,
  type DefaultRights,
  type Index,
  type Kind,
  type Options,
  type Right,
  type Sequence,
  type TypeField,
  type TypeObject,
  type View
} from '../../catalog'
import type { Carried, Carrier, Hazard, StepDraft, TypeUser, Writer } from '../dialect'
import { alteredThing as altered, hazard, literal, preflight, standardCarrier, step, viewStatement } from '../standard'
import { countingClauses, parameterList, withParameters } from './write'

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

/** What a sequence counts by. */
const COUNTED: ReadonlySet<string> = new Set(['type', 'start', 'increment', 'min', 'max', 'cache', 'cycle'])

export function postgresCarrier(write: Writer): Carrier {
  const { quote, table: place } = write
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

  const checkClause = ({ name, expression, options }: Check) =>
    `CONSTRAINT ${quote(name)} CHECK (${expression})${options?.['not valid'] ? ' NOT VALID' : ''}`
  const fieldClause = ({ name, type, collation }: TypeField) =>
    `${quote(name)} ${type}${collation === undefined ? '' : ` COLLATE ${collation}`}`

  const typeStatement = (type: TypeObject): string => {
    const name = place(type.schema, type.name)
    switch (type.form) {
      case 'enum':
        return `CREATE TYPE ${name} AS ENUM (${(type.values ?? []).map(literal).join(', ')})`
      case 'composite':
        return `CREATE TYPE ${name} AS (${(type.fields ?? []).map(fieldClause).join(', ')})`
      case 'range':
        return `CREATE TYPE ${name} AS RANGE (${Object.entries(type.options ?? {})
          .map(([key, value]) => `${key} = ${value}`)
          .join(', ')})`
      case 'domain':
        return [
          `CREATE DOMAIN ${name} AS ${type.base ?? 'text'}`,
          type.collation && `COLLATE ${type.collation}`,
          type.default !== undefined && `DEFAULT ${type.default}`,
          type.nullable === false && 'NOT NULL',
          ...(type.checks ?? []).filter((check) => !check.options?.['not valid']).map(checkClause)
        ]
          .filter((part) => part)
          .join(' ')
    }
  }

  const sequenceStatement = (sequence: Sequence): string =>
    [
      `CREATE ${sequence.options?.['persistence'] === 'unlogged' ? 'UNLOGGED ' : ''}SEQUENCE ${place(sequence.schema, sequence.name)}`,
      sequence.type && `AS ${sequence.type}`,
      ...countingClauses(sequence)
    ]
      .filter((part) => part)
      .join(' ')

  const define = (object: Carried): string | undefined => {
    switch (object.kind) {
      case 'schema':
        return `CREATE SCHEMA IF NOT EXISTS ${ownName(object)}`
      case 'extension': {
        const { schema } = object.value
        return `CREATE EXTENSION IF NOT EXISTS ${ownName(object)}${schema === undefined ? '' : ` WITH SCHEMA ${quote(schema)}`}`
      }
      case 'type':
        return typeStatement(object.value)
      case 'sequence':
        return sequenceStatement(object.value)
      case 'view':
        return viewOf(object.value)
      case 'policy':
        return `CREATE POLICY ${ownName(object)} ON ${homeOf(object)} ${object.value.definition}`
      case 'index':
        return indexStatement(object)
      case 'defaultRights':
        return defaultGrants(object.value, []).join(';\n')
      default:
        return undefined
    }
  }
  const indexStatement = (object: Carried): string => {
    const { schema, table } = namesOf(object.address)
    const home = { schema, name: table, columns: [], uniques: [], foreignKeys: [], checks: [], indexes: [] }
    return write.createIndex(home, object.value as Index)
  }
  const viewOf = (view: View): string => {
    const { tablespace, 'access method': method } = view.options ?? {}
    const options =
      (method === undefined ? '' : ` USING ${quote(method)}`) +
      withParameters(view.options) +
      (tablespace === undefined ? '' : ` TABLESPACE ${quote(tablespace)}`)
    return viewStatement(view, write, options) + (view.options?.['no data'] ? '\nWITH NO DATA' : '')
  }

  /** ALTER DEFAULT PRIVILEGES, from what is there. */
  const defaultGrants = (rights: DefaultRights, from: readonly Right[]): string[] => {
    const head = `ALTER DEFAULT PRIVILEGES FOR ROLE ${quote(rights.role)}${rights.schema === undefined ? '' : ` IN SCHEMA ${quote(rights.schema)}`}`
    const who = (right: Right) => (right.to === 'PUBLIC' ? 'PUBLIC' : quote(right.to))
    const grant = (right: Right) =>
      `${head} GRANT ${right.may} ON ${rights.of} TO ${who(right)}${right.grantable ? ' WITH GRANT OPTION' : ''}`
    const revoke = (right: Right) => `${head} REVOKE ${right.may} ON ${rights.of} FROM ${who(right)}`
    const has = (list: readonly Right[], right: Right) => list.some((other) => sameValue(other, right))
    return [
      ...from
        .filter((right) => !has(rights.rights, right))
        .map((right) => (right.revoked ? grant(right) : revoke(right))),
      ...rights.rights
        .filter((right) => !has(from, right))
        .map((right) => (right.revoked ? revoke(right) : grant(right)))
    ]
  }

  const more = (object: Carried, statement: string, property: string, to: unknown, hazards: Hazard[] = []) =>
    step(statement, `changes ${namesOf(object.address).name}`, altered(object, property, to), hazards)

  /** What is made by a statement behind the one that makes the object. */
  const after = (object: Carried): StepDraft[] => {
    const drafts: StepDraft[] = []
    if (object.kind === 'trigger' || object.kind === 'rule') {
      const { enabled } = object.value
      if (enabled !== undefined) drafts.push(...enable(withoutOne(object, 'enabled'), enabled))
    }
    if (object.kind === 'view' && object.value.notes)
      drafts.push(...notes(withoutOne(object, 'notes'), object.value.notes))
    if (object.kind === 'type') {
      for (const { name, comment } of object.value.fields ?? [])
        if (comment !== undefined)
          drafts.push(said(`COMMENT ON COLUMN ${freeName(object)}.${quote(name)} IS ${literal(comment)}`, name))
      for (const check of object.value.checks ?? []) {
        if (check.options?.['not valid'])
          drafts.push(said(`ALTER DOMAIN ${freeName(object)} ADD ${checkClause(check)}`, check.name))
        if (check.comment !== undefined)
          drafts.push(
            said(
              `COMMENT ON CONSTRAINT ${quote(check.name)} ON DOMAIN ${freeName(object)} IS ${literal(check.comment)}`,
              check.name
            )
          )
      }
    }
    return drafts
  }
  const said = (statement: string, name: string): StepDraft => ({
    statement,
    why: `describes ${name}`,
    effects: [],
    hazards: [],
    undo: []
  })
  const withoutOne = (object: Carried, property: string): Carried =>
    ({ ...object, value: withProperty(object.value, property, undefined) }) as Carried

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

  /** What is said of a view's columns. */
  const notes = (object: Carried, to: readonly ColumnNote[] | undefined): StepDraft[] => {
    const from = (propertyOf(object.value, 'notes') as readonly ColumnNote[] | undefined) ?? []
    const name = freeName(object)
    const column = (of: string) => `${name}.${quote(of)}`
    const was = new Map(from.map((note) => [note.name, note]))
    const is = new Map((to ?? []).map((note) => [note.name, note]))
    const statements = [...new Set([...was.keys(), ...is.keys()])].flatMap((key) => {
      const [a, b] = [was.get(key), is.get(key)]
      const found: string[] = []
      if (a?.default !== b?.default)
        found.push(
          `ALTER VIEW ${name} ALTER COLUMN ${quote(key)} ${b?.default === undefined ? 'DROP DEFAULT' : `SET DEFAULT ${b.default}`}`
        )
      if (a?.comment !== b?.comment)
        found.push(`COMMENT ON COLUMN ${column(key)} IS ${b?.comment === undefined ? 'NULL' : literal(b.comment)}`)
      const who = (right: Right) => (right.to === 'PUBLIC' ? 'PUBLIC' : quote(right.to))
      const has = (list: readonly Right[] | undefined, right: Right) =>
        list?.some((other) => sameValue(other, right)) ?? false
      for (const right of a?.rights ?? [])
        if (!has(b?.rights, right)) found.push(`REVOKE ${right.may} (${quote(key)}) ON ${name} FROM ${who(right)}`)
      for (const right of b?.rights ?? [])
        if (!has(a?.rights, right))
          found.push(
            `GRANT ${right.may} (${quote(key)}) ON ${name} TO ${who(right)}${right.grantable ? ' WITH GRANT OPTION' : ''}`
          )
      return found
    })
    return statements.map((statement, i) =>
      i === statements.length - 1
        ? more(object, statement, 'notes', to)
        : { statement, why: `describes ${namesOf(object.address).name}`, effects: [], hazards: [], undo: [] }
    )
  }

  const alterType = (object: Carried & { kind: 'type' }, property: string, to: unknown): StepDraft[] | undefined => {
    const { value } = object
    const name = freeName(object)
    if (value.form === 'enum' && property === 'values') return addValues(object, to as readonly string[])
    if (value.form === 'domain') {
      if (property === 'default')
        return [
          more(
            object,
            `ALTER DOMAIN ${name} ${to === undefined ? 'DROP DEFAULT' : `SET DEFAULT ${String(to)}`}`,
            property,
            to
          )
        ]
      if (property === 'nullable')
        return [
          more(object, `ALTER DOMAIN ${name} ${to === false ? 'SET' : 'DROP'} NOT NULL`, property, to, [
            ...(to === false ? [hazard('may fail', `fails if a row has no value where it is of ${value.name}`)] : [])
          ])
        ]
      if (property === 'checks') return alterChecks(object, (to as readonly Check[] | undefined) ?? [])
    }
    if (value.form === 'composite' && property === 'fields') return alterFields(object, to as readonly TypeField[])
    return undefined
  }

  /** An enum gets more values, each beside the one that it stands by. */
  const addValues = (object: Carried & { kind: 'type' }, to: readonly string[]): StepDraft[] | undefined => {
    const from = object.value.values ?? []
    if (
      !sameValue(
        from,
        to.filter((value) => from.includes(value))
      )
    )
      return undefined
    let now: string[] = [...from]
    return to.flatMap((value, i) => {
      if (from.includes(value)) return []
      const before = to[i - 1]
      const next = to.slice(i + 1).find((other) => from.includes(other))
      const where =
        before !== undefined ? ` AFTER ${literal(before)}` : next === undefined ? '' : ` BEFORE ${literal(next)}`
      const last = now
      now = to.filter((other) => now.includes(other) || other === value)
      return [
        step(
          `ALTER TYPE ${freeName(object)} ADD VALUE ${literal(value)}${where}`,
          `adds ${value} to ${object.value.name}`,
          { action: 'alter', address: object.address, property: 'values', from: last, to: now, certain: true },
          [hazard('cannot be undone', 'a value cannot be taken from a type again: the way back makes the type anew')]
        )
      ]
    })
  }

  const alterChecks = (object: Carried & { kind: 'type' }, to: readonly Check[]): StepDraft[] => {
    const from = object.value.checks ?? []
    const same = (a: Check, b: Check) =>
      a.name === b.name && a.expression === b.expression && sameValue(a.options, b.options)
    const domain = `ALTER DOMAIN ${freeName(object)}`
    const statements = [
      ...from
        .filter((check) => !to.some((other) => same(check, other)))
        .map(({ name }) => `${domain} DROP CONSTRAINT ${quote(name)}`),
      ...to
        .filter((check) => !from.some((other) => same(check, other)))
        .map((check) => `${domain} ADD ${checkClause(check)}`),
      ...to
        .filter((check) => check.comment !== from.find((other) => same(check, other))?.comment)
        .map(
          ({ name, comment }) =>
            `COMMENT ON CONSTRAINT ${quote(name)} ON DOMAIN ${freeName(object)} IS ${comment === undefined ? 'NULL' : literal(comment)}`
        )
    ]
    return asOne(object, statements, 'checks', to.length ? to : undefined, [
      ...(to.some((check) => !from.some((other) => same(check, other)))
        ? [hazard('may fail', `fails if a value of ${object.value.name} breaks the rule`)]
        : [])
    ])
  }

  const alterFields = (object: Carried & { kind: 'type' }, to: readonly TypeField[]): StepDraft[] | undefined => {
    const from = object.value.fields ?? []
    const order = (list: readonly TypeField[], other: readonly TypeField[]) =>
      list.map((field) => field.name).filter((name) => other.some((field) => field.name === name))
    const added = to.filter((field) => !from.some((other) => other.name === field.name))
    // New fields come last, as the engine puts them.
    if (!sameValue(order(from, to), order(to, from)) || !sameValue(to.slice(to.length - added.length), added))
      return undefined
    const type = `ALTER TYPE ${freeName(object)}`
    const statements = [
      ...from
        .filter((field) => !to.some((other) => other.name === field.name))
        .map(({ name }) => `${type} DROP ATTRIBUTE ${quote(name)} CASCADE`),
      ...to.flatMap((field) => {
        const was = from.find((other) => other.name === field.name)
        if (!was || (was.type === field.type && was.collation === field.collation)) return []
        return [`${type} ALTER ATTRIBUTE ${fieldClause(field).replace(' ', ' TYPE ')} CASCADE`]
      }),
      ...added.map((field) => `${type} ADD ATTRIBUTE ${fieldClause(field)} CASCADE`),
      ...to
        .filter((field) => field.comment !== from.find((other) => other.name === field.name)?.comment)
        .map(
          ({ name, comment }) =>
            `COMMENT ON COLUMN ${freeName(object)}.${quote(name)} IS ${comment === undefined ? 'NULL' : literal(comment)}`
        )
    ]
    const gone = from.some((field) => !to.some((other) => other.name === field.name))
    return asOne(
      object,
      statements,
      'fields',
      to,
      gone ? [hazard('loses data', 'what a field holds goes with it')] : []
    )
  }

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

  /** One setting of a sequence, as a clause. */
  const sequenceClause = (value: Sequence, property: string, to: unknown): string | undefined => {
    const text = typeof to === 'string' ? to : undefined
    switch (property) {
      case 'type':
        return `AS ${text ?? 'bigint'}`
      case 'start':
        return `START WITH ${text ?? (value.increment?.startsWith('-') ? '-1' : '1')}`
      case 'increment':
        return `INCREMENT BY ${text ?? '1'}`
      case 'min':
        return text === undefined ? 'NO MINVALUE' : `MINVALUE ${text}`
      case 'max':
        return text === undefined ? 'NO MAXVALUE' : `MAXVALUE ${text}`
      case 'cache':
        return `CACHE ${text ?? '1'}`
      case 'cycle':
        return to === true ? 'CYCLE' : 'NO CYCLE'
      case 'ownedBy': {
        const owner = to as Sequence['ownedBy']
        return `OWNED BY ${owner ? `${place(owner.schema, owner.table)}.${quote(owner.column)}` : 'NONE'}`
      }
      case 'options':
        return (to as Options | undefined)?.['persistence'] === 'unlogged' ? 'SET UNLOGGED' : 'SET LOGGED'
      default:
        return undefined
    }
  }
  const alterSequence = (
    object: Carried & { kind: 'sequence' },
    property: string,
    to: unknown
  ): StepDraft[] | undefined => {
    const clause = sequenceClause(object.value, property, to)
    return clause === undefined
      ? undefined
      : [more(object, `ALTER SEQUENCE ${freeName(object)} ${clause}`, property, to)]
  }
  /** Limits and beginning are judged together; a number that was given out beyond the new limits stops it. */
  const together: NonNullable<Carrier['together']> = (object, changes) => {
    if (object.kind !== 'sequence') return undefined
    const counted = changes.filter(({ property }) => COUNTED.has(property))
    const others = changes.filter((change) => !counted.includes(change))
    const name = freeName(object)
    const limit = (property: 'min' | 'max', sign: string) =>
      counted.flatMap((change) =>
        change.property === property && change.to !== undefined ? [`last_value ${sign} ${String(change.to)}`] : []
      )
    const outside = [...limit('min', '<'), ...limit('max', '>')].join(' OR ')
    const clauses = counted.map(({ property, to }) => sequenceClause(object.value, property, to))
    return [
      ...(counted.length === 0
        ? []
        : [
            {
              statement: `ALTER SEQUENCE ${name} ${clauses.join(' ')}`,
              why: `how ${object.value.name} counts; where it stands, it stays`,
              effects: counted,
              hazards: outside === '' ? [] : [hazard('may fail', 'fails if it has come beyond the new limits')],
              ...(outside === '' ? {} : { preflight: preflight('Has it come beyond the new limits?', name, outside) })
            }
          ]),
      ...others.flatMap(({ property, to }) => carrier.alter(object, property, to) ?? [])
    ]
  }

  const alterView = (object: Carried & { kind: 'view' }, property: string, to: unknown): StepDraft[] | undefined => {
    if (property === 'notes') return notes(object, to as readonly ColumnNote[] | undefined)
    if (property !== 'options') return undefined
    const [from, now] = [object.value.options ?? {}, (to as Options | undefined) ?? {}]
    const fixed = ['tablespace', 'access method', 'no data']
    if (fixed.some((name) => from[name] !== now[name])) return undefined
    const gone = Object.keys(from).filter((name) => !(name in now))
    const set = parameterList(Object.fromEntries(Object.entries(now).filter(([name, value]) => from[name] !== value)))
    const alter = `ALTER ${what(object)}`
    return asOne(
      object,
      [
        ...(gone.length ? [`${alter} RESET (${gone.join(', ')})`] : []),
        ...(set === '' ? [] : [`${alter} SET (${set})`])
      ],
      'options',
      to,
      []
    )
  }

  const alter = (object: Carried, property: string, to: unknown): StepDraft[] | undefined => {
    if (object.kind === 'type') return alterType(object, property, to)
    if (object.kind === 'sequence') return alterSequence(object, property, to)
    if (object.kind === 'view') return alterView(object, property, to)
    if ((object.kind === 'trigger' || object.kind === 'rule') && property === 'enabled')
      return enable(object, to as string | undefined)
    if (object.kind === 'routine' && property === 'definition' && object.value.form !== 'aggregate')
      return [more(object, String(to), property, to)]
    if (object.kind === 'extension' && property === 'schema')
      return [more(object, `ALTER EXTENSION ${ownName(object)} SET SCHEMA ${quote(String(to))}`, property, to)]
    if (object.kind === 'defaultRights' && property === 'rights')
      return asOne(
        object,
        defaultGrants({ ...object.value, rights: to as readonly Right[] }, object.value.rights),
        property,
        to,
        []
      )
    return undefined
  }

  /** A type beside the old one, which its columns then have. */
  const replaced = (was: Carried, now: Carried, users: readonly TypeUser[]): StepDraft[] => {
    if (was.kind !== 'type' || now.kind !== 'type') return []
    const away = `${was.value.name.slice(0, 50)}_t1`
    const name = freeName(now)
    const plain = (statement: string, why: string, more: Partial<StepDraft> = {}): StepDraft => ({
      statement,
      why,
      effects: [],
      hazards: [],
      about: was.address,
      ...more
    })
    const kept = now.value.values
    const lists = kept && `NOT IN (${kept.map(literal).join(', ')})`
    const columns = users.flatMap(({ table, column }): StepDraft[] => {
      const [owner, own] = [place(table.schema, table.name), quote(column.name)]
      const to = `${name}${column.type.endsWith('[]') ? '[]' : ''}`
      const alterColumn = `ALTER TABLE ${owner} ALTER COLUMN ${own}`
      const where = lists === undefined || to.endsWith('[]') ? undefined : `${own}::text ${lists}`
      return [
        ...(column.default === undefined
          ? []
          : [plain(`${alterColumn} DROP DEFAULT`, `takes the default of ${column.name} away`)]),
        plain(
          `${alterColumn} TYPE ${to} USING ${own}::text${to.endsWith('[]') ? '[]' : ''}::${to}`,
          `gives ${table.name}.${column.name} the new ${now.value.name}`,
          {
            hazards: [
              hazard('may fail', `fails if a value of ${column.name} is none of the new type`),
              hazard('rewrites table', 'every row is written again while the table is locked')
            ],
            ...(where === undefined
              ? {}
              : { preflight: preflight(`Which rows have a ${column.name} that is to go?`, owner, where) })
          }
        ),
        ...(column.default === undefined
          ? []
          : [plain(`${alterColumn} SET DEFAULT ${column.default}`, `sets the default of ${column.name} again`)])
      ]
    })
    const bare = (object: Carried) => {
      const { address: _, ...rest } = object
      return rest
    }
    return [
      plain(`ALTER TYPE ${freeName(was)} RENAME TO ${quote(away)}`, `makes room for the new ${now.value.name}`),
      plain(typeStatement(now.value), `makes ${now.value.name} as it is wanted`),
      ...columns,
      plain(
        `DROP ${was.value.form === 'domain' ? 'DOMAIN' : 'TYPE'} ${place(was.value.schema, away)}`,
        `removes the old ${was.value.name}`,
        {
          effects: [
            { action: 'drop', address: was.address, object: bare(was) },
            { action: 'create', address: now.address, object: bare(now) }
          ]
        }
      )
    ]
  }

  const carrier = standardCarrier(write, {
    kinds: KINDS,
    define,
    what,
    grantable,
    after,
    alter,
    replaced,
    owners: true
  })
  return {
    ...carrier,
    together,
    // The schema that every database begins with, and rights that one statement cannot say.
    create: (object) => {
      if (object.kind !== 'defaultRights') return carrier.create(object)
      return asOne(
        { ...object, value: { ...object.value, rights: [] } },
        defaultGrants(object.value, []),
        'rights',
        object.value.rights,
        []
      ).map((draft, i) =>
        i > 0
          ? draft
          : {
              ...draft,
              effects: [
                { action: 'create', address: object.address, object: { kind: 'defaultRights', value: object.value } }
              ]
            }
      )
    },
    drop: (object) =>
      object.kind === 'defaultRights'
        ? defaultGrants({ ...object.value, rights: [] }, object.value.rights).map((statement, i) => ({
            statement,
            why: 'takes back what new objects are given',
            effects:
              i > 0
                ? []
                : [
                    {
                      action: 'drop' as const,
                      address: object.address,
                      object: { kind: 'defaultRights' as const, value: object.value }
                    }
                  ],
            hazards: []
          }))
        : carrier.drop(object)
  }
}
