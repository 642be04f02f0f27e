// A database that is yet to be made on a server.
import type { DatabaseSetting, NewDatabase } from '../dialect'

/** Names of character sets, collations and locales: such as `utf8mb4_uca1400_ai_ci`, `de_DE.UTF-8`, `sr_RS@latin`. */
const NAME = /^[\w.@-]+$/

/** `write` puts the statement together from the name and what is said of each setting. */
export function newDatabase(
  settings: readonly DatabaseSetting[],
  write: (name: string, said: (setting: string) => string) => string,
  enter?: (name: string) => string
): NewDatabase {
  return {
    settings,
    ...(enter ? { enter } : {}),
    statement: (name, given) => {
      if (name === '') throw new Error('A name is needed for the database.')
      return write(name, (wanted) => {
        const setting = settings.find((one) => one.name === wanted)
        const value = given[wanted]?.trim() || (setting?.usual ?? '')
        if (setting?.values ? !setting.values.includes(value) : !NAME.test(value))
          throw new Error(`“${value}” is no ${setting?.label.toLowerCase() ?? wanted}.`)
        return value
      })
    }
  }
}
