// Which differences between what was wanted and what a server shows are none.
import type { Change } from '../../src/lib/core/catalog'

/** A program is shown in words of the server's: in capitals, with its name in quotes, without the semicolon behind it. */
const words = (text: unknown) =>
  String(text)
    .replace(/[`\s]+/g, '')
    .replace(/;$/, '')
    .toLowerCase()
/** Whether something is other for certain. */
export const isOther = (change: Change): boolean =>
  change.action !== 'alter' ||
  (change.certain && !(change.property === 'definition' && words(change.from) === words(change.to)))
