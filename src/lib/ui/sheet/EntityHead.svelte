<!-- The head of an entity in the sheet: its two names, and the titles of the columns below. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import { plainTable } from '../../core/derive'
  import type { ColumnName } from '../../core/cells'
  import type { Entity } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'
  import { columns as shown, TITLES } from './columns.svelte'

  interface Props {
    readonly entity: Entity
    readonly columns: number
    readonly onrefuse: (why: string) => void
  }
  const { entity, columns, onrefuse }: Props = $props()
  const desk = useDesk()

  function widen(event: PointerEvent, column: ColumnName) {
    const handle = event.currentTarget as HTMLElement
    const start = handle.parentElement?.getBoundingClientRect().left ?? 0
    event.preventDefault()
    handle.setPointerCapture(event.pointerId)
    const move = (e: PointerEvent) => shown.widen(column, e.clientX - start)
    handle.addEventListener('pointermove', move)
    handle.addEventListener('pointerup', () => handle.removeEventListener('pointermove', move), { once: true })
  }
</script>

<div role="row" class="flex h-[34px] items-end gap-2 px-3">
  <span role="gridcell">
    <input
      class="field-sizing-content rounded border border-transparent bg-transparent px-1 text-[15px] font-semibold hover:border-line"
      aria-label="Name of the entity {entity.name}"
      value={entity.name}
      onfocus={() => desk.select({ kind: 'entity', entity: entity.id })}
      onkeydown={(event) => {
        event.stopPropagation()
        if (event.key === 'Enter') event.currentTarget.blur()
      }}
      onchange={(event) => {
        const why = desk.renameEntity(entity, event.currentTarget.value)
        if (why === undefined) return
        event.currentTarget.value = entity.name
        onrefuse(why)
      }}
    />
    <span class="font-mono text-xs text-soft">{plainTable(entity, desk.design.settings)}</span>
  </span>
  <span role="gridcell" class="ml-auto text-xs text-soft">{count(columns, 'column', 'columns')}</span>
  <span role="gridcell">
    <button
      class="rounded p-0.5 text-soft hover:bg-base-300 hover:text-error"
      aria-label="Remove the entity {entity.name}"
      onclick={() => desk.edit({ kind: 'object.remove', collection: 'entities', id: entity.id })}
      ><Trash size={13} aria-hidden="true" /></button
    >
  </span>
</div>
<div role="row" style:grid-template-columns={shown.template} class="grid border-b border-line px-1 text-xs text-soft">
  {#each shown.shown as column (column)}
    <span role="columnheader" class="relative px-1.5 pb-0.5"
      ><span class={column === 'key' ? 'sr-only' : ''}>{TITLES[column]}</span>
      {#if column !== 'key'}
        <!-- svelte-ignore a11y_no_static_element_interactions (the width is no more than a convenience) -->
        <span
          class="absolute inset-y-0 right-0 w-1.5 cursor-col-resize hover:bg-sea-tint"
          title="Drag to make the column wider or narrower"
          onpointerdown={(event) => widen(event, column)}
        ></span>
      {/if}</span
    >
  {/each}
</div>
