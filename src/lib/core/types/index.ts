export {
  flatType,
  holdsFields,
  isNumber,
  isPlain,
  NeutralTypeSchema,
  TYPE_CHOICES,
  parseType,
  printType,
  typesIn,
  type NeutralType,
  type PlainType,
  type StoredType
} from './neutral'
export { spokenType, type SpokenType } from './spoken'
