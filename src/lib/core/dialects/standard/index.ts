export { altered, created, hazard, preflight, standardAlterer, step } from './alter'
export { literal, standardWriter } from './write'
