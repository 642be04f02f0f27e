<!-- A narrow list of everything, beside every step: what is selected here is selected everywhere. -->
<script lang="ts">
  import ChevronDown from '@lucide/svelte/icons/chevron-down'
  import ChevronRight from '@lucide/svelte/icons/chevron-right'
  import { untrack } from 'svelte'
  import { SvelteSet } from 'svelte/reactivity'
  import { get } from 'svelte/store'
  import { linesInSight } from '../desk/in-sight.svelte'
  import { entityOf, useDesk, type Selection } from '../desk/desk.svelte'
  import { GROUPINGS, neighboursOf, outlineOf, type Grouping, type OutlineLine } from './outline'

  const desk = useDesk()
  const KEY = 'ramblet.outline.by'
  let by = $state<Grouping>(GROUPINGS.find((name) => name === localStorage.getItem(KEY)) ?? 'area')
  let wanted = $state('')
  const closed = new SvelteSet<string>()
  const lines = $derived(outlineOf(desk.design, { by, wanted, closed, target: desk.target }))
  const chosen = $derived(desk.selection && keyOf(desk.selection))
  const entity = $derived(desk.design.entities[entityOf(desk.selection) ?? ''])
  const neighbours = $derived(entity ? neighboursOf(desk.design, entity.id) : [])
  $effect(() => localStorage.setItem(KEY, by))

  function keyOf(selection: Selection): string | undefined {
    if (selection.kind === 'view') return selection.view
    if (selection.kind === 'link') return desk.design.links[selection.link]?.child
    if (selection.kind === 'held') return lines.find((line) => line.kind === 'item' && line.select === selection)?.key
    return entityOf(selection)
  }

  /** The height of a line, in pixels. */
  const LINE = 28
  let pane = $state<HTMLElement>()
  const rows = linesInSight(
    LINE,
    () => lines.length,
    () => pane
  )
  // What is selected elsewhere comes into view here.
  $effect(() => {
    const key = chosen
    untrack(() => {
      const at = lines.findIndex((line) => line.key === key)
      if (at >= 0) get(rows).scrollToIndex(at)
    })
  })

  function press(line: OutlineLine) {
    if (line.kind === 'item') return desk.select(line.select)
    if (closed.has(line.name)) closed.delete(line.name)
    else closed.add(line.name)
  }
  /** From one thing to the next, over the heads of groups. */
  function onkeydown(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key]
    if (step === undefined) return
    event.preventDefault()
    const items = lines.filter((line) => line.kind === 'item')
    const at = items.findIndex((line) => line.key === chosen)
    const next = items[at < 0 ? 0 : Math.max(0, Math.min(items.length - 1, at + step))]
    if (next) desk.select(next.select)
  }
</script>

<aside class="flex w-60 shrink-0 flex-col border-r border-line bg-base-100 text-[13px]" aria-label="Outline">
  <div class="flex flex-col gap-1.5 border-b border-line px-2.5 py-2">
    <input
      type="search"
      class="w-full rounded border border-line bg-base-100 px-2 py-1"
      placeholder="Part of a name"
      aria-label="Narrow the outline"
      bind:value={wanted}
      {onkeydown}
    />
    <label class="flex items-center gap-1.5 text-soft"
      >by
      <select class="rounded border border-line bg-base-100 px-1 py-0.5 text-base-content" bind:value={by}>
        {#each GROUPINGS as name (name)}<option>{name}</option>{/each}
      </select>
    </label>
  </div>
  <div
    class="min-h-0 flex-1 overflow-y-auto py-1"
    bind:this={pane}
    role="tree"
    aria-label="Everything"
    tabindex="0"
    {onkeydown}
  >
    {#if lines.length === 0}<p class="px-3 py-4 text-soft">
        {wanted.trim() === '' ? 'Nothing is designed yet.' : 'Nothing has this name.'}
      </p>{/if}
    <div class="relative w-full" style:height="{$rows.getTotalSize()}px">
      {#each $rows.getVirtualItems() as item (item.key)}
        {@const line = lines[item.index]}
        {#if line}
          {@const isChosen = line.kind === 'item' && line.key === chosen}
          <button
            role="treeitem"
            tabindex="-1"
            aria-selected={isChosen}
            aria-level={line.kind === 'group' ? 1 : 2}
            aria-expanded={line.kind === 'group' ? !closed.has(line.name) : undefined}
            class="absolute top-0 left-0 flex w-full items-center gap-1.5 px-2 text-left hover:bg-base-200 {isChosen
              ? 'bg-sea-tint font-semibold text-primary'
              : ''}"
            style:height="{item.size}px"
            style:transform="translateY({item.start}px)"
            onclick={() => press(line)}
          >
            {#if line.kind === 'group'}
              {#if closed.has(line.name)}<ChevronRight size={14} aria-hidden="true" />{:else}<ChevronDown
                  size={14}
                  aria-hidden="true"
                />{/if}
              <span class="truncate font-semibold">{line.name}</span>
              <span class="ml-auto text-soft">{line.count}</span>
            {:else}
              <span class="min-w-0 truncate pl-5" title={line.name}>{line.name}</span>
              <span class="ml-auto max-w-[45%] truncate font-mono text-[11px] font-normal text-soft" title={line.also}
                >{line.also}</span
              >
            {/if}
          </button>
        {/if}
      {/each}
    </div>
  </div>
  {#if entity && neighbours.length > 0}
    <div class="max-h-48 overflow-y-auto border-t border-line px-2.5 py-2" role="group" aria-label="Next to it">
      <p class="flex items-baseline gap-2 text-soft">
        <span class="min-w-0 truncate">Next to {entity.name}</span>
        <button
          class="ml-auto shrink-0 rounded border border-line px-1.5 font-semibold text-base-content hover:bg-base-200"
          aria-pressed={desk.around === entity.id}
          onclick={() => (desk.around = desk.around === entity.id ? undefined : entity.id)}
          >{desk.around === entity.id ? 'show all' : 'only these'}</button
        >
      </p>
      <ul>
        {#each neighbours as { id, name, leads } (`${id} ${leads}`)}
          <li>
            <button
              class="flex w-full items-baseline gap-1.5 rounded px-1 py-0.5 text-left hover:bg-base-200"
              onclick={() => desk.select({ kind: 'entity', entity: id })}
            >
              <span class="truncate">{name}</span>
              <span class="ml-auto text-[11px] text-soft">{leads ? 'it leads to' : 'leads to it'}</span>
            </button>
          </li>
        {/each}
      </ul>
    </div>
  {/if}
</aside>
