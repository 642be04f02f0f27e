// Types of the database's own: manual, CREATE TYPE, CREATE DOMAIN and their ALTER.
import { sameValue, type Check, type TypeField, type TypeObject } from '../../../catalog'
import type { Carried, StepDraft } from '../../dialect'
import { alteredThing as altered, hazard, literal, step } from '../../standard'
import { fieldBefore, sameField } from './types-again'
import type { Words } from './words'

type Type = Carried & { readonly kind: 'type' }

export function typeCarrier({ quote, place, typeName, freeName, more, said, asOne }: Words) {
  const checkClause = ({ name, expression, options }: Check) =>
    `CONSTRAINT ${quote(name)} CHECK (${expression})${options?.['not valid'] ? ' NOT VALID' : ''}`
  const fieldClause = ({ name, type, collation }: TypeField) =>
    `${quote(name)} ${typeName(type)}${collation === undefined ? '' : ` COLLATE ${collation}`}`

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
          `CREATE DOMAIN ${name} AS ${type.base ? typeName(type.base) : 'text'}`,
          type.collation && `COLLATE ${type.collation}`,
          type.default !== undefined && `DEFAULT ${type.default}`,
          type.nullable === false && 'NOT NULL',
          ...(type.checks ?? []).filter((check) => !check.options?.['not valid']).map(checkClause)
        ]
          .filter((part) => part)
          .join(' ')
    }
  }

  /** What the statement that makes a type cannot say with it. */
  const afterType = (object: Type): StepDraft[] => {
    const drafts: StepDraft[] = []
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
    return drafts
  }

  const alterType = (object: Type, property: string, to: unknown, held = false): StepDraft[] | undefined => {
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
    if (value.form === 'composite' && property === 'fields')
      return alterFields(object, to as readonly TypeField[], held)
    return undefined
  }

  /** An enum gets more values, each beside the one that it stands by. */
  const addValues = (object: Type, to: readonly string[]): StepDraft[] | undefined => {
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

  const alterChecks = (object: Type, to: readonly Check[]): StepDraft[] => {
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

  const alterFields = (object: Type, to: readonly TypeField[], held: boolean): StepDraft[] | undefined => {
    const type = `ALTER TYPE ${freeName(object)}`
    const drafts: StepDraft[] = []
    let now = object
    for (const field of to) {
      const from = now.value.fields ?? []
      const was = fieldBefore(field, from, to, typeName)
      if (!was || was.name === field.name) continue
      const next = from.map((other) => (other === was ? { ...other, name: field.name } : other))
      drafts.push(
        step(
          `${type} RENAME ATTRIBUTE ${quote(was.name)} TO ${quote(field.name)} CASCADE`,
          `calls the field ${was.name} of ${object.value.name} ${field.name}: it is in its place and of its type`,
          altered(now, 'fields', next)
        )
      )
      now = { ...now, value: { ...now.value, fields: next } }
    }
    const from = now.value.fields ?? []
    const order = (list: readonly TypeField[], other: readonly TypeField[]) =>
      list.map((field) => field.name).filter((name) => other.some((field) => field.name === name))
    const added = to.filter((field) => !from.some((other) => other.name === field.name))
    const others = to.filter((field) =>
      from.some((other) => other.name === field.name && !sameField(other, field, typeName))
    )
    // New fields come last, as the engine puts them; what rows hold of a field is not converted.
    if (!sameValue(order(from, to), order(to, from)) || !sameValue(to.slice(to.length - added.length), added))
      return undefined
    if (held && others.length > 0) return undefined
    const gone = from.filter((field) => !to.some((other) => other.name === field.name))
    const statements = [
      ...gone.map(({ name }) => `${type} DROP ATTRIBUTE ${quote(name)} CASCADE`),
      ...others.map((field) => `${type} ALTER ATTRIBUTE ${fieldClause(field).replace(' ', ' TYPE ')} CASCADE`),
      ...added.map((field) => `${type} ADD ATTRIBUTE ${fieldClause(field)} CASCADE`),
      ...to
        .filter((field) => field.comment !== from.find((other) => other.name === field.name)?.comment)
        .map(
          ({ name, comment }) =>
            `COMMENT ON COLUMN ${freeName(object)}.${quote(name)} IS ${comment === undefined ? 'NULL' : literal(comment)}`
        )
    ]
    const lost = gone.length > 0 ? [hazard('loses data', 'what a field holds goes with it')] : []
    return [...drafts, ...asOne(now, statements, 'fields', to, lost)]
  }

  return { typeStatement, afterType, alterType }
}
