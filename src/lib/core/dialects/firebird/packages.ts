// Packages: a head, which says what is in it, and a body, which does it: "CREATE PACKAGE", "CREATE PACKAGE BODY". Each is made by a
// statement of its own, and the body goes with its head.
import { addressOf, type Routine } from '../../catalog'
import type { RunQuery } from '../dialect'
import { quote, str, words } from './rows'

const PACKAGES = `SELECT trim(RDB$PACKAGE_NAME) AS name, RDB$PACKAGE_HEADER_SOURCE AS head, RDB$PACKAGE_BODY_SOURCE AS body, RDB$DESCRIPTION AS words
  FROM RDB$PACKAGES WHERE coalesce(RDB$SYSTEM_FLAG, 0) = 0 ORDER BY 1`

export const BODY = 'package body'
const MARK = ' body'

/** Head and body have one name in the engine, and one each where both are listed. */
export const bodyName = (name: string): string => `${name}${MARK}`
/** What the engine calls a routine. */
export const engineName = ({ form, name }: Pick<Routine, 'form' | 'name'>): string =>
  form === BODY ? name.slice(0, -MARK.length) : name

type Told = (kind: 'package' | 'packageBody', name: string) => Partial<Routine>

export async function packages(query: RunQuery, told: Told): Promise<Routine[]> {
  const rows = await query(PACKAGES)
  const heads = rows.map((row): Routine => {
    const name = str(row, 'name')
    const said = words(row) === '' ? {} : { comment: words(row) }
    return {
      schema: 'main',
      form: 'package',
      name,
      definition: packageText('package', name, str(row, 'head')),
      ...told('package', name),
      ...said
    }
  })
  const bodies = rows.flatMap((row): Routine[] => {
    const name = str(row, 'name')
    if (str(row, 'body') === '') return []
    const { refs = [], ...more } = told('packageBody', name)
    const head = { to: addressOf('routine', 'main', name) }
    return [
      {
        schema: 'main',
        form: BODY,
        name: bodyName(name),
        definition: packageText(BODY, name, str(row, 'body')),
        refs: [...refs, head],
        ...more
      }
    ]
  })
  return [...heads, ...bodies]
}

export const packageText = (form: string, name: string, text: string): string =>
  `CREATE ${form.toUpperCase()} ${quote(name)}\nAS\n${text}`
