// Reads scripts of MariaDB and MySQL: what their statements leave in an empty database.
import { NotUnderstood, splitStatements, tokenize } from '../../../sql'
import type { ScriptRead } from '../../dialect'
import { readStatement } from '../../standard'
import type { Structure } from '../../structure'
import type { Member } from '../family'
import { mariadbLexis } from '../lexis'
import { inUsualMode } from './modes'
import { ReadStructure } from './structure'

/** Names are read as they are spelled. */
const lexis = { ...mariadbLexis, fold: (name: string) => name }

/** The version up to which a server carries out what stands behind `!` in a comment ("Comment Syntax"). */
const CARRIED_OUT = /^\/\*(M?)!(\d{5,6})?/

/** A script in which such comments are what they say, each word at its place. */
function carriedOut(script: string, isMysql: boolean): string {
  if (!script.includes('/*!') && !script.includes('/*M!')) return script
  const blank = (text: string) => text.replace(/[^\n]/g, ' ')
  return tokenize(script, mariadbLexis)
    .map(({ kind, text }) => {
      if (kind !== 'executable') return text
      const [head = '', own, digits = '0'] = CARRIED_OUT.exec(text) ?? []
      const version = Number(digits)
      const is = isMysql ? own === '' : own === 'M' || version < 50_700 || version > 99_999
      return is ? blank(head) + text.slice(head.length, -2) + '  ' : blank(text)
    })
    .join('')
}

/** As this engine of the family carries it out: what is for another only is passed over. */
export function readMariadbScript(script: string, member: Member): ScriptRead {
  const reading = new ReadStructure(member)
  const { script: usual, joins } = inUsualMode(carriedOut(script, member.id === 'mysql'))
  let next = 0
  const statements = splitStatements(usual, lexis).map((one) =>
    readStatement(one, (sql) => {
      // Both stand in the order of the script.
      while (next < joins.length && (joins[next] ?? 0) < one.at) next++
      if (next < joins.length && (joins[next] ?? 0) < one.at + sql.length)
        throw new NotUnderstood('Texts are joined by “||” under the mode PIPES_AS_CONCAT: say concat() for it.')
      return reading.take(sql)
    })
  )
  return { catalog: reading.catalog(), statements }
}

/** An empty database that takes statements. */
export function mariadbStructure(member: Member): Structure {
  const structure = new ReadStructure(member)
  return {
    take: (sql) => {
      try {
        return structure.take(carriedOut(sql, member.id === 'mysql'))
      } catch (error) {
        structure.back()
        throw error
      }
    },
    back: () => structure.back(),
    touched: () => structure.touched(),
    table: (name) => structure.table(name),
    leadingTo: (name) => structure.leadingTo(name),
    catalog: () => structure.catalog()
  }
}
