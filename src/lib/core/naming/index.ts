export { shortened, spelledOut, type Abbreviations } from './abbreviations'
export {
  constraintName,
  databaseName,
  join,
  linkColumnName,
  patterned,
  tableWords,
  USUAL_PATTERNS,
  whyNoPattern,
  wordsOf,
  type NamePrefix,
  type NamingRules,
  type PatternOf
} from './database-name'
export { inLetters, LETTERS, type Letters } from './letters'
export { inNumber } from './number'
export { hash, nameLength, shorten, type LengthUnit } from './shorten'
