<!-- What can be said of an entity from the diagram: its name, its area, and a link from it. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import { newLink, type Entity } from '../../core/design'
  import NameField from '../desk/NameField.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import AreaField from './AreaField.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const others = $derived(Object.values(desk.design.entities).sort((a, b) => a.name.localeCompare(b.name)))
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'

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
  <button
    class="ml-auto flex items-center gap-1 rounded px-2 py-0.5 text-error hover:bg-brick-tint"
    onclick={() => desk.edit({ kind: 'object.remove', collection: 'entities', id: entity.id })}
  >
    <Trash size={13} aria-hidden="true" />Remove entity
  </button>
</div>
