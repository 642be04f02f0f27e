<!-- All tables as one continuous page of editable columns. Everything here can be done from the keyboard. -->
<script lang="ts">
  import {
    draggable,
    dropTargetForElements,
    monitorForElements
  } from '@atlaskit/pragmatic-drag-and-drop/element/adapter'
  import GripVertical from '@lucide/svelte/icons/grip-vertical'
  import { resolve } from '$app/paths'
  import { createVirtualizer } from '@tanstack/svelte-virtual'
  import { onMount, tick, untrack } from 'svelte'
  import { get } from 'svelte/store'
  import type { Link } from '../../core/design'
  import { cellText, inKey, isNewRow, NEW_ROW, type Cell, type ColumnName, type Row } from '../../core/cells'
  import PastePreview from './PastePreview.svelte'
  import Mark from '../desk/Mark.svelte'
  import { entityOf, useDesk } from '../desk/desk.svelte'
  import CellEditor from './CellEditor.svelte'
  import ColumnChoice from './ColumnChoice.svelte'
  import { columns } from './columns.svelte'
  import EntityHead from './EntityHead.svelte'
  import { Grid, rowKey } from './grid.svelte'
  import { linesOf, type Narrowing } from './lines'
  import RowTools from './RowTools.svelte'
  import About from '../entity/About.svelte'
  import ViewLine from '../views/ViewLine.svelte'
  import ViewText from '../views/ViewText.svelte'
  import { leaveGrid, type RowLine } from './walk'

  const desk = useDesk()
  const ABOUT = 'ramblet.about'
  let about = $state(localStorage.getItem(ABOUT) === 'open')
  $effect(() => localStorage.setItem(ABOUT, about ? 'open' : 'closed'))
  let scroller = $state<HTMLDivElement>()
  let gridNode = $state<HTMLDivElement>()
  let choosing = $state(false)
  /** The cell one is on, where it cannot be read whole. */
  let cut = $state('')
  let narrowing = $state.raw<Narrowing>({ text: '' })

  const lines = $derived(linesOf(desk.design, narrowing))
  const empty = $derived(Object.keys(desk.design.entities).length + Object.keys(desk.design.views).length === 0)
  const rowLines = $derived(lines.filter((line) => line.kind === 'row'))
  const grid = new Grid(desk, { lines: () => rowLines, show, leave: (forward) => leaveGrid(scroller, forward) })

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
      if (entity === undefined || (grid.active?.entity === entity && (row === undefined || grid.active.row === row)))
        return
      const at = lines.findIndex((line) => line.key === (row === undefined ? entity : `${entity} ${row}`))
      if (at >= 0) get(virtualizer).scrollToIndex(at, { align: 'center' })
      if (row !== undefined) grid.active = { entity, row, column: 'name' }
    })
  })

  // What one is on stays in view when the room for it gets smaller, once that is measured.
  $effect(() => {
    void about
    const cell = untrack(() => grid.active)
    if (!cell) return
    const at = untrack(() => lines.findIndex((line) => line.key === rowKey(cell)))
    const later = setTimeout(() => at >= 0 && get(virtualizer).scrollToIndex(at, { align: 'auto' }), 60)
    return () => clearTimeout(later)
  })

  const cellId = (cell: Cell) => `cell-${cell.entity}-${cell.row}-${cell.column}`

  async function show(cell: Cell) {
    // Until the cell is drawn, the grid has the keys: what is typed meanwhile is for the cell.
    gridNode?.focus({ preventScroll: true })
    await tick()
    // With the first entity, the grid itself has just come.
    if (!gridNode?.contains(document.activeElement)) gridNode?.focus({ preventScroll: true })
    const at = lines.findIndex((line) => line.key === rowKey(cell))
    if (at >= 0) get(virtualizer).scrollToIndex(at, { align: 'auto' })
    await tick()
    focusSoon(cell, 12)
  }

  /** A line that has just come into view is drawn within a few frames. */
  function focusSoon(cell: Cell, frames: number) {
    const node = document.getElementById(cellId(cell))
    if (node) return node.focus({ preventScroll: true })
    if (frames > 0 && grid.active === cell) requestAnimationFrame(() => focusSoon(cell, frames - 1))
  }

  /** The row that what is dragged would be put before. */
  let over = $state<string>()
  const dragged = (data: Record<string | symbol, unknown>) => data as { entity: string; row: string }
  const drags = (line: RowLine) => (handle: HTMLElement) => {
    const own = { entity: line.entity.id, row: line.row.id }
    return draggable({ element: handle, getInitialData: () => own })
  }
  const takesDrop = (line: RowLine) => (element: HTMLElement) => {
    const own = { entity: line.entity.id, row: line.row.id }
    return dropTargetForElements({
      element,
      getData: () => own,
      canDrop: ({ source }) => dragged(source.data).entity === own.entity
    })
  }
  onMount(() =>
    monitorForElements({
      onDropTargetChange: ({ location }) => {
        const [target] = location.current.dropTargets
        over = target && rowKey(dragged(target.data))
      },
      onDrop: ({ source, location }) => {
        over = undefined
        const [target] = location.current.dropTargets
        if (target) grid.drop(dragged(source.data), dragged(target.data))
      }
    })
  )

  const firstCell = $derived(
    grid.active ??
      (rowLines[0] ? { entity: rowLines[0].entity.id, row: rowLines[0].row.id, column: 'name' as const } : undefined)
  )
  const isActive = (line: RowLine, column: ColumnName) =>
    firstCell?.entity === line.entity.id && firstCell.row === line.row.id && firstCell.column === column
  const selectedRow = (line: RowLine) => {
    const s = desk.selection
    if (grid.chosen.size > 0) return grid.chosen.has(line.key)
    return (
      (s?.kind === 'row' && s.entity === line.entity.id && s.row === line.row.id) ||
      (s?.kind === 'link' && s.link === line.row.id)
    )
  }
  const selectedEntity = $derived.by(() => {
    const s = desk.selection
    const link = s?.kind === 'link' ? desk.design.links[s.link] : undefined
    return desk.design.entities[aboutId(link) ?? entityOf(s) ?? '']
  })
  /** A link is told of at the end that one was on. */
  let last = ''
  function aboutId(link: Link | undefined) {
    const id = link && (link.parent === last ? link.parent : link.child)
    last = id ?? entityOf(desk.selection) ?? last
    return id
  }
  const selectedView = $derived(desk.selection?.kind === 'view' ? desk.design.views[desk.selection.view] : undefined)
  /** How much further in a field stands than what it is in, in pixels. */
  const INDENT = 18
  const isOptional = (row: Row) =>
    row.attribute
      ? !row.attribute.required
      : row.link
        ? !row.link.parentRequired && row.link.kind !== 'many-to-many'
        : false
</script>

<div
  class="flex h-full flex-col bg-base-100"
  role="presentation"
  onkeydown={(event) => {
    if (!event.altKey || event.key !== 'Enter') return
    about = !about
    event.preventDefault()
  }}
>
  <RowTools
    {grid}
    {about}
    onabout={() => (about = !about)}
    {choosing}
    onchoosing={() => (choosing = !choosing)}
    onadded={(entity, why) => void grid.go({ entity, row: NEW_ROW, column: 'name' }).then(() => grid.refuse(why))}
  />
  {#if choosing}
    <ColumnChoice
      {narrowing}
      onnarrow={(next) => (narrowing = next)}
      chosen={grid.chosen.size}
      onchosen={() => (narrowing = { ...narrowing, only: grid.chosen })}
    />
  {/if}
  {#if grid.said}
    <p
      role={grid.said.refused ? 'alert' : 'status'}
      class="border-b border-line px-3 py-1 text-[13px] {grid.said.refused
        ? 'bg-brick-tint text-error'
        : 'bg-sea-tint'}"
    >
      {grid.said.text}
    </p>
  {/if}
  {#if grid.pasting}
    {#key grid.pasting}<PastePreview
        lines={grid.pasting.lines}
        reading={grid.pasting.reading}
        into={desk.design.entities[grid.pasting.cell.entity]?.name ?? ''}
        onend={(reading) => grid.endPasting(reading)}
      />{/key}
  {/if}
  {#if empty}
    <div class="grid flex-1 place-content-center gap-3 p-8">
      <p class="text-base font-semibold">Nothing designed yet</p>
      <ol class="grid list-decimal gap-1.5 pl-5 text-soft marker:text-primary">
        <li>Name an entity above and press Enter.</li>
        <li>Type its columns, one a row: a name, <kbd>Tab</kbd>, a type, <kbd>Enter</kbd>.</li>
        <li>Type the name of another entity as a type: that is a link.</li>
        <li>See what an engine makes of it on the Script lens.</li>
        <li>Add a target in the line below, and keep it in step.</li>
      </ol>
      <p class="text-[13px] text-soft">
        <kbd>?</kbd> shows the keys. <a class="underline" href={resolve('/help')}>The help</a> tells the rest.
      </p>
    </div>
  {/if}
  {#if !empty && lines.length === 0}
    <p class="p-6 text-center text-soft">
      No row has that. <button class="underline" onclick={() => (narrowing = { text: '' })}>Show all rows</button>
    </p>
  {/if}
  <div bind:this={scroller} class="relative min-h-0 flex-1 overflow-y-auto {empty ? 'hidden' : ''}">
    <!-- svelte-ignore a11y_no_noninteractive_element_to_interactive_role -->
    <div
      bind:this={gridNode}
      role="grid"
      aria-label="Columns of all entities"
      aria-rowcount={lines.length}
      tabindex="-1"
      aria-multiselectable="true"
      onkeydown={grid.onkeydown}
      onpaste={grid.onpaste}
      oncopy={grid.oncopy}
      oncut={grid.oncopy}
      class="relative min-w-[640px] outline-none"
      style:height="{$virtualizer.getTotalSize()}px"
    >
      {#each $virtualizer.getVirtualItems() as item (item.key)}
        {@const line = lines[item.index]}
        {#if line}
          <div
            class="absolute inset-x-0"
            style:transform="translateY({item.start}px)"
            style:height="{line.height}px"
            style:z-index={(grid.editing || cut) && grid.active && line.key === rowKey(grid.active) ? 20 : undefined}
            role="rowgroup"
          >
            {#if line.kind === 'area'}
              <div role="row">
                <p role="gridcell" class="px-3 pt-2 text-xs tracking-[0.2em] text-soft uppercase">{line.name}</p>
              </div>
            {:else if line.kind === 'head'}
              <EntityHead entity={line.entity} columns={line.columns} onrefuse={(why) => grid.refuse(why)} />
            {:else if line.kind === 'view'}
              <ViewLine view={line.view} />
            {:else if line.kind === 'given'}
              {@const [why] = columns.shown.filter((column) => !['key', 'name', 'type'].includes(column))}
              <div
                role="row"
                style:grid-template-columns={columns.template}
                class="grid h-full items-center border-b border-line px-1 text-soft"
              >
                {#each columns.shown as column (column)}
                  <span
                    role="gridcell"
                    class="px-1.5 whitespace-nowrap {column === why ? 'text-xs' : 'overflow-hidden'} {column === 'type'
                      ? 'font-mono text-[13px]'
                      : column === 'key'
                        ? 'text-base-content'
                        : ''}"
                    >{#if column === 'key'}<Mark
                        key={line.inKey}
                        link={false}
                      />{:else if column === 'name'}{line.name}{:else if column === 'type'}{line.type}{:else if column === why}{line.why}{/if}</span
                  >
                {/each}
              </div>
            {:else}
              <div
                role="row"
                style:grid-template-columns={columns.template}
                class="group relative grid h-full border-b border-line px-1 {selectedRow(line)
                  ? 'bg-sea-tint'
                  : ''} {over === line.key ? 'border-t-2 border-t-primary' : ''}"
                aria-selected={selectedRow(line)}
                {@attach takesDrop(line)}
              >
                {#if !isNewRow(line.row.id) && line.row.link?.kind !== 'many-to-many'}
                  <span
                    class="absolute inset-y-0 left-0 z-10 grid w-3 cursor-grab place-items-center text-soft opacity-0 group-hover:opacity-100"
                    title="Drag to another place (Alt and the arrow keys do the same)"
                    aria-hidden="true"
                    {@attach drags(line)}><GripVertical size={12} /></span
                  >
                {/if}
                {#each columns.shown as column (column)}
                  {@const cell = { entity: line.entity.id, row: line.row.id, column }}
                  {@const text = cellText(desk.design, line.entity, line.row, column)}
                  {@const open =
                    grid.editing !== undefined && grid.active?.column === column && line.key === rowKey(grid.active)}
                  <!-- svelte-ignore a11y_click_events_have_key_events (the grid around it has the keys) -->
                  <div
                    role="gridcell"
                    id={cellId(cell)}
                    tabindex={isActive(line, column) && !open ? 0 : -1}
                    data-whole={cut === cellId(cell) && !open ? text : undefined}
                    class="relative flex min-w-0 items-center px-1.5 outline-offset-[-2px]"
                    aria-label={column === 'key' ? (text === 'key' ? 'in the key' : 'not in the key') : undefined}
                    title={column === 'key' ? undefined : text}
                    onfocus={(event) => {
                      const said = event.currentTarget.querySelector('.truncate')
                      cut = said && said.scrollWidth > said.clientWidth ? cellId(cell) : ''
                      if (grid.active?.column !== column || line.key !== rowKey(grid.active))
                        void grid.go(cell, { focus: false, keep: grid.chosen.has(line.key) })
                    }}
                    onpointerdown={(event) => {
                      if (!open) grid.press(cell, event)
                    }}
                    ondblclick={() => grid.begin(cell)}
                    onclick={(event) => {
                      const plain = !event.shiftKey && !event.ctrlKey && !event.metaKey
                      if (plain && (column === 'key' || column === 'filled' || isNewRow(line.row.id))) grid.begin(cell)
                    }}
                  >
                    {#if open}
                      <CellEditor
                        {grid}
                        {cell}
                        {line}
                        low={item.start - (scroller?.scrollTop ?? 0) > (scroller?.clientHeight ?? 0) / 2}
                      />
                    {:else if column === 'key'}
                      {#if !isNewRow(line.row.id) && line.row.depth === 0}<Mark
                          key={inKey(line.entity, line.row)}
                          link={line.row.link !== undefined}
                        />{/if}
                    {:else if isNewRow(line.row.id)}
                      {#if column === 'name'}<span
                          class="truncate text-soft"
                          style:padding-left="{line.row.depth * INDENT}px"
                          >{line.row.within ? 'add a field' : 'add a column'}</span
                        >{/if}
                    {:else}
                      <span
                        class="truncate {column === 'type'
                          ? 'font-mono text-[13px] text-secondary'
                          : column === 'name'
                            ? ''
                            : 'text-[13px]'}"
                        style:padding-left={column === 'name' && line.row.depth > 0
                          ? `${line.row.depth * INDENT}px`
                          : undefined}
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
  {#if about && selectedEntity}{#key selectedEntity.id}<About
        entity={selectedEntity}
        onclose={() => (about = false)}
      />{/key}{/if}
  {#if selectedView}{#key selectedView.id}<ViewText view={selectedView} />{/key}{/if}
</div>
