// What a column means for every engine: the nearest neutral type, and a default that others have too. How it is kept by the
// engine that it comes from is for that engine's target to say.
import { findFree, type Catalog, type Column, type DataType } from '../catalog'
import type { Attribute } from '../design'
import type { Dialect } from '../dialects'
import type { NeutralType } from '../types'
import { attributeOf } from './place'

export function neutralAttribute(column: Column, catalog: Catalog, dialect: Dialect, name: string): Attribute {
  const type = neutralType(column.type, catalog, dialect)
  // What its default calls is in this database alone.
  const { default: preset, refs = [], ...rest } = column
  const isOwn = refs.some(({ to }) => to.kind === 'sequence' || to.kind === 'routine')
  return attributeOf(preset === undefined || isOwn ? rest : { ...rest, default: bare(preset) }, type, dialect, name)
}

/** A value without the type that the engine has put behind it: it is the column's. */
const bare = (preset: string) => /^('(?:[^']|'')*')::[^']+$/.exec(preset)?.[1] ?? preset

const TEXT: NeutralType = { kind: 'text' }

function neutralType(type: DataType, catalog: Catalog, dialect: Dialect, depth = 0): NeutralType {
  if (type.of) return { kind: 'json' }
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
