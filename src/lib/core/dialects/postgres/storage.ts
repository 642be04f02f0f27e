// How values of a type are stored when nothing is said: manual, 66.2 "TOAST"; `typstorage` of `pg_type`.
import type { DataType } from '../../catalog'

const USUAL: Readonly<Record<string, readonly string[]>> = {
  plain: [
    ...[
      'smallint',
      'integer',
      'bigint',
      'real',
      'double precision',
      'boolean',
      'uuid',
      'money',
      'oid',
      'name',
      'pg_lsn'
    ],
    ...['date', 'time', 'timestamp', 'time without time zone', 'timestamp without time zone', 'interval'],
    ...['time with time zone', 'timestamp with time zone', 'timetz', 'timestamptz', 'macaddr', 'macaddr8'],
    ...['point', 'line', 'lseg', 'box', 'circle']
  ],
  main: ['numeric', 'inet', 'cidr'],
  extended: [
    ...['text', 'character varying', 'varchar', 'character', 'char', 'bytea', 'json', 'jsonb', 'xml', 'array'],
    ...['bit', 'bit varying', 'tsvector', 'path', 'polygon']
  ]
}
const BY_TYPE = new Map(
  Object.entries(USUAL).flatMap(([storage, names]) => names.map((name) => [name, storage] as const))
)

/** As the option `storage` has it; nothing for a type that is not the engine's own. */
export const usualStorage = ({ name, schema }: DataType): string | undefined =>
  schema === undefined ? BY_TYPE.get(name) : undefined
