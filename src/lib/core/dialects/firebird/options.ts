// What only this engine has of kinds that all have. "Collations" of the language reference.
import type { DeclaredOption } from '../dialect'

export const firebirdOptions: readonly DeclaredOption[] = [
  {
    name: 'collation',
    on: ['column'],
    at: { property: 'collation' },
    values: 'a name',
    meaning: 'How its text is compared and sorted; as its character set or domain has it when not said.',
    changes: 'in place'
  }
]
