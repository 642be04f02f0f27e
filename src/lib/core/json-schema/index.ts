export { catalogOfSchema } from './catalog'
export { isJsonSchema, readJsonSchema, type SchemaRead } from './read'
export type { Schema } from './types'
export { jsonSchema } from './write'
