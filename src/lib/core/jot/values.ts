// What is said of a column's values, as the design has it.
import type { Domain } from '../design'
import type { Says } from './says'

export const valuesOf = (says: Says) => ({
  ...(says.default === undefined ? {} : { default: says.default }),
  ...(says.min === undefined ? {} : { min: says.min }),
  ...(says.max === undefined ? {} : { max: says.max }),
  ...(says.letters === undefined ? {} : { letters: says.letters }),
  ...(says.means === undefined ? {} : { means: says.means })
})

/** What a column has of its domain. */
export const followed = ({ id, type, default: preset, min, max, letters }: Domain) => ({
  domain: id,
  type,
  ...(preset === undefined ? {} : { default: preset }),
  ...(min === undefined ? {} : { min }),
  ...(max === undefined ? {} : { max }),
  ...(letters === undefined ? {} : { letters })
})
