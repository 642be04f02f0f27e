export { NeutralTypeSchema, TYPE_CHOICES, parseType, printType, type NeutralType } from './neutral'
