export {
  catalogSession,
  session,
  type Along,
  type Beside,
  type Chosen,
  type Comparison,
  type Scope,
  type Session,
  type TakenBack
} from './session'
export { LiveScript, type LiveState } from './live'
export { optionsOf, whyNoValue, withOption, type Optioned, type OptionPlace, type SaidOption } from './options'
export { said, unsaidIn } from './unsaid'
export { notUnicode, type NotUnicode } from './unicode'
