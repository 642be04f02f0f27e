export { shortened, spelledOut, type Abbreviations } from './abbreviations'
export { constraintName, databaseName, join, linkColumnName, wordsOf, type NamingRules } from './database-name'
export { hash, nameLength, shorten, type LengthUnit } from './shorten'
