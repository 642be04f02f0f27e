import type { Dialect, Quoting } from '../dialect'
import { quoted, standardAlterer, standardCarrier } from '../standard'
import { sqliteQueries } from './introspect'
import { sqliteKeepUp } from './keep-up'
import { sqliteOptions } from './options'
import { sqliteProfile } from './profile'
import { sqliteRebuilder } from './rebuild'
import { readSqliteScript } from './script'
import { sqliteTypes } from './types'
import { sqliteWriter } from './write'

export function sqlite(version: string, quoting?: Quoting): Dialect {
  const profile = quoted(sqliteProfile(version), quoting)
  const write = sqliteWriter(profile)
  return {
    profile,
    types: sqliteTypes,
    write,
    alter: standardAlterer(write, profile.features),
    carry: standardCarrier(write, { kinds: ['view', 'trigger'], comments: false }),
    options: sqliteOptions,
    rebuild: sqliteRebuilder(write),
    keepUp: sqliteKeepUp(write),
    introspect: sqliteQueries,
    readScript: (script) => readSqliteScript(script, write)
  }
}
