<!-- What can be said of an entity from the diagram: its name, its area, a column more, and a link from it. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import { addedColumn } from '../../core/cells'
  import { attributeIn, newLink, type Entity } from '../../core/design'
  import { holdsFields } from '../../core/types'
  import NameField from '../desk/NameField.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import AreaField from './AreaField.svelte'
  import Became from './Became.svelte'
  import type { Board } from './board.svelte'

  const { entity, board }: { entity: Entity; board: Board } = $props()
  const desk = useDesk()
  const others = $derived(Object.values(desk.design.entities).sort((a, b) => a.name.localeCompare(b.name)))
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'

  /** What is selected holds fields: what is added is one. */
  const holder = $derived.by(() => {
    const s = desk.selection
    const one = s?.kind === 'row' ? attributeIn(entity, s.row) : undefined
    return one && holdsFields(one.type) ? one : undefined
  })
  let column = $state('')
  let why = $state('')
  function add(event: SubmitEvent) {
    event.preventDefault()
    const done = addedColumn(desk.design, entity.id, column, { within: holder?.id })
    why = 'error' in done ? done.error : ''
    if (!('edit' in done)) return
    const within = holder?.id
    desk.edit(done.edit)
    column = ''
    // The next one is another field of the same.
    const row = within ?? done.row
    if (row !== undefined && desk.design.links[row]) desk.select({ kind: 'link', link: row })
    else if (row !== undefined) desk.select({ kind: 'row', entity: entity.id, row })
  }

  function link(parentId: string) {
    const parent = desk.design.entities[parentId]
    if (!parent) return
    const made = newLink(desk.design, parent, entity)
    desk.edit({ kind: 'link.add', link: made })
    desk.select({ kind: 'link', link: made.id })
  }
</script>

<div
  class="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-t border-line bg-base-100 px-3 py-2 text-[13px]"
  role="group"
  aria-label="The entity {entity.name}"
>
  <NameField label="Entity" name={entity.name} rename={(name) => desk.renameEntity(entity, name)} />
  <AreaField area={entity.area} put={(area) => ({ kind: 'entity.set', id: entity.id, set: { area } })} />
  <form class="flex items-center gap-1.5" onsubmit={add}>
    <input
      class="{field} w-48"
      placeholder={holder ? `new field of ${holder.name}: type` : 'new column: type'}
      aria-label={holder ? `A new field of ${holder.name}` : `A new column of ${entity.name}`}
      aria-invalid={why !== ''}
      bind:value={column}
      oninput={() => (why = '')}
    />
    <button class="rounded border border-line px-2 py-0.5 hover:bg-base-300">Add it</button>
  </form>
  {#if why}<span role="alert" class="text-error">{why}</span>{/if}
  <label class="flex items-center gap-1.5">
    link to
    <select
      class={field}
      value=""
      onchange={(event) => {
        link(event.currentTarget.value)
        event.currentTarget.value = ''
      }}
    >
      <option value="" disabled>one of …</option>
      {#each others as other (other.id)}<option value={other.id}>{other.name}</option>{/each}
    </select>
  </label>
  <Became {board} id={desk.selection?.kind === 'row' ? desk.selection.row : entity.id} />
  <button
    class="ml-auto flex items-center gap-1 rounded px-2 py-0.5 text-error hover:bg-brick-tint"
    onclick={() => desk.edit({ kind: 'object.remove', collection: 'entities', id: entity.id })}
  >
    <Trash size={13} aria-hidden="true" />Remove entity
  </button>
</div>
