// Conditions and expressions over the columns of a row: as they are typed, and as they are kept.
import { logical } from '../derive'
import type { Design, Entity } from '../design'
import type { Dialect } from '../dialects'
import { namesIn, renameNames, significant, whyNotWhole } from '../sql'
import type { Typed } from './typed'

/** Column names as a condition has them, each by its key path. */
const columnNames = (design: Design, entity: Entity): ReadonlyMap<string, string> =>
  new Map((logical(design).entity(entity.id)?.columns ?? []).map(({ path, dbName }) => [path, dbName]))

/** A condition with the names of its columns in the place of their ids. */
export function printCondition(design: Design, entity: Entity, condition: string, { write }: Dialect): string {
  const names = columnNames(design, entity)
  return condition.replace(/\{([^}]+)\}/g, (whole, path: string) => {
    const name = names.get(path)
    return name === undefined ? whole : write.quote(name)
  })
}

/** Words of SQL that stand where a column could. */
const WORDS = new Set(
  (
    'and or not in is null like ilike similar to between symmetric case when then else end true false unknown escape distinct ' +
    'from any some all array row interval date time timestamp cast as collate current_date current_time current_timestamp ' +
    'localtime localtimestamp current_user session_user user exists at zone with without both leading trailing for div mod xor ' +
    'regexp rlike glob match overlaps year month day hour minute second epoch'
  ).split(' ')
)

/** Reads a condition, in names; what is kept has an id for each column. Errors name what is no column. */
export function typedCondition(design: Design, entity: Entity, text: string, { write }: Dialect): Typed<string> {
  const { lexis } = write
  const sql = text.trim()
  const why = sql === '' ? 'Say what must hold, as in: departs_at > arrives_at.' : whyNotWhole(sql, lexis)
  if (why !== undefined) return { error: why }
  const paths = new Map([...columnNames(design, entity)].map(([path, name]) => [name, path]))
  const known = new Set([...paths.keys()].map((name) => lexis.fold(name, true)))
  // A type's name after a cast is no column.
  const tokens = significant(sql, lexis)
  const types = new Set(
    tokens.flatMap(({ text: word }, i) =>
      /^(::|as)$/i.test(tokens[i - 1]?.text ?? '') ? [lexis.fold(word, false)] : []
    )
  )
  const odd = [...namesIn(sql, lexis)].find(
    (name) =>
      !known.has(name) && !known.has(lexis.fold(name, true)) && !WORDS.has(name.toLowerCase()) && !types.has(name)
  )
  if (odd !== undefined)
    return { error: `${entity.name} has no column ${odd}. It has ${[...paths.keys()].join(', ') || 'none yet'}.` }
  return { value: renameNames(sql, paths, lexis, (path) => `{${path}}`) }
}
