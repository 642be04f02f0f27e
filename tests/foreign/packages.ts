// Scripts of other people's applications, by the Debian packages that bring them; none is kept here.
import type { PackagedScript } from '../support/packaged'

const share = 'usr/share'
export const POSTGRES_PACKAGES: readonly (PackagedScript & { readonly extensions?: readonly string[] })[] = [
  { package: 'pdns-backend-pgsql', files: [`${share}/pdns-backend-pgsql/schema/schema.pgsql.sql`] },
  { package: 'icinga2-ido-pgsql', files: [`${share}/icinga2-ido-pgsql/schema/pgsql.sql`] },
  { package: 'tt-rss', files: [`${share}/tt-rss/schema/ttrss_schema_pgsql.sql`] },
  { package: 'gammu-smsd', files: [`${share}/doc/gammu-smsd/examples/pgsql.sql`] },
  { package: 'bacula-director-pgsql', files: [`${share}/dbconfig-common/data/bacula-director-pgsql/install/pgsql`] },
  { package: 'supysonic', files: [`${share}/supysonic/schema/postgres.sql`], extensions: ['citext'] },
  { package: 'libawl-php', files: [`${share}/awl/dba/awl-tables.sql`, `${share}/awl/dba/schema-management.sql`] }
]
export const SQLITE_PACKAGES: readonly PackagedScript[] = [
  { package: 'pdns-backend-sqlite3', files: [`${share}/pdns-backend-sqlite3/schema/schema.sqlite3.sql`] },
  { package: 'gammu-smsd', files: [`${share}/doc/gammu-smsd/examples/sqlite.sql`] },
  {
    package: 'bacula-director-sqlite3',
    files: [`${share}/dbconfig-common/data/bacula-director-sqlite3/install/sqlite3`]
  },
  { package: 'supysonic', files: [`${share}/supysonic/schema/sqlite.sql`] }
]
/** A desktop office database. */
export const OFFICE_PACKAGE: PackagedScript = {
  package: 'mrtg-contrib',
  files: [`${share}/doc/mrtg-contrib/examples/contrib/monitor/Monitor.mdb`]
}
/** Those that declare foreign keys, in one engine each. */
export const LINKED_PACKAGES: readonly (PackagedScript & { readonly engine: string })[] = [
  { engine: 'postgres', package: 'zabbix-server-pgsql', files: [`${share}/zabbix-server-pgsql/schema.sql.gz`] },
  { engine: 'postgres', package: 'libchado-perl', files: [`${share}/gmod/chado/modules/default_nofuncs.sql`] },
  { engine: 'postgres', package: 'roundcube-core', files: [`${share}/roundcube/SQL/postgres.initial.sql`] },
  { engine: 'postgres', package: 'hibiscus', files: [`${share}/jameica/plugins/hibiscus/sql/postgresql-create.sql`] },
  { engine: 'postgres', package: 'supysonic', files: [`${share}/supysonic/schema/postgres.sql`] },
  { engine: 'postgres', package: 'pdns-backend-pgsql', files: [`${share}/pdns-backend-pgsql/schema/schema.pgsql.sql`] },
  { engine: 'postgres', package: 'tt-rss', files: [`${share}/tt-rss/schema/ttrss_schema_pgsql.sql`] },
  {
    engine: 'sqlite',
    package: 'bacula-director-sqlite3',
    files: [`${share}/dbconfig-common/data/bacula-director-sqlite3/install/sqlite3`]
  }
]
