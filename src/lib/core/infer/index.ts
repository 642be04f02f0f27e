export { likelyAbbreviations, type LikelyAbbreviation } from './abbreviations'
export { besideTheModel, type Beside } from './beside'
export { accepted, suggestions, withSuggestions, type Suggestion } from './suggest'
export { catalogOfRows, type TextTable } from './rows'
