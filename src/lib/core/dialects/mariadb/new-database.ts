import type { NewDatabase } from '../dialect'
import { newDatabase } from '../standard'
import type { Member } from './family'

/** "CREATE DATABASE". */
export const mariadbDatabase = (quote: (name: string) => string, { collation }: Member): NewDatabase =>
  newDatabase(
    [
      {
        name: 'character set',
        label: 'Character set',
        usual: 'utf8mb4',
        meaning: 'Which characters its texts may have: utf8mb4 has all of Unicode.'
      },
      {
        name: 'collation',
        label: 'Collation',
        usual: collation,
        meaning: 'How its texts are compared and sorted where no table or column says it otherwise.'
      }
    ],
    (name, said) =>
      `CREATE DATABASE ${quote(name)} CHARACTER SET ${said('character set')} COLLATE ${said('collation')}`,
    (name) => `USE ${quote(name)}`
  )
