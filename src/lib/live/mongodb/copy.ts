import { EJSON } from 'bson'

/** A copy that shares nothing, in the values that are kept in memory: numbers are JavaScript's. */
export const copy = <T>(value: T): T => EJSON.parse(EJSON.stringify(value, { relaxed: false })) as T
