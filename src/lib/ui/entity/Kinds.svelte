<!-- The kinds of an entity: its subtypes, in groups, each with what tells them apart. -->
<script lang="ts">
  import { newId, type Entity, type Subtypes } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'
  import Part from './Part.svelte'
  import Remove from './Remove.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const all = $derived(Object.values(desk.design.subtypes))
  const groups = $derived(all.filter(({ supertype }) => supertype === entity.id))
  const above = $derived(all.find(({ subtypes }) => subtypes.includes(entity.id)))
  const nameOf = (id: string) => desk.design.entities[id]?.name ?? '?'
  const taken = $derived(new Set(all.flatMap(({ subtypes }) => subtypes)))
  const free = $derived(
    Object.values(desk.design.entities)
      .filter(({ id }) => id !== entity.id && !taken.has(id))
      .map(({ name }) => name)
  )
  const set = (subtypes: Subtypes) => desk.edit({ kind: 'object.set', collection: 'subtypes', object: subtypes })

  /** Entities by name; none of another group, and none that this one is a kind of. */
  function keep(typed: string, group: Subtypes): string | undefined {
    const ids: string[] = []
    for (const word of typed.split(',').flatMap((one) => one.trim() || [])) {
      const found = Object.values(desk.design.entities).find(({ name }) => name.toLowerCase() === word.toLowerCase())
      if (!found) return `There is no entity “${word}”.`
      const elsewhere = all.find((other) => other.id !== group.id && other.subtypes.includes(found.id))
      if (elsewhere) return `${found.name} is a kind of ${nameOf(elsewhere.supertype)} already.`
      if (isAbove(found.id)) return `${entity.name} is itself a kind of ${found.name}, or the same.`
      if (!ids.includes(found.id)) ids.push(found.id)
    }
    if (ids.length === 0) return group.subtypes.length === 0 ? undefined : 'Say which entities, or remove the group.'
    set({ ...group, subtypes: ids })
    return undefined
  }
  function isAbove(id: string): boolean {
    const seen = new Set<string>()
    for (let at: string | undefined = entity.id; at !== undefined && !seen.has(at);) {
      if (at === id) return true
      seen.add(at)
      const here: string = at
      at = all.find(({ subtypes }) => subtypes.includes(here))?.supertype
    }
    return false
  }
</script>

<Part title="Kinds" hint={above ? `it is a kind of ${nameOf(above.supertype)}` : ''}>
  {#each groups as group (group.id)}
    {@const said = group.subtypes.map(nameOf).join(', ')}
    <div class="flex flex-wrap items-start gap-1.5">
      <Field
        class="min-w-32 flex-1"
        label="Kinds: {said}"
        value={said}
        words={free}
        onkeep={(typed) => keep(typed, group)}
      />
      <Field
        class="w-24"
        label="Column that tells {said} apart"
        value={group.discriminator}
        onkeep={(typed) => {
          if (typed.trim() === '') return 'It needs a name.'
          set({ ...group, discriminator: typed.trim() })
          return undefined
        }}
      />
      <label class="flex items-center gap-1 py-0.5"
        ><input
          type="checkbox"
          class="size-4 accent-primary"
          checked={group.complete}
          onchange={(event) => set({ ...group, complete: event.currentTarget.checked })}
        />each is one of them</label
      >
      <label class="flex items-center gap-1 py-0.5"
        ><input
          type="checkbox"
          class="size-4 accent-primary"
          checked={group.exclusive}
          onchange={(event) => set({ ...group, exclusive: event.currentTarget.checked })}
        />of one at most</label
      >
      <Remove
        what="the kinds {said}"
        onremove={() => desk.edit({ kind: 'object.remove', collection: 'subtypes', id: group.id })}
      />
    </div>
  {/each}
  <Field
    label="Kinds of {entity.name}"
    value=""
    fresh
    placeholder="add: entities that are kinds of {entity.name}"
    words={free}
    onkeep={(typed) =>
      keep(typed, {
        id: newId('sub'),
        supertype: entity.id,
        subtypes: [],
        discriminator: 'kind',
        complete: false,
        exclusive: false
      })}
  />
</Part>
