<!-- The line of a card that is typed: its name, a row, or a new one; and what else can be done to the row. -->
<script lang="ts">
  import { tick, untrack } from 'svelte'
  import { addedColumn, changedRow, moveRows, removeRows, rowText } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import { NAME, NEW, type Board, type Editing } from './board.svelte'

  interface Props {
    readonly board: Board
    readonly editing: Editing
    /** The plane is told again where the keyboard goes on. */
    readonly onleave: () => void
  }
  const { board, editing, onleave }: Props = $props()
  const desk = useDesk()
  const card = $derived(board.picture.cards.find(({ id }) => id === editing.entity))
  const entity = $derived(desk.design.entities[editing.entity])
  const row = $derived(card?.rows.find((one) => one.row === editing.row && !one.continued))
  const isNew = $derived(editing.row === NEW)
  // A row that was added of itself has no id to be asked for by.
  const before = $derived(
    card?.rows.find((one) => one.row !== undefined && one.row === editing.before && !one.continued)
  )
  const top = $derived(
    card ? (editing.row === NAME ? 0 : row ? row.y : before ? before.y - card.row / 2 : card.height) : 0
  )
  const label = $derived(
    editing.row === NAME
      ? `Name in the card of ${card?.title ?? ''}`
      : isNew
        ? `New row in the card of ${card?.title ?? ''}`
        : `Row in the card of ${card?.title ?? ''}`
  )
  const said = $derived(
    editing.row === NAME ? (entity?.name ?? '') : isNew ? '' : rowText(desk.design, editing.entity, editing.row)
  )
  let typed = $state<string>()
  const text = $derived(typed ?? said)
  let error = $state('')
  let leaving = false

  const { view } = $derived(board.plane)
  const wide = $derived(Math.max((card?.width ?? 0) * view.k, 250))
  const at = $derived(
    card
      ? {
          // What is typed into is all in view.
          left: Math.max(0, Math.min(card.x * view.k + view.x, board.plane.size.width - wide)),
          top: Math.max(0, Math.min((card.y + top) * view.k + view.y, board.plane.size.height - 60)),
          width: wide,
          height: Math.max(card.row * view.k, 24)
        }
      : { left: 0, top: 0, width: 240, height: 24 }
  )

  function open(next: Editing | undefined) {
    typed = undefined
    error = ''
    board.editing = next
    if (!next) {
      leaving = true
      onleave()
    } else if (next.row !== NAME && next.row !== NEW) desk.select({ kind: 'row', entity: next.entity, row: next.row })
  }

  /** The row that the text is of now; nothing where it is refused. */
  function take(): string | undefined {
    const own = text.trim()
    if (editing.row === NAME) {
      error = own === said ? '' : entity ? (desk.renameEntity(entity, own) ?? '') : ''
      return error === '' ? NAME : undefined
    }
    if (isNew && own === '') return NEW
    const done = isNew
      ? addedColumn(desk.design, editing.entity, own, { before: editing.before })
      : changedRow(desk.design, editing.entity, editing.row, own)
    error = 'error' in done ? done.error : ''
    if ('error' in done) return undefined
    if ('edit' in done) desk.edit(done.edit)
    return ('row' in done ? done.row : undefined) ?? editing.row
  }

  /** The row after it, among those that are there now. */
  function after(id: string): string | undefined {
    const rows = board.rowsOf(editing.entity)
    return rows[rows.indexOf(id) + 1]
  }

  async function enter() {
    const wasEmpty = isNew && text.trim() === ''
    const isField = (row?.depth ?? 0) > 0
    const taken = take()
    if (taken === undefined) return
    if (wasEmpty || isField) return open(undefined)
    await tick()
    if (taken === NAME) {
      const first = board.rowsOf(editing.entity)[0]
      return open(editing.isNew && first === undefined ? { entity: editing.entity, row: NEW } : undefined)
    }
    open({ entity: editing.entity, row: NEW, before: isNew ? editing.before : after(taken) })
  }

  async function step(by: 1 | -1) {
    const taken = take()
    if (taken === undefined) return
    await tick()
    const rows = board.rowsOf(editing.entity)
    const at =
      taken === NAME
        ? -1
        : taken === NEW
          ? editing.before
            ? rows.indexOf(editing.before) - (by > 0 ? 1 : 0)
            : rows.length
          : rows.indexOf(taken)
    const to = at + by
    const { entity: id } = editing
    if (to < 0) open({ entity: id, row: NAME })
    else if (to >= rows.length) open({ entity: id, row: NEW })
    else open({ entity: id, row: rows[to] ?? NEW })
  }

  async function put(place: 'before' | 'after') {
    const taken = take()
    if (taken === undefined || taken === NAME || taken === NEW) return
    await tick()
    open({ entity: editing.entity, row: NEW, before: place === 'before' ? taken : after(taken) })
  }
  function move(by: 1 | -1) {
    desk.edit(moveRows(desk.design, [{ entity: editing.entity, row: editing.row }], by))
    input?.focus({ preventScroll: true })
  }
  function remove() {
    const [rows, id] = [board.rowsOf(editing.entity), editing.row]
    const next = rows[rows.indexOf(id) + 1] ?? rows[rows.indexOf(id) - 1]
    desk.edit(removeRows(desk.design, [{ entity: editing.entity, row: id }]))
    open(next === undefined ? undefined : { entity: editing.entity, row: next })
  }
  /** A word behind the type, or not. */
  function word(which: 'key' | 'required') {
    const has = new RegExp(`\\s${which}\\b`, 'i').test(text)
    typed = has ? text.replace(new RegExp(`\\s+${which}\\b`, 'i'), '') : `${text} ${which}`
    input?.focus({ preventScroll: true })
  }
  const has = (which: string) => new RegExp(`\\s${which}\\b`, 'i').test(text)

  function onkeydown(event: KeyboardEvent) {
    event.stopPropagation()
    const { key } = event
    if (key === 'Enter') void enter()
    else if (key === 'Escape') open(undefined)
    else if (event.altKey && (key === 'ArrowUp' || key === 'ArrowDown')) {
      if (row) move(key === 'ArrowUp' ? -1 : 1)
    } else if (key === 'ArrowUp' || key === 'ArrowDown') void step(key === 'ArrowUp' ? -1 : 1)
    else if (key === 'Insert') void put('before')
    else if (key === 'Delete' && event.ctrlKey && row) remove()
    else return
    event.preventDefault()
  }
  /** What is typed is kept when one goes elsewhere; what is refused stays, with why. */
  function onfocusout(event: FocusEvent) {
    const within = event.relatedTarget instanceof Element && event.relatedTarget.closest('[data-card-editor]')
    if (leaving || within) return
    if (take() !== undefined) board.editing = undefined
  }
  let input = $state<HTMLInputElement>()
  // One field for all lines: taking it away would take the keyboard with it.
  $effect(() => {
    const { isNew: fresh } = editing
    const node = input
    untrack(() => {
      node?.focus({ preventScroll: true })
      if (fresh) node?.select()
      else node?.setSelectionRange(node.value.length, node.value.length)
    })
  })
  const button = 'rounded px-1 hover:bg-base-300 aria-pressed:bg-sea-tint aria-pressed:text-primary'
</script>

{#if card}
  <div
    class="absolute z-10 grid content-start gap-1"
    style="left: {at.left}px; top: {at.top}px; width: {at.width}px"
    data-card-editor
    {onfocusout}
  >
    <input
      class="w-full rounded border-2 border-primary bg-base-100 px-1.5 {editing.row === NAME
        ? 'font-semibold'
        : 'font-mono text-[13px]'}"
      style="height: {at.height}px"
      aria-label={label}
      aria-invalid={error !== ''}
      aria-describedby={error === '' ? undefined : 'card-editor-error'}
      placeholder={isNew ? 'name: type required' : undefined}
      value={text}
      oninput={(event) => {
        typed = event.currentTarget.value
        error = ''
      }}
      {onkeydown}
      bind:this={input}
    />
    {#if editing.row !== NAME}
      <div
        class="flex w-fit items-center gap-0.5 whitespace-nowrap rounded border border-line bg-base-100 px-1 text-xs"
        role="toolbar"
        aria-label="The row that is typed"
      >
        <button class={button} aria-pressed={has('key')} onclick={() => word('key')}>key</button>
        <button class={button} aria-pressed={has('required')} onclick={() => word('required')}>required</button>
        {#if row}
          <span class="mx-0.5 h-3 border-l border-line"></span>
          <button class={button} title="Insert" onclick={() => put('before')}>before</button>
          <button class={button} title="Enter" onclick={() => put('after')}>after</button>
          <button class={button} title="Alt and up" aria-label="Move it up" onclick={() => move(-1)}>▲</button>
          <button class={button} title="Alt and down" aria-label="Move it down" onclick={() => move(1)}>▼</button>
          <button class="{button} text-error" title="Ctrl Delete" onclick={remove}>remove</button>
        {/if}
      </div>
    {/if}
    {#if error}
      <p
        role="alert"
        id="card-editor-error"
        class="rounded border border-error bg-brick-tint px-2 py-1 text-xs text-error"
      >
        {error}
      </p>
    {/if}
  </div>
{/if}
