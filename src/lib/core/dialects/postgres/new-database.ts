import type { NewDatabase } from '../dialect'
import { literal, newDatabase } from '../standard'

/** Manual, CREATE DATABASE: another locale than that of the server is had from template0 alone. */
export const postgresDatabase = (quote: (name: string) => string): NewDatabase =>
  newDatabase(
    [
      {
        name: 'encoding',
        label: 'Encoding',
        usual: 'UTF8',
        meaning: 'Which characters its texts may have: UTF8 has all of Unicode.'
      },
      {
        name: 'locale',
        label: 'Locale',
        usual: 'C.UTF-8',
        meaning: 'How its texts are sorted and what is a letter, by a name that the server’s system knows.'
      }
    ],
    (name, said) =>
      `CREATE DATABASE ${quote(name)} TEMPLATE template0 ENCODING ${literal(said('encoding'))} LOCALE ${literal(said('locale'))}`,
    // "psql", Meta-Commands.
    (name) => `\\connect ${quote(name)}`
  )
