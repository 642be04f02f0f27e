// A database on a server, by the driver of its engine.
import type { ServerAddress } from '../core/design'
import type { LiveDatabase } from '../live'
import { firebirdDatabases, openFirebird } from './firebird'
import { mongodbDatabases, openMongodb } from './mongodb'
import { mysqlDatabases, openMariadb, openMysql } from './mysql'
import { openPostgres, postgresDatabases } from './postgres'

export interface Access extends ServerAddress {
  readonly password: string
}

interface Driver {
  open(access: Access): Promise<LiveDatabase>
  /** The names of the databases on the server. */
  databases(access: Access): Promise<string[]>
  /** A server may let in who gives no name. */
  readonly openToAll?: true
}

export const DRIVERS: Readonly<Record<string, Driver>> = {
  postgres: { open: openPostgres, databases: postgresDatabases },
  mariadb: { open: openMariadb, databases: mysqlDatabases },
  mysql: { open: openMysql, databases: mysqlDatabases },
  firebird: { open: openFirebird, databases: firebirdDatabases },
  mongodb: { open: openMongodb, databases: mongodbDatabases, openToAll: true }
}
