// What a column means for every engine: the nearest neutral type, and a default that others have too. How it is kept by the
// engine that it comes from is for that engine's target to say.
import { findFree, type Catalog, type Column, type DataType, type Ref } from '../catalog'
import type { Attribute } from '../design'
import type { Dialect } from '../dialects'
import { compareExpressions } from '../sql'
import { isPlain, type NeutralType } from '../types'
import type { Naming } from './names'
import { attributeOf } from './place'
import { presetForAll } from './presets'

export function neutralAttribute(column: Column, catalog: Catalog, naming: Naming, name: string): Attribute {
  const { dialect } = naming
  const type = neutralType(column.type, catalog, dialect)
  const { default: preset, refs: _refs, ...rest } = column
  // Each engine writes bytes in its own way.
  const isOwn = callsOwn(column) || type.kind === 'binary'
  const forAll = preset === undefined || isOwn ? undefined : presetForAll(plainly(preset, dialect), { type }, dialect)
  return attributeOf({ ...rest, ...(forAll === undefined ? {} : { default: forAll }) }, type, naming, name)
}

/** Whether an object calls what is in its database alone. */
export const callsOwn = ({ refs = [] }: { readonly refs?: readonly Ref[] }): boolean =>
  refs.some(({ to }) => to.kind === 'sequence' || to.kind === 'routine')

/** What an expression says for any engine; as it is, where that would be something else. */
export function plainly(expression: string, { plain, write: { lexis } }: Dialect): string {
  const said = plain?.(expression) ?? expression
  return compareExpressions(said, expression, lexis) === 'different' ? expression : said
}

const TEXT: NeutralType = { kind: 'text' }

function neutralType(type: DataType, catalog: Catalog, dialect: Dialect, depth = 0): NeutralType {
  // What holds others is all said by its type.
  const whole = dialect.profile.features.fields ? dialect.types.toNeutral(type) : undefined
  if (whole && whole.kind !== 'native') return whole
  if (type.of) {
    const of = neutralType(type.of, catalog, dialect, depth + 1)
    return isPlain(of) ? { kind: 'list', of } : { kind: 'json' }
  }
  const own =
    type.schema === undefined || depth > DEEPEST ? undefined : findFree(catalog, 'type', type.schema, type.name)
  if (own?.form === 'enum' && own.values && own.values.length > 0) return { kind: 'oneOf', values: [...own.values] }
  if (own?.base) return neutralType(own.base, catalog, dialect, depth + 1)
  if (own?.form === 'composite') return { kind: 'json' }
  const near = [type, { name: type.name }, { name: type.name.split(' ', 1).join() }]
    .map((form) => dialect.types.toNeutral(form))
    .find(({ kind }) => kind !== 'native')
  return near ?? (type.schema === undefined ? listed(type) : TEXT)
}

/** Domains of domains; the engine allows no circle. */
const DEEPEST = 50

/** Values that a type lists by itself. */
function listed({ name, args = [] }: DataType): NeutralType {
  const values = args.map((arg) => /^'((?:[^']|'')*)'$/.exec(arg)?.[1]?.replaceAll("''", "'"))
  return name === 'enum' && values.length > 0 && values.every((value) => value !== undefined)
    ? { kind: 'oneOf', values: [...new Set(values)] }
    : TEXT
}
