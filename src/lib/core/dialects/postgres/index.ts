import type { Dialect } from '../dialect'
import { standardWriter } from '../standard'
import { postgresAlterer } from './alter'
import { postgresQueries } from './introspect'
import { postgresProfile, VERSIONS } from './profile'
import { postgresTypes } from './types'

export function postgres(version: string): Dialect {
  const profile = postgresProfile(version)
  const write = standardWriter(profile)
  return {
    profile,
    types: postgresTypes,
    write,
    alter: postgresAlterer(write, Number(version)),
    introspect: postgresQueries
  }
}

export { VERSIONS as POSTGRES_VERSIONS }
