// All checks there are, the gravest first.
import type { Check } from './check'
import { bareSubtype } from './checks/bare-subtype'
import { dateAsText } from './checks/date-as-text'
import { defaultOutside } from './checks/default-outside'
import { emptyArea } from './checks/empty-area'
import { engineChanges } from './checks/engine-changes'
import { engineRefuses } from './checks/engine-refuses'
import { flagAsNumber } from './checks/flag-as-number'
import { indexTwice } from './checks/index-twice'
import { isolated } from './checks/isolated'
import { keyTooLong } from './checks/key-too-long'
import { limitOnWords } from './checks/limit-on-words'
import { limitsCrossed } from './checks/limits-crossed'
import { linkTypes } from './checks/link-types'
import { linkWithoutIndex } from './checks/link-without-index'
import { longChar } from './checks/long-char'
import { longName } from './checks/long-name'
import { missingFromOne } from './checks/missing-from-one'
import { moneyAsFloat } from './checks/money-as-float'
import { narrowerType } from './checks/narrower-type'
import { noColumns } from './checks/no-columns'
import { noKey } from './checks/no-key'
import { noMeaning } from './checks/no-meaning'
import { numberedColumns } from './checks/numbered-columns'
import { oddName } from './checks/odd-name'
import { oneValue } from './checks/one-value'
import { optionalUnique } from './checks/optional-unique'
import { pluralNames } from './checks/plural-names'
import { referOrEmbed } from './checks/refer-or-embed'
import { requiredCircle } from './checks/required-circle'
import { reservedName } from './checks/reserved-name'
import { sameNameOtherType } from './checks/same-name-other-type'
import { similarNames } from './checks/similar-names'
import { uniqueInKey } from './checks/unique-in-key'
import { unusedDomain } from './checks/unused-domain'
import { wideEntity } from './checks/wide-entity'
import { zonesMixed } from './checks/zones-mixed'

export const CHECKS: readonly Check[] = [
  engineRefuses,
  keyTooLong,
  requiredCircle,
  defaultOutside,
  limitsCrossed,
  linkTypes,
  narrowerType,
  engineChanges,
  reservedName,
  moneyAsFloat,
  dateAsText,
  limitOnWords,
  indexTwice,
  similarNames,
  noColumns,
  bareSubtype,
  emptyArea,
  flagAsNumber,
  isolated,
  linkWithoutIndex,
  longChar,
  longName,
  missingFromOne,
  noKey,
  noMeaning,
  numberedColumns,
  oddName,
  oneValue,
  optionalUnique,
  pluralNames,
  referOrEmbed,
  sameNameOtherType,
  uniqueInKey,
  unusedDomain,
  wideEntity,
  zonesMixed
]
