<!-- The area that an entity or a view is in: one there is, none, or a new one; and the area's name. -->
<script lang="ts">
  import { newId, type Edit } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'

  interface Props {
    readonly area: string | undefined
    /** What puts it into another area, or into none. */
    readonly put: (area: string | undefined) => Edit
  }
  const { area: id, put }: Props = $props()
  const desk = useDesk()
  const areas = $derived(Object.values(desk.design.areas))
  const area = $derived(id === undefined ? undefined : desk.design.areas[id])
  const NEW_AREA = '+'
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'

  function set(value: string) {
    if (value !== NEW_AREA) return desk.edit(put(value === '' ? undefined : value))
    const made = { id: newId('are'), name: `Area ${areas.length + 1}`, tint: areas.length % 6 }
    desk.edit({
      kind: 'all',
      edits: [
        { kind: 'object.set', collection: 'areas', object: made },
        {
          kind: 'object.set',
          collection: 'diagrams',
          object: { id: newId('dia'), name: made.name, area: made.id, places: {} }
        },
        put(made.id)
      ]
    })
  }
</script>

<label class="flex items-center gap-1.5">
  in
  <select class={field} value={id ?? ''} onchange={(event) => set(event.currentTarget.value)}>
    <option value="">no area</option>
    {#each areas as item (item.id)}<option value={item.id}>{item.name}</option>{/each}
    <option value={NEW_AREA}>a new area</option>
  </select>
</label>
{#if area}
  <label class="flex items-center gap-1.5">
    <span class="sr-only">Name of the area</span>
    <input
      class="{field} w-28"
      value={area.name}
      onchange={(event) => {
        const name = event.currentTarget.value.trim()
        if (name) desk.edit({ kind: 'object.set', collection: 'areas', object: { ...area, name } })
      }}
    />
  </label>
{/if}
