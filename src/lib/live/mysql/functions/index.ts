// MySQL's functions for the engine that keeps the stand-in's rows, each under its name behind an underscore: "Functions and Operators"
// (14) of its manual, 8.4. One that is not here is refused by name.
import { CASTS } from './casts'
import { DOCUMENTS } from './documents'
import { text, whole, type Func } from './given'
import { NUMBERS } from './numbers'
import { like, regexp, STRINGS } from './strings'
import { TIMES } from './times'

export { text, valueOf, type Given } from './given'

/** "Information Functions" (14.15), "Miscellaneous Functions" (14.23). */
const own = (version: string, database: string): Readonly<Record<string, Func>> => ({
  database: () => database,
  schema: () => database,
  version: () => version,
  user: () => 'ramblet@localhost',
  current_user: () => 'ramblet@localhost',
  connection_id: () => 1,
  // "Locking Functions" (14.14): nobody else asks for one here.
  get_lock: () => 1,
  release_lock: () => 1,
  uuid: () => crypto.randomUUID(),
  variable: (name) =>
    ({ version, sql_mode: 'STRICT_ALL_TABLES', lower_case_table_names: 2, lock_wait_timeout: 30 })[text(name)] ?? null
})

/** All functions, by the names that they have in the engine that keeps the rows. */
export function functions(version: string, database: string): ReadonlyMap<string, Func> {
  const known = { ...STRINGS, ...NUMBERS, ...TIMES, ...DOCUMENTS, ...CASTS, ...own(version, database) }
  return new Map<string, Func>([
    ...Object.entries(known).map(([name, func]) => [`_${name}`, func] as const),
    // What its operators ask.
    ['regexp', whole(regexp)],
    ['like', whole((pattern, a, escape = '\\') => like(pattern, a, escape))]
  ])
}
