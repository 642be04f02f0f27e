<!-- Tables and the entities that they would be, one a line; only those in sight are drawn. -->
<script lang="ts">
  import { createVirtualizer } from '@tanstack/svelte-virtual'
  import { untrack } from 'svelte'
  import { get } from 'svelte/store'
  import type { Table } from '../../core/catalog'
  import { count } from '../desk/words'

  const { entities, tables }: { entities: readonly string[]; tables: readonly Table[] } = $props()
  const sorted = $derived(
    tables
      .map((table, i) => ({ table, entity: entities[i] ?? '' }))
      .sort((a, b) => inOrder.compare(a.table.name, b.table.name))
  )
  const inOrder = new Intl.Collator('en', { numeric: true })
  /** The height of a line, in pixels. */
  const LINE = 34
  let pane = $state<HTMLElement>()
  const lines = createVirtualizer<HTMLElement, HTMLElement>({
    count: 0,
    getScrollElement: () => pane ?? null,
    estimateSize: () => LINE,
    overscan: 12
  })
  $effect(() => {
    const [list, scroller] = [sorted, pane]
    untrack(() => get(lines).setOptions({ count: list.length, getScrollElement: () => scroller ?? null }))
    get(lines).measure()
  })
  const told = (table: Table) =>
    [
      count(table.columns.length, 'column', 'columns'),
      table.foreignKeys.length > 0 &&
        `to ${[...new Set(table.foreignKeys.map((fk) => fk.references.table))].join(', ')}`
    ]
      .filter((part) => part)
      .join(' · ')
</script>

<div class="min-h-0 flex-1 overflow-y-auto" bind:this={pane} role="list" aria-label="Tables" tabindex="-1">
  <div class="relative w-full" style:height="{$lines.getTotalSize()}px">
    {#each $lines.getVirtualItems() as item (item.key)}
      {@const line = sorted[item.index]}
      {#if line}
        {@const { table, entity } = line}
        <div
          role="listitem"
          class="absolute top-0 left-0 grid w-full grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)] items-center gap-3 border-b border-line px-4 text-[13px]"
          style:height="{item.size}px"
          style:transform="translateY({item.start}px)"
        >
          <span class="truncate font-mono" title={table.name}>{table.name}</span>
          <span class="truncate font-semibold" title={entity}>{entity}</span>
          <span class="truncate text-soft" title={told(table)}>{told(table)}</span>
        </div>
      {/if}
    {/each}
  </div>
</div>
