import type { NewDatabase } from '../dialect'
import { literal, newDatabase } from '../standard'

/** Language Reference, CREATE DATABASE: a page of 32,768 bytes from 4.0. */
export const firebirdDatabase = (version: string): NewDatabase =>
  newDatabase(
    [
      {
        name: 'page size',
        label: 'Page size',
        usual: '8192',
        values: ['4096', '8192', '16384', ...(version === '3.0' ? [] : ['32768'])],
        meaning: 'In bytes. A key may take a quarter of a page.'
      },
      {
        name: 'character set',
        label: 'Character set',
        usual: 'UTF8',
        meaning: 'Which characters its texts may have: UTF8 has all of Unicode.'
      }
    ],
    (name, said) =>
      `CREATE DATABASE ${literal(name)} PAGE_SIZE ${said('page size')} DEFAULT CHARACTER SET ${said('character set')}`
  )
