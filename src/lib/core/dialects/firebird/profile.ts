// What Firebird is, by version. "Firebird Language Reference": Identifiers (31 bytes in 3.0, 63 characters from 4.0) and
// its appendix of reserved words; the tests ask a 3.0 server about each word.
import type { EngineProfile } from '../dialect'
import { versionsOf } from '../known'

const words = new Set(
  `add admin all alter and any as at avg begin between bigint bit_length blob boolean both by case cast char
char_length character character_length check close collate column commit connect constraint corr count covar_pop
covar_samp create cross current current_connection current_date current_role current_time current_timestamp
current_transaction current_user cursor date day dec decimal declare default delete deleting deterministic disconnect
distinct double drop else end escape execute exists external extract false fetch filter float for foreign from full
function gdscode global grant group having hour in index inner insensitive insert inserting int integer into is join
leading left like localtime localtimestamp long lower max merge min minute month national natural nchar no not null numeric octet_length of
offset on only open or order outer over parameter plan position post_event precision primary procedure
rdb$db_key rdb$record_version real record_version recreate recursive references regr_avgx regr_avgy regr_count
regr_intercept regr_r2 regr_slope regr_sxx regr_sxy regr_syy release return returning_values returns revoke right
rollback row row_count rows savepoint scroll second select sensitive set similar smallint some sqlcode sqlstate start
stddev_pop stddev_samp sum table then time timestamp to trailing trigger trim true union unique unknown update
updating upper user using value values var_pop var_samp varchar variable varying view when where while with year`.split(
    /\s+/
  )
)

/** Those that came with 4.0. */
const later = `binary crypt_hash decfloat decrypt encrypt int128 lateral publication
rdb$get_context rdb$set_context resetting timezone_hour timezone_minute unbounded varbinary window without`.split(/\s+/)

export function firebirdProfile(version: string): EngineProfile {
  const old = version === '3.0'
  const reserved = old ? words : new Set([...words, ...later])
  return {
    id: 'firebird',
    label: 'Firebird',
    versions: versionsOf('firebird'),
    version,
    defaultSchema: 'main',
    names: {
      fold: 'upper',
      limit: old ? 31 : 63,
      unit: old ? 'bytes' : 'characters',
      // "Names for Constraints".
      given: /^INTEG_\d+$/,
      mustQuote: reserved,
      reserved
    },
    // "String Literals", "Comments"; SET TERM is a command of isql.
    lexis: { nameQuotes: ['"'], alternativeText: true, bodies: 'psql', delimiterCommand: 'set term' },
    // Its descriptions are of a character set of three bytes before 4.0 ("System Tables", UNICODE_FSS): of a character that
    // takes four, they show the last 16 bits (seen, 3.0).
    ...(old
      ? {
          told: (text: string) =>
            text.replace(/[\u{10000}-\u{10ffff}]/gu, (one) => String.fromCodePoint((one.codePointAt(0) ?? 0) & 0xffff))
        }
      : {}),
    signs: [
      /\bset\s+term\b/i,
      /\b(create|set)\s+generator\b/i,
      /\bblob\s+sub_type\b/i,
      /\bcreate\s+exception\b/i,
      /\bgen_id\s*\(/i,
      /\bactive\s+(before|after)\b/i,
      /\bset\s+sql\s+dialect\b/i
    ],
    reads: ['select', 'with'],
    features: {
      // A change of structure can be rolled back, but the rest of its transaction sees it only in part: until it is
      // committed, no row can be written to a new table, and a check that was dropped still holds its columns.
      transactionalDdl: false,
      ifExists: false,
      dropCascade: false,
      comments: true,
      schemas: false,
      renameTable: false,
      renameUsedColumn: false,
      renameConstraint: false,
      renameIndex: false,
      foreignKeysInTable: false,
      triggersInTable: false,
      namesInSchema: ['primaryKey', 'unique', 'foreignKey', 'check', 'index'],
      // “FOREIGN KEY” of its language reference: an index is made for each.
      indexesForeignKeys: true,
      partialIndexes: version === '5.0',
      identities: old ? ['by default'] : ['by default', 'always']
    },
    proof: 'run here'
  }
}
