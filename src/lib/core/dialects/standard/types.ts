// What all engines' spellings of types have in common.

/** A type in lower case, without blanks that mean nothing: `VARCHAR ( 20 )` is `varchar(20)`. */
export const tidyType = (type: string): string =>
  type
    .trim()
    .toLowerCase()
    .replace(/\s+/g, ' ')
    .replace(/ ?\( ?/g, '(')
    .replace(/ ?\)/g, ')')
    .replace(/ ?, ?/g, ',')
