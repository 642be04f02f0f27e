// What SQLite's SQL is made of: "SQLite Keywords" has the three kinds of quotes around names.
import type { Lexis } from '../../sql'

/** A name in small letters; SQLite knows the two cases of A to Z only (sqlite.org/faq.html, question 18). */
export const inSmall = (name: string): string => name.replace(/[A-Z]+/g, (letters) => letters.toLowerCase())

export const sqliteLexis: Lexis = { fold: inSmall, nameQuotes: ['"', '`', '['], bodies: 'trigger' }
