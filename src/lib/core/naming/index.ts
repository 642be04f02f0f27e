export { shortened, spelledOut, type Abbreviations } from './abbreviations'
export {
  constraintName,
  databaseName,
  join,
  linkColumnName,
  tableWords,
  USUAL_PATTERNS,
  whyNoPattern,
  wordsOf,
  type NamePrefix,
  type NamingRules
} from './database-name'
export { inNumber } from './number'
export { hash, nameLength, shorten, type LengthUnit } from './shorten'
