// What MariaDB is, by version. "MariaDB Server Documentation": Identifier Names (64 characters), Reserved Words.
import type { EngineProfile } from '../dialect'
import { versionsOf } from '../known'
import { mariadbLexis } from './lexis'

const words = new Set(
  `accessible add all alter analyze and as asc asensitive before between bigint binary blob both by call cascade case change
char character check collate column condition constraint continue convert create cross current_date current_role
current_time current_timestamp current_user cursor database databases day_hour day_microsecond day_minute day_second dec
decimal declare default delayed delete delete_domain_id desc describe deterministic distinct distinctrow div
do_domain_ids double drop dual each else elseif enclosed escaped except exists exit explain false fetch float float4
float8 for force foreign from fulltext general grant group having high_priority hour_microsecond hour_minute hour_second
if ignore ignore_domain_ids ignore_server_ids in index infile inner inout insensitive insert int int1 int2 int3 int4
int8 integer intersect interval into is iterate join key keys kill leading leave left like limit linear lines load
localtime localtimestamp lock long longblob longtext loop low_priority master_heartbeat_period
master_ssl_verify_server_cert match maxvalue mediumblob mediumint mediumtext middleint minute_microsecond minute_second
mod modifies natural not no_write_to_binlog null numeric offset on optimize option optionally or order out outer outfile
over page_checksum parse_vcol_expr partition precision primary procedure purge range read reads read_write real recursive
references regexp release rename repeat replace require resignal restrict return returning revoke right rlike row_number
rows schema schemas second_microsecond select sensitive separator set show signal slow smallint spatial specific sql
sqlexception sqlstate sqlwarning sql_big_result sql_calc_found_rows sql_small_result ssl starting stats_auto_recalc
stats_persistent stats_sample_pages straight_join table terminated then tinyblob tinyint tinytext to trailing trigger
true undo union unique unlock unsigned update usage use using utc_date utc_time utc_timestamp values varbinary varchar
varcharacter varying when where while window with write xor year_month zerofill`.split(/\s+/)
)

/** "Function Name Parsing": before a parenthesis these are functions, so that a table of such a name cannot be made without quotes. */
const functions =
  `bit_and bit_or bit_xor cast count curdate curtime date_add date_sub extract group_concat json_arrayagg json_objectagg max
mid min now position session_user std stddev stddev_pop stddev_samp substr substring sum sysdate system_user trim
variance var_pop var_samp cume_dist dense_rank first_value lag lead nth_value ntile percent_rank rank`.split(/\s+/)

export const mariadbProfile = (version: string): EngineProfile => ({
  id: 'mariadb',
  label: 'MariaDB',
  versions: versionsOf('mariadb'),
  version,
  // A schema is a database here, and a connection is to one of them.
  defaultSchema: 'main',
  names: {
    fold: 'kept',
    limit: 64,
    unit: 'characters',
    mustQuote: new Set([...words, ...functions]),
    reserved: words,
    // "Primary Keys": all of them.
    given: /^PRIMARY$/,
    // "Identifier Case-sensitivity": tables are so where file names are, as on most servers.
    caseless: 'but tables',
    quoteMark: '`'
  },
  lexis: mariadbLexis,
  // Its descriptions are printed in utf8mb3: a character of four bytes as `?`, in conditions one for each byte (seen, 10.11).
  told: (text) => text.replace(/[?\u{10000}-\u{10ffff}]+/gu, '?'),
  signs: [
    /`\w+`/,
    /\bauto_increment\b/i,
    /\bengine\s*=/i,
    /\bunsigned\b/i,
    /\b(default\s+)?charset\s*=/i,
    /\/\*M?!\d/,
    /^\s*delimiter\b/im,
    /\b(tiny|medium)(int|text|blob)\b/i,
    /^\s*(unique\s+)?key\s+\w+\s*\(/im
  ],
  reads: ['select', 'with', 'values', 'show', 'describe', 'desc', 'explain'],
  features: {
    transactionalDdl: false,
    ifExists: true,
    dropCascade: false,
    comments: true,
    schemas: false,
    renameTable: true,
    renameUsedColumn: true,
    // “RENAME TABLE”: views are not told, and find nothing any more.
    wordsStay: true,
    renameConstraint: false,
    renameIndex: true,
    foreignKeysInTable: false,
    foreignKeysNeedIndex: true,
    // “Foreign Keys” of its documentation: made where none begins with the columns.
    indexesForeignKeys: true,
    actionsBarChecks: true,
    // Only some engines keep foreign keys, and a key is as long as its text may be.
    optionsFirst: true,
    triggersInTable: false,
    namesInSchema: ['foreignKey'],
    // "AUTO_INCREMENT", "Setting or Changing the Auto_Increment Value".
    counts: 'as made',
    identities: ['by default']
  },
  proof: 'run here'
})

/** "Keywords and Reserved Words" of MySQL 8.0 and 8.4: what MariaDB has not. */
const mysqlWords =
  `cube cume_dist dense_rank empty except first_value function generated get grouping groups io_after_gtids
io_before_gtids json_table lag last_value lateral lead manual master_bind nth_value ntile of optimizer_costs parallel percent_rank
qualify rank stored system tablesample virtual`.split(/\s+/)

export function mysqlProfile(version: string): EngineProfile {
  const { names, features, ...rest } = mariadbProfile(version)
  return {
    ...rest,
    id: 'mysql',
    label: 'MySQL',
    versions: versionsOf('mysql'),
    names: {
      ...names,
      mustQuote: new Set([...names.mustQuote, ...mysqlWords]),
      reserved: new Set([...names.reserved, ...mysqlWords])
    },
    // What a comment of its own versions has: MariaDB passes over those.
    signs: [
      ...rest.signs.filter((sign) => !sign.source.includes('M?')),
      /\/\*!(5[0-6]|4)\d{3}/,
      /utf8mb4_0900_/,
      /\/\*!80\d{3}/
    ],
    // “CHECK Constraints” (15.1.20.6): each kind of constraint has names of its own in a schema.
    // 3108 and 3959 of its “Server Error Message Reference”: MariaDB has expressions follow a name.
    features: { ...features, renameUsedColumn: 'but in expressions', namesInSchema: ['foreignKey', 'check'] },
    proof: 'grammar-checked'
  }
}
