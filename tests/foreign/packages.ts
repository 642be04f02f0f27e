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
export const MARIADB_PACKAGES: readonly PackagedScript[] = [
  { package: 'roundcube-core', files: [`${share}/roundcube/SQL/mysql.initial.sql`] },
  { package: 'request-tracker5', files: [`${share}/request-tracker5/etc/schema.mysql`] },
  { package: 'pdns-backend-mysql', files: [`${share}/pdns-backend-mysql/schema/schema.mysql.sql`] },
  { package: 'zabbix-server-mysql', files: [`${share}/zabbix-server-mysql/schema.sql.gz`] },
  {
    package: 'bacula-director-mysql',
    files: [`${share}/dbconfig-common/data/bacula-director-mysql/install/mysql`]
  },
  { package: 'icinga2-ido-mysql', files: [`${share}/icinga2-ido-mysql/schema/mysql.sql`] },
  { package: 'tt-rss', files: [`${share}/tt-rss/schema/ttrss_schema_mysql.sql`] },
  { package: 'hibiscus', files: [`${share}/jameica/plugins/hibiscus/sql/mysql-create.sql`] },
  {
    package: 'python-biopython-doc',
    files: [`${share}/doc/python-biopython-doc/Tests/BioSQL/biosqldb-mysql.sql`]
  },
  { package: 'supysonic', files: [`${share}/supysonic/schema/mysql.sql`] },
  { package: 'gammu-smsd', files: [`${share}/doc/gammu-smsd/examples/mysql.sql`] },
  { package: 'gammu-smsd', files: [`${share}/doc/gammu-smsd/examples/mysql-legacy.sql`] },
  { package: 'gerbera', files: [`${share}/gerbera/mysql.sql`] },
  { package: 'spamassassin', files: [`${share}/doc/spamassassin/sql/bayes_mysql.sql`] },
  { package: 'php-sabre-dav', files: [`${share}/doc/php-sabre-dav/examples/sql/mysql.calendars.sql`] },
  { package: 'ocsinventory-reports', files: [`${share}/ocsinventory-reports/files/ocsbase_new.sql`] },
  { package: 'rsyslog-mysql', files: [`${share}/dbconfig-common/data/rsyslog-mysql/install/mysql`] },
  { package: 'mariadb-test-data', files: ['usr/share/mysql/mysql-test/std_data/mysql_database_5.5.dump'] }
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
export const FIREBIRD_PACKAGES: readonly PackagedScript[] = [
  { package: 'firebird3.0-examples', files: [`${share}/doc/firebird3.0-common-doc/examples/employee.sql.gz`] }
]
