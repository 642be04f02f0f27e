<!-- Which columns are shown, in which order; by what rows are sorted, and which are shown at all. -->
<script lang="ts">
  import ArrowDown from '@lucide/svelte/icons/arrow-down'
  import ArrowUp from '@lucide/svelte/icons/arrow-up'
  import { columns, TITLES } from './columns.svelte'
  import type { Narrowing } from './lines'

  interface Props {
    readonly narrowing: Narrowing
    readonly onnarrow: (narrowing: Narrowing) => void
    /** How many rows are chosen. */
    readonly chosen: number
    readonly onchosen: () => void
  }
  const { narrowing, onnarrow, chosen, onchosen }: Props = $props()
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const set = (values: Partial<Narrowing>) => onnarrow({ ...narrowing, ...values })
  const narrowed = $derived(narrowing.text !== '' || narrowing.sort !== undefined || narrowing.only !== undefined)
  const inText = Object.entries(TITLES).filter(([column]) => column !== 'key')
</script>

<div
  class="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-line bg-base-200 px-3 py-1.5 text-[13px]"
  role="group"
  aria-label="What the sheet shows"
>
  <label class="flex items-center gap-1.5"
    >Only rows with <input
      type="search"
      class="{field} w-32"
      aria-label="Only rows with"
      value={narrowing.text}
      oninput={(event) => set({ text: event.currentTarget.value })}
    /></label
  >
  <label class="flex items-center gap-1.5"
    >in <select
      class={field}
      aria-label="In which column"
      value={narrowing.column ?? ''}
      onchange={(event) => set({ column: (event.currentTarget.value || undefined) as Narrowing['column'] })}
    >
      <option value="">any column</option>
      {#each inText as [column, title] (column)}<option value={column}>{title}</option>{/each}
    </select></label
  >
  <label class="flex items-center gap-1.5"
    >sorted by <select
      class={field}
      aria-label="Sorted by"
      value={narrowing.sort ?? ''}
      onchange={(event) => set({ sort: (event.currentTarget.value || undefined) as Narrowing['sort'] })}
    >
      <option value="">their order</option>
      {#each inText as [column, title] (column)}<option value={column}>{title}</option>{/each}
    </select></label
  >
  {#if chosen > 1 && !narrowing.only}
    <button class="underline" onclick={onchosen}>Only the {chosen} chosen</button>
  {/if}
  {#if narrowed}
    <button class="underline" onclick={() => onnarrow({ text: '' })}>Show all rows</button>
  {/if}
  <ul class="flex flex-wrap items-center gap-x-2 gap-y-1" aria-label="Columns of the sheet">
    {#each columns.all.filter((column) => !columns.isFixed(column)) as column (column)}
      {@const shown = columns.shown.includes(column)}
      <li class="flex items-center rounded border border-line bg-base-100 px-1">
        <label class="flex items-center gap-1"
          ><input
            type="checkbox"
            class="size-3.5 accent-primary"
            checked={shown}
            onchange={() => columns.toggle(column)}
          />{TITLES[column]}</label
        >
        {#if shown}
          {#each [[-1, 'earlier', ArrowUp], [1, 'later', ArrowDown]] as const as [by, word, Icon] (by)}
            <button
              class="p-0.5 text-soft hover:text-base-content"
              aria-label="{TITLES[column]} {word}"
              onclick={() => columns.move(column, by)}><Icon size={11} class="-rotate-90" aria-hidden="true" /></button
            >
          {/each}
        {/if}
      </li>
    {/each}
    <li><button class="px-1 text-xs text-soft underline" onclick={() => columns.reset()}>As usual</button></li>
  </ul>
</div>
