import { FREE_KINDS, isCarried, objectsOf } from '../../catalog'
import { PATIENCE, type Dialect, type Quoting } from '../dialect'
import { postgresAlterer } from './alter'
import { postgresQueries } from './introspect'
import { postgresOptions } from './options'
import { usualStorage } from './storage'
import { postgresKeepUp } from './keep-up'
import { plainExpression } from './plain'
import { postgresDatabase } from './new-database'
import { readPostgresScript } from './read'
import { DEFAULT_SCHEMA, postgresProfile } from './profile'
import { postgresTypes } from './types'
import { postgresCarrier } from './carry'
import { quoted } from '../standard'
import { postgresWriter } from './write'

export function postgres(version: string, quoting?: Quoting): Dialect {
  const profile = quoted(postgresProfile(version), quoting)
  const write = postgresWriter(profile)
  return {
    profile,
    types: postgresTypes(write.type),
    write,
    alter: postgresAlterer(write, Number(version)),
    carry: postgresCarrier(write),
    options: postgresOptions.filter(({ since = 0 }) => since <= Number(version)),
    isUsual: ({ type, nullable }, option, value) =>
      option === 'storage' ? usualStorage(type) === value : option === 'not null' && nullable,
    keepUp: postgresKeepUp(write),
    introspect: postgresQueries,
    newDatabase: postgresDatabase(write.quote),
    readScript: (script) => readPostgresScript(script, write, Number(version)),
    plain: (expression) => plainExpression(expression, write.lexis),
    // Texts of routines may name what is yet to come; bare names are of the schema that they were read in.
    opening: (catalog) =>
      FREE_KINDS.some((kind) => isCarried(kind) && objectsOf(catalog, kind).length > 0)
        ? [`SET search_path TO ${DEFAULT_SCHEMA}`, 'SET check_function_bodies TO off']
        : [],
    // Words of a person's own in a run name what a new session would; a routine may name what comes after it.
    session: [
      `SET LOCAL search_path TO ${DEFAULT_SCHEMA}`,
      'SET LOCAL check_function_bodies TO off',
      // Manual, "Client Connection Defaults", lock_timeout: who waits for a table has all behind him wait.
      `SET LOCAL lock_timeout TO '${PATIENCE}s'`
    ]
  }
}
