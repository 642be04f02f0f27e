// Servers of MySQL by the real driver: the protocol is the driver’s package’s own, what answers is the stand-in.
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { compare } from '../../src/lib/core/compare'
import { dialect as dialectOf, type Dialect } from '../../src/lib/core/dialects'
import { writeScript } from '../../src/lib/core/plan'
import { LineLost, type LiveDatabase } from '../../src/lib/live'
import { mysqlDatabases, openMariadb, openMysql, openMysqlOrMariadb } from '../../src/lib/server/mysql'
import { startMysqlServer, type MysqlServer } from '../support/mysql-server'
import { isOther } from '../support/shown'

const SCRIPT = `
CREATE TABLE vessel (
  imo int unsigned NOT NULL, name varchar(80) NOT NULL DEFAULT 'none', flag char(2) NULL,
  built date NULL DEFAULT (curdate()), tons decimal(10,2) NOT NULL DEFAULT 1.50,
  shout varchar(80) GENERATED ALWAYS AS (concat(upper(name), '!')) VIRTUAL,
  seen timestamp NOT NULL DEFAULT current_timestamp ON UPDATE current_timestamp,
  PRIMARY KEY (imo), UNIQUE KEY uq_name (name), KEY ix_flag (flag) COMMENT 'by flag',
  CONSTRAINT ck_tons CHECK (tons > 0)
) COMMENT='Ships';
CREATE TABLE visit (
  id bigint NOT NULL AUTO_INCREMENT PRIMARY KEY, vessel int unsigned NOT NULL, state enum('due','here','gone') NOT NULL DEFAULT 'due',
  CONSTRAINT fk_vessel FOREIGN KEY (vessel) REFERENCES vessel (imo) ON DELETE CASCADE
);
CREATE VIEW afloat AS SELECT imo, name FROM vessel WHERE flag IS NOT NULL;
CREATE TRIGGER named BEFORE INSERT ON vessel FOR EACH ROW SET NEW.name = trim(NEW.name);
CREATE FUNCTION knots(metres int) RETURNS int DETERMINISTIC RETURN metres / 1852;
`

describe.each(['5.7', '8.0', '8.4'])('a server of MySQL %s', (version) => {
  const mysql = dialectOf('mysql', version) as Dialect
  let server: MysqlServer
  let live: LiveDatabase
  beforeEach(async () => {
    server = await startMysqlServer(version)
    live = await openMysql(server.url)
  })
  afterEach(async () => {
    await live.close().catch(() => undefined)
    await server.stop()
  })

  it('shows what a script has made of it', async () => {
    const { catalog: wanted, statements } = mysql.readScript?.(SCRIPT) ?? { catalog: undefined, statements: [] }
    if (!wanted) throw new Error('scripts are read')
    expect(statements.filter(({ how }) => how === 'unknown')).toEqual([])
    // What this version does not keep is refused: it is left out.
    const kept = mysql.settle?.(wanted) ?? wanted
    const outcomes = await live.run(writeScript(kept, mysql).map(({ sql }) => sql))
    expect(outcomes.flatMap(({ error }) => error ?? [])).toEqual([])
    const found = await live.catalog()
    expect(found.engine).toBe('mysql')
    expect(found.unread).toEqual([])
    const { changes } = compare({ wanted: kept, live: found }, mysql)
    expect(changes.filter(isOther)).toEqual([])
    expect(
      await mysqlDatabases({
        host: '127.0.0.1',
        port: Number(new URL(server.url).port),
        database: '',
        user: 'ines',
        password: ''
      })
    ).toEqual(['main'])
  })

  it('refuses in its words, lets nothing be written that only reads, and tells of what is left open', async () => {
    const [made, refused] = [
      await live.run(['CREATE TABLE berth (code varchar(4) PRIMARY KEY)']),
      await live.run(["INSERT INTO berth VALUES ('north')"])
    ]
    expect(made[0]?.ok).toBe(true)
    expect(refused[0]?.error).toMatchObject({ code: 'ER_DATA_TOO_LONG', message: "Data too long for column 'code'" })
    await expect(live.query("INSERT INTO berth VALUES ('n1')", { readOnly: true })).rejects.toThrow()
    expect(await live.query('SELECT count(*) AS n FROM berth', { readOnly: true })).toMatchObject({
      columns: ['n'],
      rows: [['0']]
    })
    expect((await live.query('START TRANSACTION', { byHand: true })).open).toBe(true)
    expect((await live.query("INSERT INTO berth VALUES ('n1')", { byHand: true })).open).toBe(true)
    expect((await live.query('ROLLBACK', { byHand: true })).open).toBeUndefined()
    expect((await live.query('SELECT count(*) FROM berth')).rows).toEqual([['0']])
  })

  it('says when its line is cut, and what it is when it is taken for another', async () => {
    const other = await openMysqlOrMariadb(server.url)
    expect(other.engine).toBe('mysql')
    await other.close()
    await expect(openMariadb(server.url)).rejects.toThrow(/This server is MySQL .*, not MariaDB: choose MySQL for it/)
    server.cut()
    await expect(live.catalog()).rejects.toBeInstanceOf(LineLost)
  })
})
