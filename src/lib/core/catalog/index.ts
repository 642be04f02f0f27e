export type * from './shapes'
export {
  CONSTRAINED,
  FREE_KINDS,
  isCarried,
  isConstrained,
  isFree,
  KIND_WORDS,
  KINDS,
  MEMBER_KINDS,
  PROPERTIES,
  VIEW_MEMBER_KINDS,
  type Constrained,
  type ObjectOf
} from './kinds'
export {
  addressKey,
  addressOf,
  emptyCatalog,
  find,
  findFree,
  findMember,
  findRelation,
  findTable,
  freeAddress,
  inTable,
  isView,
  memberAddress,
  members,
  namesOf,
  objectsOf,
  renamedTo,
  sameSet,
  tableAddress,
  withFree,
  withMembers,
  withObjects,
  withTable,
  withoutComments
} from './walk'
export { beside, dotted, EACH, EVERY, holderOf, isWithin, leafOf, movedPath } from './field-paths'
export { printedIn, renameIn, tableKey, TextRenames, type NameRule, type Renames } from './rename'
export { canonical, sameValue } from './canonical'
export { numbersOf, readType, typeText, type DataType } from './data-type'
export { withTypes } from './older'
export { holdingLink, HOLDS, madeFrom, sameOrigin, type MadeFrom } from './origins'
export {
  Standing,
  applied,
  apply,
  compose,
  Misfit,
  inversePairs,
  invert,
  propertyOf,
  renamesOf,
  withProperty,
  type CatalogObject,
  type Change
} from './change'
export {
  AddressSchema,
  kindsFitting,
  optionIn,
  optionProperty,
  PlacedObjectSchema,
  propertyFits,
  type PlacedObject
} from './schema'
export { looksBeyond, usersOfColumn, usesColumn, worksFrom, type Inner } from './uses'
export {
  carriedIn,
  foreignKeysTo,
  Graph,
  refsOf,
  refsOfAll,
  refsOfTable,
  standingOn,
  type ChildKey,
  type Ground,
  type Placed
} from './graph'
