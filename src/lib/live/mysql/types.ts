// Types in MySQL's words.
import type { DataType } from '../../core/catalog'
import { dialect, type Dialect } from '../../core/dialects'

const { types } = dialect('mysql') as Dialect

/** A type as it is written. */
export const typeOfText = (text: string): DataType => types.read(text)
