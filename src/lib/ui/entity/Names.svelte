<!-- What an entity is called, where it belongs, what it means. -->
<script lang="ts">
  import { plainTable } from '../../core/derive'
  import type { Entity } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'
  import Part from './Part.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const areas = $derived(Object.values(desk.design.areas).sort((a, b) => a.name.localeCompare(b.name)))
  const set = (values: Partial<Omit<Entity, 'id' | 'attributes'>>) =>
    desk.edit({ kind: 'entity.set', id: entity.id, set: values })
  const text = (typed: string) => (typed.trim() === '' ? undefined : typed.trim())
  const row = 'grid grid-cols-[84px_1fr] items-center gap-1.5'
</script>

<Part title="Names">
  <div class={row}>
    <span class="text-soft">Name</span>
    <Field label="Name of the entity" value={entity.name} onkeep={(typed) => desk.renameEntity(entity, typed)} />
  </div>
  <div class={row}>
    <span class="text-soft">In databases</span>
    <Field
      label="Database name of the entity"
      mono
      value={entity.dbName ?? ''}
      placeholder="{plainTable({ name: entity.name }, desk.design.settings)}, by rule"
      onkeep={(typed) => void set({ dbName: text(typed) })}
    />
  </div>
  <div class={row}>
    <span class="text-soft">Means</span>
    <Field
      label="Meaning of the entity"
      value={entity.means ?? ''}
      onkeep={(typed) => void set({ means: text(typed) })}
    />
  </div>
  <div class={row}>
    <span class="text-soft">Area</span>
    <select
      class="rounded border border-line bg-base-100 px-1.5 py-0.5"
      aria-label="Area of the entity"
      value={entity.area ?? ''}
      onchange={(event) => set({ area: text(event.currentTarget.value) })}
    >
      <option value="">none</option>
      {#each areas as area (area.id)}<option value={area.id}>{area.name}</option>{/each}
    </select>
  </div>
  <div class={row}>
    <span class="text-soft">Namespace</span>
    <Field
      label="Namespace of the entity"
      value={entity.namespace ?? ''}
      placeholder="the engine’s usual schema"
      onkeep={(typed) => void set({ namespace: text(typed) })}
    />
  </div>
</Part>
