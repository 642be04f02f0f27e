export { compare, compareProperty, difference, type CompareInput, type Comparison } from './compare'
export type { ConfirmedRename, LikelyRename } from './match'
export { identified } from './identified'
