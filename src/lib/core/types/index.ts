export { isNumber, NeutralTypeSchema, TYPE_CHOICES, parseType, printType, type NeutralType } from './neutral'
export { spokenType, type SpokenType } from './spoken'
