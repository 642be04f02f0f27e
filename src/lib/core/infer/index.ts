export { suggestions, withSuggestions, type Suggestion } from './suggest'
export { catalogOfRows, type TextTable } from './rows'
