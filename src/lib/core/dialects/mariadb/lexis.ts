// What MariaDB's SQL is made of: "String Literals", "Comment Syntax", "Delimiters"; the server's modes (ANSI_QUOTES,
// NO_BACKSLASH_ESCAPES) are off, as they are unless somebody sets them: our sessions do not, and scripts that do are put in these words.
import type { Lexis } from '../../sql'

export const mariadbLexis: Lexis = {
  fold: (name) => name.toLowerCase(),
  nameQuotes: ['`'],
  doubleQuotedText: true,
  backslashes: true,
  hashComments: true,
  dashesNeedBlank: true,
  executableComments: true,
  bodies: 'compound',
  delimiterCommand: 'delimiter'
}
