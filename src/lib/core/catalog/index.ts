export type * from './shapes'
export {
  KIND_WORDS,
  MEMBER_KINDS,
  sameSet,
  addressKey,
  emptyCatalog,
  findMember,
  findTable,
  memberAddress,
  members,
  tableAddress,
  withMembers,
  withTable
} from './walk'
export { renameIn, tableKey, type NameRule, type Renames } from './rename'
export { canonical, sameValue } from './canonical'
export {
  PROPERTIES,
  apply,
  inversePairs,
  invert,
  propertyOf,
  renamesOf,
  withProperty,
  type CatalogObject,
  type Change
} from './change'
export { kindsFitting, PlacedObjectSchema, propertyFits, type PlacedObject } from './schema'
export { usesColumn } from './uses'
