/** Without the fields that were set to nothing. */
export const tidy = <T extends object>(object: T): T =>
  Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined)) as T
