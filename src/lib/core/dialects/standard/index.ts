export { altered, created, dropped, hazard, preflight, standardAlterer, step } from './alter'
export { literal, standardWriter } from './write'
export { oneOfAsText, tidyType } from './types'
