export { suggestions, withSuggestions, type Suggestion } from './suggest'
