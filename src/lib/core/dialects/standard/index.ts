export { altered, computedAnew, created, dropped, hazard, preflight, standardAlterer, step } from './alter'
export { reshapes, rewriteHazards, writtenBeside } from './column'
export { literal, standardWriter } from './write'
export { oneOfAsText, tidyType } from './types'
