<!-- Rows of an answer. Only what is in view is drawn. -->
<script lang="ts">
  import { createVirtualizer } from '@tanstack/svelte-virtual'
  import type { QueryResult } from '../../live'

  const { result, label }: { result: QueryResult; label: string } = $props()
  const HEIGHT = 25
  let box = $state<HTMLDivElement>()
  const virtual = $derived(
    createVirtualizer<HTMLDivElement, HTMLTableRowElement>({
      count: result.rows.length,
      getScrollElement: () => box ?? null,
      estimateSize: () => HEIGHT,
      overscan: 12
    })
  )
  const items = $derived($virtual.getVirtualItems())
  const above = $derived(items[0]?.start ?? 0)
  const below = $derived($virtual.getTotalSize() - (items.at(-1)?.end ?? 0))
  const shown = (cell: unknown) => (cell === null || cell === undefined ? 'null' : String(cell))
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  bind:this={box}
  class="max-h-80 overflow-auto rounded border border-line bg-base-100"
  tabindex="0"
  role="region"
  aria-label={label}
>
  <table class="text-left text-[13px]">
    <thead class="sticky top-0 bg-base-300">
      <tr>
        {#each result.columns as column, i (i)}<th class="px-2 py-1 font-mono font-medium whitespace-nowrap"
            >{column}</th
          >{/each}
      </tr>
    </thead>
    <tbody>
      <tr style:height="{above}px" aria-hidden="true"></tr>
      {#each items as item (item.index)}
        <tr class="border-t border-line" style:height="{HEIGHT}px">
          {#each result.rows[item.index] ?? [] as cell, c (c)}
            <td
              class="max-w-96 truncate px-2 font-mono whitespace-nowrap {cell === null || cell === undefined
                ? 'text-soft italic'
                : typeof cell === 'number'
                  ? 'text-right'
                  : ''}"
              title={shown(cell)}>{shown(cell)}</td
            >
          {/each}
        </tr>
      {/each}
      <tr style:height="{Math.max(0, below)}px" aria-hidden="true"></tr>
    </tbody>
  </table>
</div>
