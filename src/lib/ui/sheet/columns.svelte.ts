// Which columns of the sheet are shown, in which order and how wide: the same for every line, and kept in this browser.
import { COLUMNS, type ColumnName } from '../../core/cells'

export const TITLES: Readonly<Record<ColumnName, string>> = {
  key: 'Key',
  name: 'Name',
  type: 'Type',
  filled: 'Filled',
  default: 'Default',
  rules: 'Rules',
  meaning: 'Meaning',
  database: 'In databases'
}

/** As grid tracks, where nobody has made them wider or narrower. */
const WIDTHS: Readonly<Record<ColumnName, string>> = {
  key: '30px',
  name: 'minmax(110px,1.3fr)',
  type: 'minmax(110px,1.2fr)',
  filled: '92px',
  default: '80px',
  rules: 'minmax(80px,1fr)',
  meaning: 'minmax(80px,1.2fr)',
  database: 'minmax(90px,1fr)'
}

const KEPT = 'ramblet.columns'
const NARROWEST = 48
/** Without these, a row is nothing that one could find again. */
const ALWAYS: readonly ColumnName[] = ['key', 'name']
const USUAL = COLUMNS.filter((column) => column !== 'database')

class Columns {
  shown = $state.raw<readonly ColumnName[]>(USUAL)
  private widths = $state.raw<Readonly<Partial<Record<ColumnName, number>>>>({})

  constructor() {
    const kept: { shown?: unknown; widths?: unknown } = JSON.parse(globalThis.localStorage?.getItem(KEPT) ?? '{}')
    const { shown, widths } = kept
    if (Array.isArray(shown)) {
      const known = COLUMNS.filter((column) => shown.includes(column))
      this.shown = [...ALWAYS, ...known.sort((a, b) => shown.indexOf(a) - shown.indexOf(b))].filter(
        (column, i, all) => all.indexOf(column) === i
      )
    }
    if (typeof widths === 'object' && widths !== null) this.widths = widths
  }

  /** As `grid-template-columns`. */
  get template(): string {
    return this.shown
      .map((column) => (this.widths[column] === undefined ? WIDTHS[column] : `${this.widths[column]}px`))
      .join(' ')
  }
  /** Every column, those that are shown first. */
  get all(): readonly ColumnName[] {
    return [...this.shown, ...COLUMNS.filter((column) => !this.shown.includes(column))]
  }
  isFixed = (column: ColumnName) => ALWAYS.includes(column)

  toggle(column: ColumnName) {
    const shown = this.shown.includes(column)
    this.keep(shown ? this.shown.filter((other) => other !== column) : [...this.shown, column], this.widths)
  }
  move(column: ColumnName, by: 1 | -1) {
    const at = this.shown.indexOf(column)
    const other = this.shown[at + by]
    if (at < 0 || other === undefined || ALWAYS.includes(other)) return
    const next = [...this.shown]
    ;[next[at], next[at + by]] = [other, column]
    this.keep(next, this.widths)
  }
  widen(column: ColumnName, width: number) {
    this.keep(this.shown, { ...this.widths, [column]: Math.max(NARROWEST, Math.round(width)) })
  }
  reset() {
    this.keep(USUAL, {})
  }

  private keep(shown: readonly ColumnName[], widths: typeof this.widths) {
    this.shown = shown
    this.widths = widths
    localStorage.setItem(KEPT, JSON.stringify({ shown, widths }))
  }
}

export const columns = new Columns()
