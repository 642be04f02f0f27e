<!-- Rows of an answer, a thousand at a time. -->
<script lang="ts">
  import type { QueryResult } from '../../live'

  const { result, label }: { result: QueryResult; label: string } = $props()
  const PAGE = 1000
  let pages = $state(1)
  const rows = $derived(result.rows.slice(0, pages * PAGE))
  const shown = (cell: unknown) =>
    cell === null || cell === undefined ? 'null' : typeof cell === 'object' ? JSON.stringify(cell) : String(cell)
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="max-h-80 overflow-auto rounded border border-line bg-base-100"
  tabindex="0"
  role="region"
  aria-label={label}
>
  <table class="min-w-full text-left text-[13px]">
    <thead class="sticky top-0 bg-base-300">
      <tr>
        {#each result.columns as column, i (i)}<th class="px-2 py-1 font-mono font-medium whitespace-nowrap"
            >{column}</th
          >{/each}
      </tr>
    </thead>
    <tbody>
      {#each rows as row, r (r)}
        <tr class="border-t border-line">
          {#each row as cell, c (c)}
            <td
              class="max-w-96 truncate px-2 py-0.5 font-mono whitespace-nowrap {cell === null || cell === undefined
                ? 'text-soft italic'
                : ''}"
              title={shown(cell)}>{shown(cell)}</td
            >
          {/each}
        </tr>
      {/each}
    </tbody>
  </table>
  {#if rows.length < result.rows.length}
    <button class="m-2 underline" onclick={() => pages++}
      >Show the next {Math.min(PAGE, result.rows.length - rows.length).toLocaleString('en')}</button
    >
  {/if}
</div>
