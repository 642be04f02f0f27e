// How the columns of the sheet look: their titles, and their widths as classes, the same for every line.
import type { ColumnName } from '../../core/cells'

export const TITLES: Readonly<Record<ColumnName, string>> = {
  key: 'Key',
  name: 'Name',
  type: 'Type',
  filled: 'Filled',
  default: 'Default',
  rules: 'Rules',
  meaning: 'Meaning'
}

export const GRID =
  'grid grid-cols-[30px_minmax(110px,1.3fr)_minmax(110px,1.2fr)_92px_80px_minmax(80px,1fr)_minmax(80px,1.2fr)]'
