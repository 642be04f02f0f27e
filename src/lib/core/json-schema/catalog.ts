// A schema as a catalogue of an engine that keeps documents.
import { canonical, type Catalog } from '../catalog'
import { derive } from '../derive'
import { targetOf } from '../design'
import type { Dialect } from '../dialects'
import { readJsonSchema } from './read'
import type { Schema } from './types'

/** What it speaks of as collections; what no design has words for is what was not read. */
export function catalogOfSchema(schema: Schema, name: string, engine: Dialect): Catalog {
  const { design, notices } = readJsonSchema(schema, name)
  const { catalog } = derive(design, targetOf(design, undefined), engine)
  return { ...canonical(catalog), unread: notices.map(({ message }) => ({ kind: 'JSON Schema', name: message })) }
}
