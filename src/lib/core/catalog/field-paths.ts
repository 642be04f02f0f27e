// Columns that are fields within others, where an engine has such: names from the outermost, `findings[].code` for a field of each
// object of a list, `marks{}.code` for one of each value of a map.

/** What stands behind a name of what holds many: of a list in a list, twice. */
export const EACH = '[]'
export const EVERY = '{}'

/** The path of what a field is in; nothing for one of the document itself. */
export function holderOf(path: string): string | undefined {
  const at = path.lastIndexOf('.')
  return at < 0 ? undefined : path.slice(0, at).replace(/(\[\]|\{\})+$/, '')
}

/** The name alone. */
export const leafOf = (path: string): string => path.slice(path.lastIndexOf('.') + 1)

/** The path of another field of the same object. */
export const beside = (path: string, leaf: string): string => path.slice(0, path.lastIndexOf('.') + 1) + leaf

/** As queries and indexes have it: they reach into each of a list by themselves. */
export const dotted = (path: string): string => path.replaceAll(EACH, '')

/** Whether a field is in another, however deep. */
export const isWithin = (path: string, holder: string): boolean =>
  path.startsWith(holder) && /^(\[\]|\{\})*\./.test(path.slice(holder.length))

/** The same path with another name for what it is, or is in. */
export const movedPath = (path: string, from: string, to: string): string =>
  path === from || isWithin(path, from) ? to + path.slice(from.length) : path
