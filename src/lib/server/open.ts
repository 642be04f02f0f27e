// A database on a server, by the driver of its engine.
import type { ServerAddress } from '../core/design'
import type { DatabaseSettings } from '../core/dialects'
import type { LiveDatabase } from '../live'
import { firebirdDatabases, makeFirebird, openFirebird } from './firebird'
import { mongodbDatabases, openMongodb } from './mongodb'
import { makeMariadb, makeMysql, mysqlDatabases, openMariadb, openMysql } from './mysql'
import { makePostgres, openPostgres, postgresDatabases } from './postgres'

export interface Access extends ServerAddress {
  readonly password: string
}

interface Driver {
  open(access: Access): Promise<LiveDatabase>
  /** The names of the databases on the server. */
  databases(access: Access): Promise<string[]>
  /** Makes the database that `access` names, which must not be there yet; absent where what is put into it makes it. */
  make?(access: Access, settings: DatabaseSettings): Promise<void>
  /** A server may let in who gives no name. */
  readonly openToAll?: true
}

export const DRIVERS: Readonly<Record<string, Driver>> = {
  postgres: { open: openPostgres, databases: postgresDatabases, make: makePostgres },
  mariadb: { open: openMariadb, databases: mysqlDatabases, make: makeMariadb },
  mysql: { open: openMysql, databases: mysqlDatabases, make: makeMysql },
  firebird: { open: openFirebird, databases: firebirdDatabases, make: makeFirebird },
  mongodb: { open: openMongodb, databases: mongodbDatabases, openToAll: true }
}
