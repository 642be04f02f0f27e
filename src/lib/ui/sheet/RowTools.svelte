<!-- What can be done to the row one is on, or to those that are chosen, and a new entity. -->
<script lang="ts">
  import ArrowDown from '@lucide/svelte/icons/arrow-down'
  import ArrowUp from '@lucide/svelte/icons/arrow-up'
  import Columns3 from '@lucide/svelte/icons/columns-3'
  import ListPlus from '@lucide/svelte/icons/list-plus'
  import PanelBottom from '@lucide/svelte/icons/panel-bottom'
  import Trash from '@lucide/svelte/icons/trash-2'
  import { freeName, newEntity } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import { isNewRow, type Cell } from '../../core/cells'
  import type { Grid } from './grid.svelte'

  interface Props {
    readonly grid: Grid
    /** Whether all of the entity is shown below. */
    readonly about: boolean
    readonly onabout: () => void
    /** Whether it can be chosen what is shown. */
    readonly choosing: boolean
    readonly onchoosing: () => void
    /** `why`: what was not done as it was typed. */
    readonly onadded: (entity: string, why: string) => void
  }
  const { grid, about, onabout, choosing, onchoosing, onadded }: Props = $props()
  const desk = useDesk()
  let name = $state('')

  function add() {
    const wanted = name.replace(/\s+/g, ' ').trim()
    if (wanted === '') return
    const taken = Object.values(desk.design.entities).map((entity) => entity.name)
    const entity = newEntity(freeName(wanted, taken))
    desk.edit({ kind: 'object.set', collection: 'entities', object: entity })
    name = ''
    onadded(
      entity.id,
      entity.name === wanted ? '' : `There is an entity “${wanted}” already: this one is called ${entity.name}.`
    )
  }
</script>

<div
  class="flex h-9 shrink-0 items-center gap-1 overflow-x-auto border-b border-line px-2 whitespace-nowrap [scrollbar-width:none]"
  role="toolbar"
  aria-label="Rows"
>
  {#snippet tool(label: string, Icon: typeof ArrowUp, run: (cell: Cell) => void)}
    <button
      class="flex items-center gap-1 rounded px-2 py-1 text-[13px] hover:bg-base-300 disabled:opacity-50"
      disabled={!grid.active || (isNewRow(grid.active.row) && run !== grid.insertAbove)}
      onclick={() => grid.active && run(grid.active)}
    >
      <Icon size={14} aria-hidden="true" />{label}
    </button>
  {/snippet}
  {@render tool('Insert above', ListPlus, grid.insertAbove)}
  {@render tool('Up', ArrowUp, (cell) => grid.move(cell, -1))}
  {@render tool('Down', ArrowDown, (cell) => grid.move(cell, 1))}
  {@render tool('Remove', Trash, grid.remove)}
  <button
    class="flex items-center gap-1 rounded px-2 py-1 text-[13px] hover:bg-base-300 {about
      ? 'bg-sea-tint text-primary'
      : ''}"
    aria-pressed={about}
    title="Names, keys, indexes, rules, links and kinds of the entity (Alt Enter)"
    onclick={onabout}><PanelBottom size={14} aria-hidden="true" />All of it</button
  >
  <button
    class="flex items-center gap-1 rounded px-2 py-1 text-[13px] hover:bg-base-300 {choosing
      ? 'bg-sea-tint text-primary'
      : ''}"
    aria-pressed={choosing}
    title="Which rows and columns are shown"
    onclick={onchoosing}><Columns3 size={14} aria-hidden="true" />Show</button
  >
  {#if grid.chosen.size > 1}
    <span class="truncate px-1 text-xs text-soft">{grid.chosen.size} rows: what is typed is for all</span>
  {/if}
  <form
    class="ml-auto flex items-center gap-1"
    onsubmit={(event) => {
      event.preventDefault()
      add()
    }}
  >
    <input
      class="h-7 w-32 rounded border border-line bg-base-100 px-2"
      placeholder="New entity"
      aria-label="Name of a new entity"
      bind:value={name}
    />
    <button class="rounded bg-primary px-2.5 py-1 text-[13px] font-semibold text-primary-content">Add</button>
  </form>
</div>
