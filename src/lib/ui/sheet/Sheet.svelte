<!-- All tables as one continuous page of editable columns. Everything here can be done from the keyboard. -->
<script lang="ts">
  import { createVirtualizer } from '@tanstack/svelte-virtual'
  import { tick, untrack } from 'svelte'
  import { get } from 'svelte/store'
  import { freeName, newAttribute, rowIds } from '../../core/design'
  import Mark from '../desk/Mark.svelte'
  import { entityOf, useDesk } from '../desk/desk.svelte'
  import {
    cellText,
    COLUMNS,
    commit,
    GRID,
    inKey,
    NEW_ROW,
    TITLES,
    type Cell,
    type ColumnName,
    type Row
  } from './cells'
  import EntityHead from './EntityHead.svelte'
  import { linesOf } from './lines'
  import { fieldsOf, paste } from './paste'
  import RowTools from './RowTools.svelte'
  import TypeChoices from './TypeChoices.svelte'
  import ViewLine from '../views/ViewLine.svelte'
  import ViewText from '../views/ViewText.svelte'
  import { leaveGrid, neighbour, type RowLine } from './walk'

  const desk = useDesk()
  let scroller = $state<HTMLDivElement>()
  let active = $state.raw<Cell>()
  let editing = $state<{ text: string; error: string; marked: number } | undefined>()
  /** A row that was put in and has no name of its own yet: it goes again when it gets none. */
  let unnamed = $state<string>()
  /** Why something could not be done, where no cell can say it. */
  let said = $state('')
  let choices: readonly string[] = []

  const lines = $derived(linesOf(desk.design))
  const empty = $derived(lines.length === 0)

  const virtualizer = createVirtualizer<HTMLDivElement, HTMLElement>({
    count: 0,
    getScrollElement: () => scroller ?? null,
    estimateSize: () => 28,
    overscan: 12
  })
  $effect(() => {
    const list = lines
    untrack(() =>
      get(virtualizer).setOptions({
        count: list.length,
        getScrollElement: () => scroller ?? null,
        estimateSize: (i) => list[i]?.height ?? 28,
        getItemKey: (i) => list[i]?.key ?? i
      })
    )
    get(virtualizer).measure()
  })

  // What is selected elsewhere comes into view here.
  $effect(() => {
    const selection = desk.selection
    untrack(() => {
      if (!selection) return
      const link = selection.kind === 'link' ? desk.design.links[selection.link] : undefined
      const entity = link?.child ?? entityOf(selection)
      if (selection.kind === 'view') {
        const at = lines.findIndex((line) => line.key === selection.view)
        if (at >= 0) get(virtualizer).scrollToIndex(at, { align: 'center' })
      }
      const row = selection.kind === 'row' ? selection.row : selection.kind === 'link' ? selection.link : undefined
      if (entity === undefined || (active?.entity === entity && (row === undefined || active.row === row))) return
      const at = lines.findIndex((line) => line.key === (row === undefined ? entity : `${entity} ${row}`))
      if (at >= 0) get(virtualizer).scrollToIndex(at, { align: 'center' })
      if (row !== undefined) active = { entity, row, column: 'name' }
    })
  })

  const rowLines = $derived(lines.filter((line) => line.kind === 'row'))
  const lineOf = (cell: Cell) => rowLines.find((line) => line.entity.id === cell.entity && line.row.id === cell.row)
  const cellId = (cell: Cell) => `cell-${cell.entity}-${cell.row}-${cell.column}`

  async function go(cell: Cell, focus = true) {
    active = cell
    editing = undefined
    said = ''
    desk.select(
      cell.row === NEW_ROW
        ? { kind: 'entity', entity: cell.entity }
        : { kind: 'row', entity: cell.entity, row: cell.row }
    )
    if (!focus) return
    await tick()
    const at = lines.findIndex((line) => line.key === `${cell.entity} ${cell.row}`)
    if (at >= 0) get(virtualizer).scrollToIndex(at, { align: 'auto' })
    await tick()
    focusSoon(cell, 12)
  }

  /** A line that has just come into view is drawn within a few frames. */
  function focusSoon(cell: Cell, frames: number) {
    const node = document.getElementById(cellId(cell))
    if (node) return node.focus({ preventScroll: true })
    if (frames > 0 && active === cell) requestAnimationFrame(() => focusSoon(cell, frames - 1))
  }

  function begin(cell: Cell, text?: string) {
    const line = lineOf(cell)
    if (!line) return
    if (cell.column === 'key' || (cell.column === 'filled' && text === undefined)) return void toggle(cell, line)
    active = cell
    editing = { text: text ?? cellText(desk.design, line.entity, line.row, cell.column), error: '', marked: -1 }
  }

  function toggle(cell: Cell, line: RowLine) {
    if (line.row.id === NEW_ROW) return
    const now = cellText(desk.design, line.entity, line.row, cell.column)
    finish(
      cell,
      cell.column === 'key' ? (now === 'key' ? '' : 'key') : now === 'required' ? 'may be empty' : 'required'
    )
  }

  /** Takes what was typed; false, and a sentence in place, when it cannot be taken. */
  function finish(cell: Cell, text: string): { row: string } | false {
    const line = lineOf(cell)
    if (!line) return { row: cell.row }
    if (unnamed === cell.row && text.trim() === '') return { row: withdraw(cell) }
    const result = commit(desk.design, line.entity, line.row, cell.column, text)
    if ('error' in result) {
      editing = { text, error: result.error, marked: -1 }
      return false
    }
    // The name of a row that was put in is one thing with putting it in.
    if ('edit' in result) desk.edit(result.edit, unnamed === cell.row)
    if (unnamed === cell.row) unnamed = undefined
    editing = undefined
    return { row: ('row' in result ? result.row : undefined) ?? cell.row }
  }

  /** A row that was put in and never named is taken out again; the row that stands there then. */
  function withdraw(cell: Cell): string {
    const next = neighbour(rowLines, cell, 1, 0)
    unnamed = undefined
    editing = undefined
    desk.undo()
    return next.row
  }

  function finishAndGo(cell: Cell, rows: number, columns: number) {
    const done = finish(cell, editing?.text ?? '')
    if (done === false) return
    const here = { ...cell, row: done.row }
    // Below a row just made is the empty one, whatever other rows stand between them.
    if (cell.row === NEW_ROW && done.row !== NEW_ROW && rows > 0)
      return void go({ entity: cell.entity, row: NEW_ROW, column: 'name' })
    const next = neighbour(rowLines, here, rows, columns)
    if (columns !== 0 && next === here) return void go(here).then(() => leaveGrid(scroller, columns > 0))
    void go(next)
  }

  function insertAbove(cell: Cell) {
    const entity = desk.design.entities[cell.entity]
    if (!entity) return
    const attribute = newAttribute(
      freeName(
        'column',
        entity.attributes.map((a) => a.name)
      )
    )
    const before = cell.row === NEW_ROW ? undefined : cell.row
    if (before === undefined)
      return void go({ ...cell, column: 'name' }).then(() => begin({ ...cell, column: 'name' }, ''))
    desk.edit({ kind: 'attribute.add', entity: entity.id, attribute, before })
    void go({ entity: entity.id, row: attribute.id, column: 'name' }).then(() => {
      unnamed = attribute.id
      begin({ entity: entity.id, row: attribute.id, column: 'name' }, '')
    })
  }

  function move(cell: Cell, by: 1 | -1) {
    const entity = desk.design.entities[cell.entity]
    if (!entity) return
    const ids = rowIds(desk.design, entity)
    const at = ids.indexOf(cell.row)
    if (at < 0 || at + by < 0 || at + by >= ids.length) return
    const before = by < 0 ? ids[at - 1] : ids[at + 2]
    desk.edit({ kind: 'row.move', entity: entity.id, id: cell.row, ...(before === undefined ? {} : { before }) })
    void go(cell)
  }

  function remove(cell: Cell) {
    const line = lineOf(cell)
    if (!line || line.row.id === NEW_ROW) return
    const next = neighbour(rowLines, cell, 1, 0)
    if (line.row.link) desk.edit({ kind: 'link.remove', id: line.row.id })
    else desk.edit({ kind: 'attribute.remove', entity: cell.entity, id: line.row.id })
    void go({ ...next, column: cell.column })
  }

  /** Empties a cell, or says why it cannot be empty. */
  function clear(cell: Cell) {
    const row = cell.row === NEW_ROW
    if (row) said = 'There is nothing in this row yet: type a name.'
    else if (cell.column === 'name') said = 'A column needs a name. To remove the column, press Ctrl+Delete.'
    else if (cell.column === 'type') said = 'A column needs a type: type another one over it.'
    else if (cell.column === 'key' || cell.column === 'filled') said = 'This is one or the other: Space changes it.'
    else finish(cell, '')
  }

  function onpaste(event: ClipboardEvent) {
    const cell = active
    const text = event.clipboardData?.getData('text/plain') ?? ''
    const fields = fieldsOf(text)
    // One plain value goes into the open cell as it is typed.
    if (!cell || text === '' || (editing && !fields)) return
    event.preventDefault()
    unnamed = undefined
    const { edits, refused, row } = paste(desk.design, cell, fields ?? [[text.trim()]])
    if (edits.length > 0) desk.edit({ kind: 'all', edits })
    void go({ ...cell, row }).then(() => {
      said =
        refused.length === 0
          ? ''
          : `Not pasted: ${refused.slice(0, 3).join(' ')}${refused.length > 3 ? ` And ${refused.length - 3} more.` : ''}`
    })
  }

  function onkeydown(event: KeyboardEvent) {
    const cell = active
    if (!cell) return
    if (editing) return whileEditing(event, cell)
    const ctrl = event.ctrlKey || event.metaKey
    const moves: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1]
    }
    const by = moves[event.key]
    if (event.altKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown'))
      move(cell, event.key === 'ArrowUp' ? -1 : 1)
    else if (by && !ctrl && !event.shiftKey) void go(neighbour(rowLines, cell, ...by))
    else if (event.key === 'Tab') {
      // Out of the grid at its ends, along the cells otherwise.
      const next = neighbour(rowLines, cell, 0, event.shiftKey ? -1 : 1)
      if (next === cell) leaveGrid(scroller, !event.shiftKey)
      else void go(next)
    } else if (event.key === 'Escape') leaveGrid(scroller, true)
    else if (event.key === 'Insert' || (ctrl && event.key === 'i')) insertAbove(cell)
    else if (ctrl && (event.key === 'Delete' || event.key === 'Backspace')) remove(cell)
    else if (event.key === 'Delete') clear(cell)
    else if (
      event.key === 'F2' ||
      event.key === 'Enter' ||
      (event.key === ' ' && ['key', 'filled'].includes(cell.column))
    )
      begin(cell)
    else if (event.key.length === 1 && !ctrl && !event.altKey && !['key', 'filled'].includes(cell.column))
      begin(cell, event.key)
    else return
    event.preventDefault()
    event.stopPropagation()
  }

  function whileEditing(event: KeyboardEvent, cell: Cell) {
    if (!editing) return
    const list = cell.column === 'type' ? choices : []
    const inList = list.length > 0 && (event.key === 'ArrowDown' || event.key === 'ArrowUp')
    if (inList) {
      const marked = (editing.marked + (event.key === 'ArrowDown' ? 1 : -1) + list.length) % list.length
      editing = { ...editing, marked }
    } else if (event.key === 'Enter' || event.key === 'Tab' || event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      const chosen = list[editing.marked]
      if (chosen !== undefined) editing = { ...editing, text: chosen }
      if (event.key === 'Tab') finishAndGo(cell, 0, event.shiftKey ? -1 : 1)
      else finishAndGo(cell, event.key === 'ArrowUp' ? -1 : 1, 0)
    } else if (event.key === 'Escape') {
      if (unnamed === cell.row) void go({ ...cell, row: withdraw(cell) })
      else void go(cell)
    } else {
      event.stopPropagation()
      return
    }
    event.preventDefault()
    event.stopPropagation()
  }

  function leave(cell: Cell) {
    if (!editing) return
    const { text } = editing
    if (finish(cell, text) !== false) return
    said = `“${text}” was not taken: ${editing.error}`
    if (unnamed === cell.row) withdraw(cell)
    editing = undefined
  }

  const focused = (node: HTMLInputElement) => {
    node.focus()
    node.setSelectionRange(node.value.length, node.value.length)
  }

  const firstCell = $derived(
    active ??
      (rowLines[0] ? { entity: rowLines[0].entity.id, row: rowLines[0].row.id, column: 'name' as const } : undefined)
  )
  const isActive = (line: RowLine, column: ColumnName) =>
    firstCell?.entity === line.entity.id && firstCell.row === line.row.id && firstCell.column === column
  const selectedRow = (line: RowLine) => {
    const s = desk.selection
    return (
      (s?.kind === 'row' && s.entity === line.entity.id && s.row === line.row.id) ||
      (s?.kind === 'link' && s.link === line.row.id)
    )
  }
  const selectedView = $derived(desk.selection?.kind === 'view' ? desk.design.views[desk.selection.view] : undefined)
  const isOptional = (row: Row) =>
    row.attribute
      ? !row.attribute.required
      : row.link
        ? !row.link.parentRequired && row.link.kind !== 'many-to-many'
        : false
</script>

<div class="flex h-full flex-col bg-base-100">
  <RowTools
    {active}
    oninsert={insertAbove}
    onmove={move}
    onremove={remove}
    onadded={(entity, why) =>
      void go({ entity, row: NEW_ROW, column: 'name' }).then(() => {
        said = why
      })}
  />
  {#if said}
    <p role="alert" class="border-b border-line bg-brick-tint px-3 py-1 text-[13px] text-error">{said}</p>
  {/if}
  {#if empty}
    <div class="grid flex-1 place-content-center gap-2 p-8 text-center text-soft">
      <p class="text-base font-semibold text-base-content">Nothing designed yet</p>
      <p>Name an entity above and press Enter. Then type its columns, one a row.</p>
    </div>
  {/if}
  <div bind:this={scroller} class="relative min-h-0 flex-1 overflow-y-auto {empty ? 'hidden' : ''}">
    <!-- svelte-ignore a11y_no_noninteractive_element_to_interactive_role -->
    <div
      role="grid"
      aria-label="Columns of all entities"
      aria-rowcount={lines.length}
      tabindex="-1"
      {onkeydown}
      {onpaste}
      class="relative min-w-[640px]"
      style:height="{$virtualizer.getTotalSize()}px"
    >
      {#each $virtualizer.getVirtualItems() as item (item.key)}
        {@const line = lines[item.index]}
        {#if line}
          <div
            class="absolute inset-x-0"
            style:transform="translateY({item.start}px)"
            style:height="{line.height}px"
            style:z-index={editing &&
            line.kind === 'row' &&
            active?.row === line.row.id &&
            active.entity === line.entity.id
              ? 20
              : undefined}
            role="rowgroup"
          >
            {#if line.kind === 'area'}
              <div role="row">
                <p role="gridcell" class="px-3 pt-2 text-xs tracking-[0.2em] text-soft uppercase">{line.name}</p>
              </div>
            {:else if line.kind === 'head'}
              <EntityHead entity={line.entity} columns={line.columns} onrefuse={(why) => (said = why)} />
            {:else if line.kind === 'view'}
              <ViewLine view={line.view} />
            {:else if line.kind === 'given'}
              <div role="row" class="{GRID} h-full items-center border-b border-line px-1 text-soft">
                <span role="gridcell" class="px-1.5 text-base-content"><Mark key={true} link={false} /></span>
                <span role="gridcell" class="px-1.5">{line.name}</span>
                <span role="gridcell" class="truncate px-1.5 font-mono text-[13px]">{line.type}</span>
                <span role="gridcell" class="col-span-4 truncate px-1.5 text-xs">{line.why}</span>
              </div>
            {:else}
              <div
                role="row"
                class="{GRID} h-full border-b border-line px-1 {selectedRow(line) ? 'bg-sea-tint' : ''}"
                aria-selected={selectedRow(line)}
              >
                {#each COLUMNS as column (column)}
                  {@const cell = { entity: line.entity.id, row: line.row.id, column }}
                  {@const text = cellText(desk.design, line.entity, line.row, column)}
                  {@const open =
                    editing && active?.entity === cell.entity && active.row === cell.row && active.column === column}
                  <!-- svelte-ignore a11y_click_events_have_key_events (the grid around it has the keys) -->
                  <div
                    role="gridcell"
                    id={cellId(cell)}
                    tabindex={isActive(line, column) && !open ? 0 : -1}
                    class="relative flex min-w-0 items-center px-1.5 outline-offset-[-2px]"
                    aria-label={column === 'key' ? (text === 'key' ? 'in the key' : 'not in the key') : undefined}
                    onfocus={() => {
                      if (active?.entity !== cell.entity || active.row !== cell.row || active.column !== column)
                        void go(cell, false)
                    }}
                    onpointerdown={() => {
                      if (!open) void go(cell, false)
                    }}
                    ondblclick={() => begin(cell)}
                    onclick={() => {
                      if (column === 'key' || column === 'filled' || line.row.id === NEW_ROW) begin(cell)
                    }}
                  >
                    {#if open && editing}
                      <input
                        class="absolute inset-0 w-full min-w-0 border-2 border-primary bg-base-100 px-1 {column ===
                        'type'
                          ? 'font-mono text-[13px]'
                          : ''}"
                        aria-label="{TITLES[column]} of {line.row.id === NEW_ROW
                          ? 'a new column'
                          : cellText(desk.design, line.entity, line.row, 'name')}"
                        aria-invalid={editing.error !== ''}
                        role={column === 'type' ? 'combobox' : undefined}
                        aria-expanded={column === 'type' ? true : undefined}
                        aria-controls={column === 'type' ? 'type-choices' : undefined}
                        aria-activedescendant={column === 'type' && editing.marked >= 0
                          ? `type-choices-${editing.marked}`
                          : undefined}
                        value={editing.text}
                        oninput={(event) => (editing = { text: event.currentTarget.value, error: '', marked: -1 })}
                        onblur={() => leave(cell)}
                        {@attach focused}
                      />
                      {#if column === 'type'}
                        <TypeChoices
                          id="type-choices"
                          design={desk.design}
                          text={editing.text}
                          marked={editing.marked}
                          above={item.start - (scroller?.scrollTop ?? 0) > (scroller?.clientHeight ?? 0) / 2}
                          onlist={(list) => (choices = list)}
                          onchoose={(text) => {
                            if (finish(cell, text) !== false) void go(cell)
                          }}
                        />
                      {/if}
                      {#if editing.error}
                        <p
                          role="alert"
                          class="absolute top-full left-0 z-40 mt-1 w-64 rounded border border-error bg-brick-tint px-2 py-1 text-xs text-error"
                        >
                          {editing.error}
                        </p>
                      {/if}
                    {:else if column === 'key'}
                      {#if line.row.id !== NEW_ROW}<Mark
                          key={inKey(line.entity, line.row)}
                          link={line.row.link !== undefined}
                        />{/if}
                    {:else if line.row.id === NEW_ROW}
                      {#if column === 'name'}<span class="truncate text-soft">add a column</span>{/if}
                    {:else}
                      <span
                        class="truncate {column === 'type'
                          ? 'font-mono text-[13px] text-secondary'
                          : column === 'name'
                            ? ''
                            : 'text-[13px]'}"
                        >{text}{#if column === 'name' && isOptional(line.row)}<span class="text-soft">?</span
                          >{/if}</span
                      >
                    {/if}
                  </div>
                {/each}
              </div>
            {/if}
          </div>
        {/if}
      {/each}
    </div>
  </div>
  {#if selectedView}{#key selectedView.id}<ViewText view={selectedView} />{/key}{/if}
</div>
