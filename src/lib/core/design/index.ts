export type {
  Area,
  Attribute,
  BesideName,
  CollectionName,
  Common,
  Departure,
  Design,
  Diagram,
  Domain,
  Entity,
  Extra,
  Grading,
  HandStep,
  Ignored,
  Index,
  Key,
  Link,
  Note,
  OwnCheck,
  Place,
  Rule,
  SavedQuery,
  ScriptSettings,
  ServerAddress,
  Settings,
  Subtypes,
  Target,
  View
} from './schema'
export { lineText, ServerSchema } from './schema'
export { BESIDE_NAMES, COLLECTIONS, IDENTIFIER, KEPT, NESTED, SCRIPT_PARTS, SUBTYPE_TABLES } from './schema'
export { dangling } from './check'
export { commonsOf } from './commons'
export { attributesOf } from './domains'
export { LEADING, leadingType, leads, ledType, typeWords } from './leading'
export { Draft, linksAt, rowIds } from './draft'
export { edit, Editing, type Edit } from './edit'
export { FILE_FORMAT, FILE_VERSION, parseDesign, printDesign } from './file'
export { begin, change, redo, undo, type History } from './history'
export { own } from './keyed'
export { ownerOf, type Owner } from './owner'
export { withPaths } from './paths'
export { printReference, referencesIn, replaceReferences, type TextReference } from './references'
export { newId, type IdKind } from './id'
export { told, type Told } from './told'
export { allAttributes, attributeIn, branches, fieldsOf, mapTree, siblingsOf, type Branch } from './tree'
export { mend, type Mended, type Pieces } from './mend'
export {
  freeName,
  Names,
  newAttribute,
  newCommon,
  newDesign,
  newDomain,
  newEntity,
  newLink,
  newTarget,
  newView,
  targetOf
} from './make'
export { applyChanges, diff, merge, type Conflict, type DesignChange, type Merged } from './diff'
