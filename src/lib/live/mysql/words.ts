// Names and texts in the words of the engine that keeps the rows.

export const quote = (name: string): string => `\`${name.replaceAll('`', '``')}\``

/** A text; what a text there would end at is said in bytes. */
export const literal = (text: string): string =>
  text.includes('\0') ? `CAST(X'${hexOf(text)}' AS TEXT)` : `'${text.replaceAll("'", "''")}'`

const hexOf = (text: string): string =>
  [...new TextEncoder().encode(text)].map((byte) => byte.toString(16).padStart(2, '0')).join('')
