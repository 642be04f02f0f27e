export { embeddings, keptBy, whyNotEmbedded } from './embedded'
export { deriveAgain, type Standing } from './again'
export { derive, type DeriveTarget, type Derived } from './derive'
export { sidesOf } from './bridge'
export {
  logical,
  plainName,
  plainTable,
  type LogicalColumn,
  type LogicalEntity,
  type LogicalForeignKey,
  type LogicalModel
} from './logical'
export { mendDesign, ownText, readDesign, whyNeverWhole } from './open'
export { sameFace } from './reach'
export { nestedIn } from './nested'
export { renamedBy, type Renamed } from './renamed'
export { parseDefault } from './values'
export { inNames, inReferences } from './views'
