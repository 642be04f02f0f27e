// How what stands by its own text is made and taken away: "CREATE VIEW", "CREATE TRIGGER", "CREATE SEQUENCE" of the documentation;
// routines and events are made by the statement that they are.
import type { Sequence, View } from '../../catalog'
import type { Carrier } from '../dialect'
import { standardCarrier } from '../standard'
import type { Member } from './family'
import type { MariadbWriter } from './write'

export function mariadbCarrier(write: MariadbWriter, { sequences }: Member): Carrier {
  const view = ({ name, query, columns, options = {} }: View): string =>
    [
      'CREATE',
      options['algorithm'] !== undefined && `ALGORITHM=${options['algorithm'].toUpperCase()}`,
      options['security'] !== undefined && `SQL SECURITY ${options['security'].toUpperCase()}`,
      `VIEW ${write.quote(name)}`,
      columns && `(${columns.map(write.quote).join(', ')})`,
      `AS\n${query}`,
      options['check'] !== undefined && `WITH ${options['check'].toUpperCase()} CHECK OPTION`
    ]
      .filter((part) => part)
      .join(' ')
  const sequence = ({ name, start, increment, min, max, cache, cycle }: Sequence): string =>
    [
      `CREATE SEQUENCE ${write.quote(name)}`,
      start !== undefined && `START WITH ${start}`,
      min !== undefined && `MINVALUE ${min}`,
      max !== undefined && `MAXVALUE ${max}`,
      increment !== undefined && `INCREMENT BY ${increment}`,
      cache !== undefined && (cache === '0' ? 'NOCACHE' : `CACHE ${cache}`),
      cycle && 'CYCLE'
    ]
      .filter((part) => part)
      .join(' ')
  return standardCarrier(write, {
    kinds: ['view', 'trigger', 'routine', ...(sequences ? (['sequence'] as const) : [])],
    comments: false,
    define: (object) =>
      object.kind === 'view' ? view(object.value) : object.kind === 'sequence' ? sequence(object.value) : undefined,
    what: (object) =>
      object.kind === 'routine' ? `${object.value.form.toUpperCase()} ${write.quote(object.value.name)}` : undefined
  })
}
