// The state of the sheet and what its keys do: the cell one is on, what is typed into it, the rows that are chosen.
import {
  cellText,
  commit,
  commitMany,
  copied,
  dropRows,
  fieldsOf,
  moveRows,
  isNewRow,
  paste,
  pasteSpread,
  readTable,
  removeRows,
  shiftRow,
  type Cell,
  type ColumnName,
  type Reading,
  type RowPlace
} from '../../core/cells'
import { freeName, newAttribute, siblingsOf, type Edit } from '../../core/design'
import type { Desk } from '../desk/desk.svelte'
import { count } from '../desk/words'
import { columns } from './columns.svelte'
import { neighbour, type RowLine } from './walk'

/** What the grid asks of the page that it is drawn on. */
export interface Page {
  /** The rows, in order. */
  lines(): readonly RowLine[]
  /** Brings a cell into view, and the keys to it. */
  show(cell: Cell): Promise<void>
  /** Out of the grid, to what comes after or before it. */
  leave(forward: boolean): void
}

export const rowKey = ({ entity, row }: RowPlace) => `${entity} ${row}`

/** What is typed, and what is wrong with it; `marked` is a choice of the list, -1 for the one that the text begins. */
interface Typing {
  readonly text: string
  readonly error: string
  readonly marked: number
}

export class Grid {
  active = $state.raw<Cell>()
  editing = $state.raw<Typing>()
  /** Why something could not be done, where no cell can say it, or how it was understood. */
  said = $state.raw<{ readonly text: string; readonly refused: boolean }>()
  /** Rows that are chosen together, by key; none where only the one that one is on is meant. */
  chosen = $state.raw<ReadonlySet<string>>(new Set())
  /** What the list of types offers for what is typed, and the one that Enter takes when none is marked. */
  choices: { readonly list: readonly string[]; readonly first: string | undefined } = { list: [], first: undefined }
  /** From where a range of rows reaches. */
  private anchor: RowPlace | undefined
  /** A row that was put in and has no name of its own yet: it goes again when it gets none. */
  private unnamed: string | undefined
  /** Where Tab began to go along a row: Enter goes on there, one row below. */
  private began: ColumnName | undefined

  constructor(
    private readonly desk: Desk,
    private readonly page: Page
  ) {}

  /** The rows that a key or a tool is about, in their order. */
  places(): RowPlace[] {
    const lines = this.page.lines().filter(({ row }) => !isNewRow(row.id))
    const chosen = lines.filter((line) => this.chosen.has(line.key))
    const own = this.active
    const meant = chosen.length > 0 ? chosen : lines.filter((line) => own && line.key === rowKey(own))
    return meant.map((line) => ({ entity: line.entity.id, row: line.row.id }))
  }

  refuse(text: string) {
    this.said = text === '' ? undefined : { text, refused: true }
  }

  private lineOf = (place: RowPlace) => this.page.lines().find((line) => line.key === rowKey(place))

  /** Onto a cell; with `keep`, the rows that are chosen stay so. */
  async go(cell: Cell, { focus = true, keep = false } = {}) {
    this.active = cell
    this.editing = undefined
    this.said = undefined
    if (!keep) {
      this.chosen = new Set()
      this.anchor = cell
    }
    this.desk.select(
      isNewRow(cell.row) ? { kind: 'entity', entity: cell.entity } : { kind: 'row', entity: cell.entity, row: cell.row }
    )
    if (focus) await this.page.show(cell)
  }

  /** The rows from where the choice began up to this one. */
  private choose(to: RowPlace) {
    const lines = this.page.lines()
    const at = (place: RowPlace) => lines.findIndex((line) => line.key === rowKey(place))
    const [from, until] = [at(this.anchor ?? to), at(to)].sort((a, b) => a - b) as [number, number]
    this.chosen = new Set(lines.slice(Math.max(0, from), until + 1).map(({ key }) => key))
  }

  /** One row more, or one less. */
  private toggleRow(place: RowPlace) {
    const next = new Set(this.chosen)
    if (next.size === 0 && this.active && rowKey(this.active) !== rowKey(place)) next.add(rowKey(this.active))
    if (!next.delete(rowKey(place))) next.add(rowKey(place))
    this.chosen = next
    this.anchor = place
  }

  /** All rows of the entity; where they are chosen already, all there are. */
  private chooseAll(cell: Cell) {
    const lines = this.page.lines().filter(({ row }) => !isNewRow(row.id))
    const own = lines.filter(({ entity }) => entity.id === cell.entity)
    const whole = own.every(({ key }) => this.chosen.has(key))
    this.chosen = new Set((whole ? lines : own).map(({ key }) => key))
  }

  /** A press of the pointer on a cell. */
  press(cell: Cell, event: PointerEvent) {
    if (event.button !== 0) return
    if (event.shiftKey) {
      event.preventDefault()
      this.choose(cell)
      void this.go(cell, { keep: true })
    } else if (event.ctrlKey || event.metaKey) {
      event.preventDefault()
      this.toggleRow(cell)
      void this.go(cell, { keep: true })
    } else void this.go(cell, { focus: false, keep: this.chosen.has(rowKey(cell)) })
  }

  begin(cell: Cell, text?: string) {
    const line = this.lineOf(cell)
    if (!line) return
    if (cell.column === 'key' || (cell.column === 'filled' && text === undefined)) return this.toggle(cell, line)
    this.active = cell
    const now = cellText(this.desk.design, line.entity, line.row, cell.column)
    this.editing = { text: text ?? now, error: '', marked: -1 }
  }

  type(text: string) {
    this.editing = { text, error: '', marked: -1 }
  }

  private toggle(cell: Cell, line: RowLine) {
    if (isNewRow(line.row.id)) return
    const now = cellText(this.desk.design, line.entity, line.row, cell.column)
    if (cell.column === 'filled') this.finish(cell, now === 'required' ? 'may be empty' : 'required')
    else this.finish(cell, now === 'key' ? '' : 'key')
  }

  /** Takes what was typed; false, and a sentence in place, when it cannot be taken. */
  finish(cell: Cell, text: string): { row: string } | false {
    if (this.chosen.size > 1 && this.chosen.has(rowKey(cell))) return this.finishMany(cell, text)
    const line = this.lineOf(cell)
    if (!line) return { row: cell.row }
    if (this.unnamed === cell.row && text.trim() === '') return { row: this.withdraw(cell) }
    const result = commit(this.desk.design, line.entity, line.row, cell.column, text)
    if ('error' in result) {
      this.editing = { text, error: result.error, marked: -1 }
      return false
    }
    // The name of a row that was put in is one thing with putting it in.
    if ('edit' in result) this.desk.edit(result.edit, this.unnamed === cell.row)
    if (this.unnamed === cell.row) this.unnamed = undefined
    this.editing = undefined
    this.tell(result)
    return { row: ('row' in result ? result.row : undefined) ?? cell.row }
  }

  private finishMany(cell: Cell, text: string): { row: string } | false {
    if (cell.column === 'name') {
      this.editing = { text, error: 'Several columns cannot have one name: Escape, then choose one row.', marked: -1 }
      return false
    }
    const places = this.places()
    const own = places.findIndex((place) => rowKey(place) === rowKey(cell))
    const done = commitMany(this.desk.design, places, cell.column, text)
    if (done.refused.length === places.length) {
      this.editing = { text, error: done.refused[0] ?? '', marked: -1 }
      return false
    }
    this.desk.edit(done.edit)
    this.editing = undefined
    this.chosen = new Set(done.rows.map(rowKey))
    if (done.refused.length > 0) this.refuse(`Not taken: ${some(done.refused)}`)
    else this.tell(done)
    return { row: done.rows[own]?.row ?? cell.row }
  }

  private tell(result: object) {
    const text = 'said' in result ? String(result.said) : ''
    this.said = text === '' ? undefined : { text, refused: false }
  }

  /** A row that was put in and never named is taken out again; the row that stands there then. */
  private withdraw(cell: Cell): string {
    const next = neighbour(this.page.lines(), cell, 1, 0)
    this.unnamed = undefined
    this.editing = undefined
    this.desk.undo()
    return next.row
  }

  private finishAndGo(cell: Cell, rows: number, columns: number) {
    const done = this.finish(cell, this.editing?.text ?? '')
    if (done === false) return
    const { said } = this
    const here = { ...cell, row: done.row }
    const arrived = () => void (this.said = said)
    if (columns !== 0) this.began ??= cell.column
    // Below a row just made is the empty one, whatever other rows stand between them.
    if (isNewRow(cell.row) && !isNewRow(done.row) && rows > 0)
      return void this.go({ entity: cell.entity, row: cell.row, column: 'name' }).then(arrived)
    const keep = this.chosen.size > 0
    const next = keep && rows !== 0 ? here : neighbour(this.page.lines(), here, rows, columns)
    if (columns !== 0 && next === here)
      return void this.go(here).then(() => {
        this.page.leave(columns > 0)
        arrived()
      })
    const column = rows !== 0 && !keep ? (this.began ?? next.column) : next.column
    if (rows !== 0) this.began = undefined
    void this.go({ ...next, column: isNewRow(next.row) ? 'name' : column }, { keep }).then(arrived)
  }

  insertAbove = (cell: Cell) => {
    const entity = this.desk.design.entities[cell.entity]
    if (!entity) return
    const beside = siblingsOf(entity, cell.row)
    const taken = (beside?.among ?? entity.attributes).map((a) => a.name)
    const attribute = newAttribute(freeName('column', taken))
    if (isNewRow(cell.row)) {
      const at = { ...cell, column: 'name' } as const
      return void this.go(at).then(() => this.begin(at, ''))
    }
    const within = beside?.within === undefined ? {} : { within: beside.within.id }
    this.desk.edit({ kind: 'attribute.add', entity: entity.id, attribute, ...within, before: cell.row })
    const at = { entity: entity.id, row: attribute.id, column: 'name' } as const
    void this.go(at).then(() => {
      this.unnamed = attribute.id
      this.begin(at, '')
    })
  }

  move = (cell: Cell, by: 1 | -1) => {
    this.editAndStay(cell, moveRows(this.desk.design, this.places(), by))
  }

  /** Into what stands above, as one of its fields, or out of what it is a field of. */
  private shift(cell: Cell, by: 1 | -1) {
    const edit = shiftRow(this.desk.design, cell, by)
    if (edit) this.editAndStay(cell, edit)
    else
      this.refuse(
        by > 0
          ? 'Nothing above holds fields: give a column the type object, or list of object.'
          : 'It stands in the entity itself.'
      )
  }

  /** Rows that were dragged, before another one of their entity. */
  drop(from: RowPlace, before: RowPlace) {
    const chosen = this.places().filter(({ entity }) => entity === from.entity)
    const rows = chosen.some(({ row }) => row === from.row) ? chosen.map(({ row }) => row) : [from.row]
    const cell = { ...from, column: 'name' as const }
    this.editAndStay(cell, dropRows(this.desk.design, from.entity, new Set(rows), before.row))
  }

  private editAndStay(cell: Cell, edit: Edit) {
    this.desk.edit(edit)
    void this.go(cell, { keep: true })
  }

  remove = (cell: Cell) => {
    const places = this.places()
    if (places.length === 0) return
    const gone = new Set(places.map(rowKey))
    const lines = this.page.lines()
    const last = lines.findLastIndex(({ key }) => gone.has(key))
    const next = lines.slice(last + 1).find(({ key }) => !gone.has(key)) ?? lines.find(({ key }) => !gone.has(key))
    this.desk.edit(removeRows(this.desk.design, places))
    if (next) void this.go({ entity: next.entity.id, row: next.row.id, column: cell.column })
    if (places.length > 1) this.said = { text: `${count(places.length, 'row', 'rows')} removed.`, refused: false }
  }

  /** Empties a cell, or says why it cannot be empty. */
  private clear(cell: Cell) {
    if (isNewRow(cell.row)) this.refuse('There is nothing in this row yet: type a name.')
    else if (cell.column === 'name') this.refuse('A column needs a name. To remove the column, press Ctrl+Delete.')
    else if (cell.column === 'type') this.refuse('A column needs a type: type another one over it.')
    else if (cell.column === 'key' || cell.column === 'filled')
      this.refuse('This is one or the other: Space changes it.')
    else this.finish(cell, '')
  }

  /** What the topmost of the chosen rows has in this column, for all of them. */
  private fillDown(cell: Cell) {
    const [first] = this.places()
    const line = first && this.lineOf(first)
    if (!line || this.chosen.size < 2)
      return this.refuse('To fill down, choose rows first: Shift and the arrow keys, or Ctrl+A.')
    if (cell.column === 'name') return this.refuse('Several columns cannot have one name.')
    this.finish(cell, cellText(this.desk.design, line.entity, line.row, cell.column))
  }

  oncopy = (event: ClipboardEvent) => {
    const places = this.places()
    if (this.editing || places.length === 0 || !this.active) return
    // One row is copied by its cell, as one sees it; several as rows.
    const line = this.lineOf(this.active)
    const text =
      this.chosen.size > 0 || !line
        ? copied(this.desk.design, places, columns.shown)
        : cellText(this.desk.design, line.entity, line.row, this.active.column)
    event.clipboardData?.setData('text/plain', text)
    event.preventDefault()
    if (event.type === 'cut' && this.chosen.size > 0) this.remove(this.active)
    else if (event.type === 'cut') this.clear(this.active)
  }

  onpaste = (event: ClipboardEvent) => {
    const cell = this.active
    const text = event.clipboardData?.getData('text/plain') ?? ''
    const fields = fieldsOf(text)
    // One plain value goes into the open cell as it is typed.
    if (!cell || text === '' || (this.editing && !fields)) return
    event.preventDefault()
    this.unnamed = undefined
    if (!fields && this.chosen.size > 1) return void this.finish(cell, text.trim())
    const reading = fields && readTable(fields, columns.shown)
    if (fields && reading) {
      this.pasting = { cell, lines: fields, reading }
      return
    }
    this.put(cell, paste(this.desk.design, cell, fields ?? [[text.trim()]], columns.shown))
  }

  /** A pasted table whose columns are not the sheet's: how it is read is asked first. */
  pasting = $state.raw<{
    readonly cell: Cell
    readonly lines: readonly (readonly string[])[]
    readonly reading: Reading
  }>()

  /** Takes the table as it is read now, or leaves it. */
  endPasting(reading: Reading | undefined) {
    const pending = this.pasting
    this.pasting = undefined
    if (!pending) return
    const { cell, lines } = pending
    if (reading) this.put(cell, pasteSpread(this.desk.design, cell, lines, reading))
    else void this.go(cell)
  }

  private put(cell: Cell, { edits, refused, row }: ReturnType<typeof paste>) {
    if (edits.length > 0) this.desk.edit({ kind: 'all', edits })
    void this.go({ ...cell, row }).then(() => this.refuse(refused.length === 0 ? '' : `Not pasted: ${some(refused)}`))
  }

  onkeydown = (event: KeyboardEvent) => {
    const cell = this.active
    if (!cell) return
    const done = this.editing ? this.whileTyping(event, cell, this.editing) : this.onKey(event, cell)
    if (done) event.preventDefault()
    if (done || this.editing) event.stopPropagation()
  }

  private onKey(event: KeyboardEvent, cell: Cell): boolean {
    const ctrl = event.ctrlKey || event.metaKey
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key
    const by = MOVES[key]
    // For the page around.
    if (event.altKey && key === 'Enter') return false
    const flips = cell.column === 'key' || cell.column === 'filled'
    if (event.altKey && (key === 'ArrowUp' || key === 'ArrowDown')) this.move(cell, key === 'ArrowUp' ? -1 : 1)
    else if (event.altKey && (key === 'ArrowLeft' || key === 'ArrowRight'))
      this.shift(cell, key === 'ArrowLeft' ? -1 : 1)
    else if (by && event.shiftKey && !ctrl && by[0] !== 0) {
      const next = neighbour(this.page.lines(), cell, ...by)
      this.choose(next)
      void this.go({ ...next, column: cell.column }, { keep: true })
    } else if (by && !ctrl && !event.shiftKey) void this.go(neighbour(this.page.lines(), cell, ...by))
    else if (key === 'Tab') {
      // Out of the grid at its ends, along the cells otherwise.
      const next = neighbour(this.page.lines(), cell, 0, event.shiftKey ? -1 : 1)
      if (next === cell) this.page.leave(!event.shiftKey)
      else void this.go(next)
    } else if (key === 'Escape' && this.chosen.size > 0) void this.go(cell)
    else if (key === 'Escape') this.page.leave(true)
    else if (ctrl && key === 'a') this.chooseAll(cell)
    else if (ctrl && key === ' ') this.toggleRow(cell)
    else if (ctrl && key === 'd') this.fillDown(cell)
    else if (key === 'Insert' || (ctrl && key === 'i')) this.insertAbove(cell)
    else if (ctrl && (key === 'Delete' || key === 'Backspace')) this.remove(cell)
    else if (key === 'Delete') this.clear(cell)
    else if (key === 'F2' || key === 'Enter' || (key === ' ' && flips)) this.begin(cell)
    else if (event.key.length === 1 && !ctrl && !event.altKey && !flips) this.begin(cell, event.key)
    else return false
    return true
  }

  private whileTyping(event: KeyboardEvent, cell: Cell, typing: Typing): boolean {
    const { list, first } = cell.column === 'type' ? this.choices : { list: [], first: undefined }
    const { key } = event
    if (list.length > 0 && (key === 'ArrowDown' || key === 'ArrowUp')) {
      const from = typing.marked < 0 && first !== undefined ? list.indexOf(first) : typing.marked
      const to = key === 'ArrowDown' ? from + 1 : from < 0 ? list.length - 1 : from - 1
      this.editing = { ...typing, marked: (to + list.length) % list.length }
    } else if (key === 'Enter' || key === 'Tab' || key === 'ArrowDown' || key === 'ArrowUp') {
      const chosen = list[typing.marked] ?? first
      if (chosen !== undefined) this.editing = { ...typing, text: chosen }
      if (key === 'Tab') this.finishAndGo(cell, 0, event.shiftKey ? -1 : 1)
      else this.finishAndGo(cell, key === 'ArrowUp' ? -1 : 1, 0)
    } else if (key === 'Escape') {
      this.began = undefined
      if (this.unnamed === cell.row) void this.go({ ...cell, row: this.withdraw(cell) })
      else void this.go(cell, { keep: true })
    } else if (event.target instanceof HTMLInputElement || event.ctrlKey || event.metaKey || event.altKey) return false
    // The field is not drawn yet: what is typed is for it.
    else if (key.length === 1) this.type(typing.text + key)
    else if (key === 'Backspace') this.type(typing.text.slice(0, -1))
    else return false
    return true
  }

  /** The keys went elsewhere while something was typed. */
  leaveCell(cell: Cell) {
    if (!this.editing) return
    const { text } = this.editing
    if (this.finish(cell, text) !== false) return
    const { error } = this.editing
    this.refuse(`“${text}” was not taken: ${error}`)
    if (this.unnamed === cell.row) this.withdraw(cell)
    this.editing = undefined
  }
}

const MOVES: Readonly<Record<string, readonly [rows: number, columns: number]>> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1]
}

const some = (sentences: readonly string[]) =>
  sentences.slice(0, 3).join(' ') + (sentences.length > 3 ? ` And ${sentences.length - 3} more.` : '')
