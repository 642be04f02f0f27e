// What a column is taken for by its name, where nobody says its type. Common practice, no source.
import type { NeutralType } from '../types'

const GUESSES: readonly (readonly [RegExp, NeutralType])[] = [
  [/\bat$|\b(time ?stamp|moment)$/, { kind: 'timestamp' }],
  [/\bon$|\b(date|day|birthday|since|until)$/, { kind: 'date' }],
  [/\b(time|o'?clock)$/, { kind: 'time' }],
  [/^(is|has|may|can|was)\b|\b(flag|enabled|active|locked|done)$/, { kind: 'boolean' }],
  [/\b(amount|price|cost|fee|total|balance|rate)$/, { kind: 'decimal', precision: 12, scale: 2 }],
  [/\b(weight|length|width|height|depth|draught|area|volume)$/, { kind: 'decimal', precision: 10, scale: 3 }],
  [/\b(count|quantity|number of .+|no|age|year|position|rank)$/, { kind: 'integer' }],
  [/\b(e-?mail|mail)$/, { kind: 'text', length: 254 }],
  [/\b(url|link|website|path)$/, { kind: 'text', length: 2000 }],
  [/\b(phone|fax|mobile)$/, { kind: 'text', length: 40 }],
  [/\b(code|abbreviation)$/, { kind: 'text', length: 20 }],
  [/\b(remarks?|notes?|comments?|description|body|text)$/, { kind: 'text' }],
  [/\b(uuid|guid)$/, { kind: 'uuid' }]
]
const USUAL: NeutralType = { kind: 'text', length: 100 }

export const guessedType = (name: string): NeutralType =>
  GUESSES.find(([pattern]) => pattern.test(name.toLowerCase()))?.[1] ?? USUAL
