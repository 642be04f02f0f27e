<!-- Tables and the entities that they would be, one a line, to be chosen from; only those in sight are drawn. -->
<script lang="ts">
  import type { Table } from '../../core/catalog'
  import { linesInSight } from '../desk/in-sight.svelte'
  import { count } from '../desk/words'
  import { keyOf, type Bringing, type Found } from './bringing.svelte'

  const { bringing, found }: { bringing: Bringing; found: Found } = $props()
  let wanted = $state('')
  const inOrder = new Intl.Collator('en', { numeric: true })
  const sorted = $derived(
    found.catalog.tables
      .map((table, i) => ({ table, entity: found.entities[i] ?? '' }))
      .sort((a, b) => inOrder.compare(a.table.name, b.table.name))
  )
  const shown = $derived.by(() => {
    const text = wanted.trim().toLowerCase()
    if (text === '') return sorted
    const pattern = new RegExp(
      text
        .split('*')
        .map((part) => part.replace(/[.+?^${}()|[\]\\]/g, '\\$&'))
        .join('.*'),
      'u'
    )
    return sorted.filter(({ table, entity }) =>
      [table.name, entity, `${table.schema}.${table.name}`].some((name) => pattern.test(name.toLowerCase()))
    )
  })
  const chosen = $derived(shown.filter(({ table }) => bringing.isChosen(table)).length)
  /** The height of a line, in pixels. */
  const LINE = 34
  let pane = $state<HTMLElement>()
  const lines = linesInSight(
    LINE,
    () => shown.length,
    () => pane
  )
  const told = (table: Table) =>
    [
      count(table.columns.length, 'column', 'columns'),
      table.foreignKeys.length > 0 &&
        `to ${[...new Set(table.foreignKeys.map((fk) => fk.references.table))].join(', ')}`
    ]
      .filter((part) => part)
      .join(' · ')
  const choose = (all: boolean) =>
    bringing.choose(
      shown.map(({ table }) => table),
      all
    )
</script>

<div class="flex items-center gap-3 border-b border-line px-4 py-1.5 text-[13px]">
  <input
    type="checkbox"
    class="size-4 accent-primary"
    aria-label={wanted.trim() === '' ? 'All tables' : 'All tables found'}
    checked={chosen === shown.length && shown.length > 0}
    indeterminate={chosen > 0 && chosen < shown.length}
    disabled={shown.length === 0}
    onchange={(event) => choose(event.currentTarget.checked)}
  />
  <input
    type="search"
    class="w-64 rounded border border-line bg-base-100 px-2 py-1"
    placeholder="Part of a name, * for anything"
    aria-label="Look for tables"
    bind:value={wanted}
  />
  <span class="ml-auto text-soft" role="status">{chosen} of {count(shown.length, 'table', 'tables')} chosen</span>
</div>
<div class="min-h-0 flex-1 overflow-y-auto" bind:this={pane} role="list" aria-label="Tables" tabindex="-1">
  {#if shown.length === 0}<p class="px-4 py-6 text-soft">No table is called so.</p>{/if}
  <div class="relative w-full" style:height="{$lines.getTotalSize()}px">
    {#each $lines.getVirtualItems() as item (item.key)}
      {@const line = shown[item.index]}
      {#if line}
        {@const { table, entity } = line}
        {@const isChosen = bringing.isChosen(table)}
        {@const aside = isChosen ? undefined : found.beside.get(keyOf(table))}
        <label
          role="listitem"
          class="absolute top-0 left-0 grid w-full cursor-pointer grid-cols-[auto_minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)] items-center gap-3 border-b border-line px-4 text-[13px] hover:bg-base-200 {isChosen
            ? ''
            : 'text-soft'}"
          style:height="{item.size}px"
          style:transform="translateY({item.start}px)"
        >
          <input
            type="checkbox"
            class="size-4 accent-primary"
            aria-label={table.name}
            checked={isChosen}
            onchange={(event) => bringing.choose([table], event.currentTarget.checked)}
          />
          <span class="truncate font-mono" title={keyOf(table)}
            >{#if table.schema !== found.catalog.defaultSchema}<span class="text-soft">{table.schema}.</span
              >{/if}{table.name}</span
          >
          {#if aside}
            <span class="col-span-2 truncate" title={aside}>left out: {aside}</span>
          {:else}
            <span class="truncate {isChosen ? 'font-semibold' : ''}" title={entity}
              >{isChosen ? entity : 'left out'}</span
            >
            <span class="truncate text-soft" title={told(table)}>{told(table)}</span>
          {/if}
        </label>
      {/if}
    {/each}
  </div>
</div>
