// Texts that hold documents, or say what documents are, as one catalogue.
import type { Catalog } from '../core/catalog'
import type { Dialect } from '../core/dialects'
import { catalogOfDocuments, documentsIn } from '../core/infer'
import { catalogOfSchema, isJsonSchema, type Schema } from '../core/json-schema'

export interface TextFile {
  readonly name: string
  readonly text: string
}

/** Rejects with a sentence where a text holds neither. */
export function catalogOfTexts(files: readonly TextFile[], engine: Dialect): Catalog {
  const schemas = files.flatMap(({ name, text }) => {
    const value = parsed(text)
    return isJsonSchema(value) ? [{ name, schema: value as Schema }] : []
  })
  const documents = files.filter(({ name }) => !schemas.some((one) => one.name === name))
  const told =
    documents.length > 0
      ? catalogOfDocuments(
          documents.flatMap(({ name, text }) => documentsIn(text, name)),
          engine
        )
      : undefined
  const all = [
    ...(told ? [told] : []),
    ...schemas.map(({ schema, name }) => catalogOfSchema(schema, name.replace(/[.-]schema$/i, ''), engine))
  ]
  const [first] = all
  if (!first) throw new Error('There is nothing to read.')
  return { ...first, tables: all.flatMap(({ tables }) => tables), unread: all.flatMap(({ unread }) => unread) }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text) as unknown
  } catch {
    return undefined
  }
}
