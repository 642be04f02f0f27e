// Types that cannot be changed in place: made beside the old ones, whose columns they are given to.
import { sameValue, type DataType, type TypeField, type TypeObject } from '../../../catalog'
import type { Carried, StepDraft, TypeAgain, TypeUser } from '../../dialect'
import { hazard, literal, preflight } from '../../standard'
import type { Words } from './words'

export const sameField = (a: TypeField, b: TypeField, typeName: (type: DataType) => string) =>
  typeName(a.type) === typeName(b.type) && a.collation === b.collation

/** What a new field was: of its name before; or what stood in its place, was of its type, and is there no more. */
export function fieldBefore(
  field: TypeField,
  from: readonly TypeField[],
  to: readonly TypeField[],
  typeName: (type: DataType) => string
): TypeField | undefined {
  const named = from.find(({ name }) => name === field.name)
  const there = from[to.indexOf(field)]
  const isCalledOtherwise = there && !to.some(({ name }) => name === there.name) && sameField(there, field, typeName)
  return named ?? (isCalledOtherwise ? there : undefined)
}

/** `make` gives what makes a type with its owner and all that is said of it. */
export function typesAgain({ quote, place, typeName, freeName }: Words, make: (type: TypeAgain) => StepDraft[]) {
  const plain = (statement: string, why: string, more: Partial<StepDraft> = {}): StepDraft => ({
    statement,
    why,
    effects: [],
    hazards: [],
    ...more
  })

  return (types: readonly TypeAgain[]): StepDraft[] => {
    const values = valuesOf(types)
    const each = types.map((type) => {
      const [was, now] = [type.was.value as TypeObject, type.now.value as TypeObject]
      const about = { about: type.was.address }
      const away = `${was.name.slice(0, 50)}_t1`
      return {
        away: plain(
          `ALTER TYPE ${freeName(type.was)} RENAME TO ${quote(away)}`,
          `makes room for the new ${now.name}`,
          about
        ),
        made: make(type).map((draft) => ({ ...draft, ...about, effects: [] })),
        given: type.users.flatMap((user) => given(user, now, values).map((draft) => ({ ...draft, ...about }))),
        gone: plain(
          `DROP ${was.form === 'domain' ? 'DOMAIN' : 'TYPE'} ${place(was.schema, away)}`,
          `removes the old ${was.name}`,
          {
            ...about,
            effects: [
              { action: 'drop', address: type.was.address, object: bare(type.was) },
              { action: 'create', address: type.now.address, object: bare(type.now) }
            ]
          }
        )
      }
    })
    return [
      ...each.map(({ away }) => away),
      ...each.flatMap(({ made }) => made),
      ...each.flatMap(({ given }) => given),
      ...each.toReversed().map(({ gone }) => gone)
    ]
  }

  /** How values of the old types become values of the new. */
  function valuesOf(types: readonly TypeAgain[]) {
    const key = ({ schema, name }: DataType | TypeObject) => JSON.stringify([schema, name])
    const byName = new Map(types.map(({ was, now }) => [key(now.value as TypeObject), [was.value, now.value] as [TypeObject, TypeObject]])) // prettier-ignore
    /** The text of an old value says the new one. */
    const isText = (type: DataType): boolean => {
      const [was, now] = byName.get(key(type.of ?? type)) ?? []
      if (!was || !now) return true
      if (now.base) return isText(now.base)
      const [from, to] = [was.fields ?? [], now.fields ?? []]
      const names = (fields: readonly TypeField[]) => fields.map((field) => field.name)
      return sameValue(names(from), names(to)) && to.every((field) => isText(field.type))
    }
    const value = (old: string, type: DataType): string => {
      const [was, now] = byName.get(key(type)) ?? []
      if (type.of || !was || !now || isText(type)) return `${old}::text::${typeName(type)}`
      if (now.base) return `${value(old, now.base)}::${typeName(type)}`
      const [from, to] = [was.fields ?? [], now.fields ?? []]
      const fields = to.map((field) => {
        const before = fieldBefore(field, from, to, typeName)
        if (!before) return 'NULL'
        const own = `(${old}).${quote(before.name)}`
        const isAsItWas = sameField(before, field, typeName) && !byName.has(key(field.type.of ?? field.type))
        return isAsItWas ? own : value(own, field.type)
      })
      return `CASE WHEN ${old} IS DISTINCT FROM NULL THEN ROW(${fields.join(', ')})::${typeName(type)} END`
    }
    return { isText, value }
  }

  /** A column gets the new type in the place of the old. */
  function given({ table, column }: TypeUser, now: TypeObject, { isText, value }: ReturnType<typeof valuesOf>) {
    const [owner, own] = [place(table.schema, table.name), quote(column.name)]
    const isList = column.type.of !== undefined
    const kept = isList ? undefined : now.values
    const alterColumn = `ALTER TABLE ${owner} ALTER COLUMN ${own}`
    const withDefault = (drafts: StepDraft[]) =>
      column.default === undefined
        ? drafts
        : [
            plain(`${alterColumn} DROP DEFAULT`, `takes the default of ${column.name} away`),
            ...drafts,
            plain(`${alterColumn} SET DEFAULT ${column.default}`, `sets the default of ${column.name} again`)
          ]
    return withDefault([
      plain(
        `${alterColumn} TYPE ${typeName(column.type)} USING ${value(own, column.type)}`,
        `gives ${table.name}.${column.name} the new ${now.name}`,
        {
          hazards: [
            hazard('may fail', `fails if a value of ${column.name} is none of the new type`),
            hazard('rewrites table', 'every row is written again while the table is locked'),
            ...(isList && !isText(column.type)
              ? [
                  hazard(
                    'loses data',
                    `the fields of a list are taken by their place: ${column.name} may fail, or mix them up`
                  )
                ]
              : [])
          ],
          ...(kept
            ? {
                preflight: preflight(
                  `Which rows have a ${column.name} that is to go?`,
                  owner,
                  `${own}::text NOT IN (${kept.map(literal).join(', ')})`
                )
              }
            : {})
        }
      )
    ])
  }
}

const bare = (object: Carried) => {
  const { address: _, ...rest } = object
  return rest
}
