// Types of the database's own: manual, CREATE TYPE, ALTER TYPE, CREATE DOMAIN, ALTER DOMAIN.
import { freeAddress, type Check, type Ref, type TypeField, type TypeObject } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { takeCollation } from './columns'
import { takeWhen } from './constraints'
import type { Reading } from './reading'
import { takeText } from './routines'
import { tableText } from './texts'
import { fullType, takeType } from './types'

function takeField(part: Cursor, refs: Map<string, Ref>, reading: Reading): TypeField {
  const name = part.name()
  const { type, refs: found = [] } = takeType(part, reading)
  for (const ref of found) refs.set(JSON.stringify(ref.to), ref)
  const collation = part.take('collate') ? takeCollation(part, reading) : undefined
  part.take('cascade')
  part.finish()
  return { name, type, ...(collation === undefined ? {} : { collation }) }
}

const withRefs = (refs: ReadonlyMap<string, Ref>) => (refs.size ? { refs: [...refs.values()] } : {})

/** After CREATE TYPE; false for one that the server is told how to keep, which no catalogue holds. */
export function createType(cursor: Cursor, reading: Reading): boolean {
  const place = reading.home(cursor.path())
  if (reading.standing.free('type', place.schema, place.name))
    throw new NotUnderstood(`There is a type ${place.name} in ${place.schema} already.`)
  if (!cursor.take('as')) {
    reading.unread.push({ kind: 'base type', name: `${place.schema}.${place.name}` })
    return false
  }
  const refs = new Map<string, Ref>()
  if (cursor.take('enum')) {
    const values = cursor
      .group()
      .parts()
      .map((part) => takeText(part))
    reading.create('type', { ...place, form: 'enum', values })
  } else if (cursor.take('range')) {
    reading.create('type', {
      ...place,
      form: 'range',
      options: rangeOptions(cursor.group(), place, refs, reading),
      ...withRefs(refs)
    })
  } else {
    const fields = cursor
      .group()
      .parts()
      .map((part) => takeField(part, refs, reading))
    reading.create('type', { ...place, form: 'composite', fields, ...withRefs(refs) })
  }
  cursor.finish()
  return true
}

/** Manual, CREATE TYPE: a range's name with “multirange” for “range”, or with that behind it, is its multirange's. */
function rangeOptions(
  group: Cursor,
  { schema, name }: { readonly schema: string; readonly name: string },
  refs: Map<string, Ref>,
  reading: Reading
): Record<string, string> {
  const { quote } = reading.write
  const said: Record<string, string> = {}
  let multi = name.includes('range') ? name.replace('range', 'multirange') : `${name}_multirange`
  let multiSchema = schema
  for (const part of group.parts()) {
    const key = part.name().toLowerCase()
    part.take('=')
    if (key === 'subtype') {
      const { type, refs: found = [] } = takeType(part, reading)
      for (const ref of found) refs.set(JSON.stringify(ref.to), ref)
      said[key] = fullType(type, quote)
    } else if (key === 'multirange_type_name') {
      const path = part.path()
      multi = path.at(-1) ?? multi
      multiSchema = path.at(-2) ?? schema
    } else
      said[key] = part
        .path()
        .filter((name) => name !== 'pg_catalog')
        .map(quote)
        .join('.')
  }
  return {
    ...said,
    ...(reading.version >= 14 ? { multirange_type_name: `${quote(multiSchema)}.${quote(multi)}` } : {})
  }
}

/** After CREATE DOMAIN. */
export function createDomain(cursor: Cursor, reading: Reading): void {
  const place = reading.home(cursor.path())
  if (reading.standing.free('type', place.schema, place.name))
    throw new NotUnderstood(`There is a type ${place.name} in ${place.schema} already.`)
  cursor.take('as')
  const { type: base, refs: found = [] } = takeType(cursor, reading)
  const refs = new Map(found.map((ref) => [JSON.stringify(ref.to), ref]))
  // A domain on another has that one's default for its own.
  const under = base.schema === undefined ? undefined : reading.standing.free('type', base.schema, base.name)
  const preset = under?.form === 'domain' ? under.default : undefined
  let domain: TypeObject = { ...place, form: 'domain', base, ...(preset === undefined ? {} : { default: preset }) }
  while (!cursor.done) {
    if (cursor.take('collate')) {
      const collation = takeCollation(cursor, reading)
      if (collation !== undefined) domain = { ...domain, collation }
    } else if (cursor.take('default')) {
      const { text, refs: called = [] } = tableText(cursor.until(STOPS), reading)
      for (const ref of called) refs.set(JSON.stringify(ref.to), ref)
      domain = { ...domain, default: text }
    } else domain = takeRule(cursor, domain, refs, reading)
  }
  reading.create('type', { ...domain, ...withRefs(refs) })
}

const STOPS = new Set('constraint not null check collate'.split(' '))

function takeRule(cursor: Cursor, domain: TypeObject, refs: Map<string, Ref>, reading: Reading): TypeObject {
  const own = cursor.take('constraint') ? cursor.name() : undefined
  if (cursor.take('not', 'null')) return { ...domain, nullable: false }
  if (cursor.take('null')) return domain
  if (!cursor.take('check')) throw new NotUnderstood(`Nothing of a domain is said by “${cursor.word()}”.`)
  const { text, refs: called = [] } = tableText(cursor.inside(), reading)
  for (const ref of called) refs.set(JSON.stringify(ref.to), ref)
  const { valid } = takeWhen(cursor)
  const checks = domain.checks ?? []
  const taken = new Set(checks.map(({ name }) => name))
  const name = own ?? reading.constraintName(domain.schema, domain.name, '', 'check', taken)
  const check: Check = { name, expression: text, ...(valid ? {} : { options: { 'not valid': 'yes' } }) }
  return { ...domain, checks: [...checks, check].sort((a, b) => (a.name < b.name ? -1 : 1)) }
}

/** After ALTER DOMAIN and its name. */
export function alterDomain(cursor: Cursor, domain: TypeObject, reading: Reading): void {
  const address = freeAddress('type', domain)
  const set = (property: string, value: unknown) => reading.set(address, property, value)
  const without = (name: string) => (domain.checks ?? []).filter((check) => check.name !== name)
  const checks = (list: readonly Check[]) => set('checks', list.length ? list : undefined)
  if (cursor.take('set', 'default')) set('default', tableText(cursor.rest(), reading).text)
  else if (cursor.take('drop', 'default')) set('default', undefined)
  else if (cursor.take('set', 'not', 'null')) set('nullable', false)
  else if (cursor.take('drop', 'not', 'null')) set('nullable', undefined)
  else if (cursor.take('add')) {
    const refs = new Map<string, Ref>()
    reading.replace('type', takeRule(cursor, domain, refs, reading))
  } else if (cursor.take('drop', 'constraint')) {
    const gently = cursor.take('if', 'exists')
    const name = cursor.name()
    if (without(name).length === (domain.checks ?? []).length && !gently)
      throw new NotUnderstood(`${domain.name} has no constraint ${name}.`)
    checks(without(name))
  } else if (cursor.take('rename', 'constraint')) {
    const from = cursor.name()
    cursor.expect('to')
    const to = cursor.name()
    checks((domain.checks ?? []).map((check) => (check.name === from ? { ...check, name: to } : check)))
  } else if (cursor.take('validate', 'constraint')) {
    const name = cursor.name()
    checks(
      (domain.checks ?? []).map(({ options, ...check }) =>
        check.name === name || !options ? check : { ...check, options }
      )
    )
  } else throw new NotUnderstood(`A domain is not changed by “${cursor.word()}”.`)
}

/** After ALTER TYPE and its name. */
export function alterType(cursor: Cursor, type: TypeObject, reading: Reading): void {
  const address = freeAddress('type', type)
  const { values = [], fields = [] } = type
  if (cursor.take('add', 'value')) {
    const gently = cursor.take('if', 'not', 'exists')
    const value = takeText(cursor)
    const side = cursor.takeOne('before', 'after')
    const beside = side === undefined ? undefined : takeText(cursor)
    cursor.finish()
    if (values.includes(value)) {
      if (gently) return
      throw new NotUnderstood(`${type.name} has the value ${value} already.`)
    }
    const at = beside === undefined ? values.length : values.indexOf(beside)
    if (at < 0) throw new NotUnderstood(`${type.name} has no value ${beside ?? ''}.`)
    const place = side === 'after' ? at + 1 : at
    return reading.set(address, 'values', [...values.slice(0, place), value, ...values.slice(place)])
  }
  if (cursor.take('rename', 'value')) {
    const from = takeText(cursor)
    cursor.expect('to')
    const to = takeText(cursor)
    return reading.set(
      address,
      'values',
      values.map((value) => (value === from ? to : value))
    )
  }
  if (cursor.take('rename', 'attribute')) {
    const from = cursor.name()
    cursor.expect('to')
    const to = cursor.name()
    return reading.set(
      address,
      'fields',
      fields.map((field) => (field.name === from ? { ...field, name: to } : field))
    )
  }
  const refs = new Map<string, Ref>()
  let now = fields
  for (const part of cursor.parts()) {
    if (part.take('add', 'attribute')) now = [...now, takeField(part, refs, reading)]
    else if (part.take('drop', 'attribute')) {
      part.take('if', 'exists')
      const name = part.name()
      now = now.filter((field) => field.name !== name)
    } else if (part.take('alter', 'attribute')) {
      const name = part.name()
      if (!part.take('set', 'data', 'type')) part.expect('type')
      const { type: to } = takeType(part, reading)
      const collation = part.take('collate') ? takeCollation(part, reading) : undefined
      now = now.map(({ collation: _was, ...field }) =>
        field.name === name ? { ...field, type: to, ...(collation === undefined ? {} : { collation }) } : field
      )
    } else throw new NotUnderstood(`A type is not changed by “${part.word()}”.`)
  }
  reading.set(address, 'fields', now)
}
