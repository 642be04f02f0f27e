import type { Dialect } from '../dialect'
import { standardWriter } from '../standard'
import { postgresAlterer } from './alter'
import { postgresQueries } from './introspect'
import { DEFAULT_SCHEMA, postgresProfile, VERSIONS } from './profile'
import { postgresTypes } from './types'

export function postgres(version: string): Dialect {
  const profile = postgresProfile(version)
  const write = standardWriter(profile)
  return {
    profile,
    types: postgresTypes,
    write,
    alter: postgresAlterer(write, Number(version)),
    introspect: postgresQueries,
    // Words of a person's own in a run name what a new session would.
    session: [`SET LOCAL search_path TO ${DEFAULT_SCHEMA}`]
  }
}

export { VERSIONS as POSTGRES_VERSIONS }
