<!-- The diagrams of a design: made, named, copied, taken away, and what stands on them. -->
<script lang="ts">
  import { freeName, newId, type Diagram, type Edit } from '../../core/design'
  import { neighbourhood, shown } from '../../core/picture'
  import NameField from '../desk/NameField.svelte'
  import { entityOf, useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'
  import type { Board } from './board.svelte'

  const { board, onclose }: { board: Board; onclose: () => void } = $props()
  const desk = useDesk()
  const diagram = $derived(board.whole)
  const { diagrams } = $derived(board)
  /** The entities and views on it. */
  const standing = $derived([
    ...shown(desk.design, diagram).map(({ id }) => id),
    ...board.picture.cards.flatMap(({ id, view }) => (view ? [id] : []))
  ])
  const onchoose = (id: string) => board.choose(id)
  const areas = $derived(Object.values(desk.design.areas))
  const here = $derived(new Set(standing))
  const byName = $derived(Object.values(desk.design.entities).sort((a, b) => a.name.localeCompare(b.name)))
  const chosen = $derived(desk.design.entities[entityOf(desk.selection) ?? ''])
  /** What no diagram shows. */
  const nowhere = $derived.by(() => {
    const seen = new Set(diagrams.flatMap((one) => shown(desk.design, one).map(({ id }) => id)))
    return byName.filter(({ id }) => !seen.has(id))
  })
  /** How far from what is chosen a new diagram around it reaches. */
  let steps = $state(1)
  const named = (name: string) =>
    freeName(
      name,
      diagrams.map((one) => one.name)
    )
  const set = (object: Diagram) => desk.edit({ kind: 'object.set', collection: 'diagrams', object })

  function make(says: Omit<Diagram, 'id'>) {
    const made: Diagram = { ...says, id: newId('dia') }
    set(made)
    onchoose(made.id)
  }
  const copy = () => make({ ...diagram, name: named(`${diagram.name} copy`) })
  function begin(what: string) {
    const area = desk.design.areas[what]
    if (what === 'stars') board.addStars()
    else if (what === '') make({ name: named('Diagram'), only: [], places: {} })
    else if (area) make({ name: named(area.name), area: area.id, places: {} })
    else if (chosen)
      make({
        name: named(`Around ${chosen.name}`),
        only: [...neighbourhood(desk.design, chosen.id, steps)],
        places: {}
      })
  }
  /** Among the others, one place on or back: all get ranks. */
  function move(by: 1 | -1) {
    const order = diagrams.map(({ id }) => id)
    const at = order.indexOf(diagram.id)
    const other = order[at + by]
    if (other === undefined) return
    ;[order[at], order[at + by]] = [other, diagram.id]
    const edits = order.flatMap((id, rank): Edit[] => {
      const one = desk.design.diagrams[id]
      return one && one.rank !== rank ? [{ kind: 'object.set', collection: 'diagrams', object: { ...one, rank } }] : []
    })
    desk.edit({ kind: 'all', edits })
  }
  function remove() {
    // Once another is chosen, this is that one.
    const { id } = diagram
    const other = diagrams.find((one) => one.id !== id)
    if (!other) return
    onchoose(other.id)
    desk.edit({ kind: 'object.remove', collection: 'diagrams', id })
  }
  function rename(said: string): string | undefined {
    const name = said.trim()
    if (name === '') return 'A diagram needs a name.'
    if (diagrams.some((one) => one.id !== diagram.id && one.name === name)) return `There is a diagram ${name} already.`
    set({ ...diagram, name })
    return undefined
  }
  /** One that showed all, or an area, shows what is told from now on. */
  function show(only: readonly string[], places = diagram.places) {
    const { area: _area, ...rest } = diagram
    set({ ...rest, only: [...only], places })
  }
  const put = (id: string) => show([...standing, id])
  function takeOff(id: string) {
    const { [id]: _place, ...places } = diagram.places
    show(
      standing.filter((one) => one !== id),
      places
    )
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const button =
    'rounded border border-line bg-base-100 px-2 py-0.5 font-semibold hover:bg-base-300 disabled:opacity-50'
</script>

<div
  class="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-line bg-base-200 px-3 py-1.5 text-[13px]"
  role="group"
  aria-label="Diagrams"
>
  <NameField label="Diagram" name={diagram.name} {rename} />
  <button
    class={button}
    aria-label="Earlier"
    title="Earlier among the diagrams"
    disabled={diagrams[0]?.id === diagram.id}
    onclick={() => move(-1)}>◀</button
  >
  <button
    class={button}
    aria-label="Later"
    title="Later among the diagrams"
    disabled={diagrams.at(-1)?.id === diagram.id}
    onclick={() => move(1)}>▶</button
  >
  <button class={button} onclick={copy}>Copy it</button>
  <button class={button} disabled={diagrams.length < 2} onclick={remove}>Remove it</button>
  <select
    class={field}
    aria-label="New diagram"
    value="new"
    onchange={(event) => {
      begin(event.currentTarget.value)
      event.currentTarget.value = 'new'
    }}
  >
    <option value="new" disabled>New diagram …</option>
    <option value="">of nothing yet</option>
    {#if chosen}<option value="around">around {chosen.name}</option>{/if}
    <option value="stars">of facts and dimensions</option>
    {#each areas as { id, name } (id)}<option value={id}>of {name}</option>{/each}
  </select>
  {#if chosen}
    <label class="flex items-center gap-1.5"
      >steps around <input class="{field} w-12" type="number" min="1" max="9" bind:value={steps} /></label
    >
  {/if}
  {#if byName.some(({ id }) => !here.has(id))}
    <select
      class={field}
      aria-label="Put on this diagram"
      value=""
      onchange={(event) => {
        put(event.currentTarget.value)
        event.currentTarget.value = ''
      }}
    >
      <option value="" disabled>Put on it …</option>
      {#each byName as { id, name } (id)}{#if !here.has(id)}<option value={id}>{name}</option>{/if}{/each}
    </select>
  {/if}
  {#if chosen && here.has(chosen.id)}
    <button class={button} onclick={() => takeOff(chosen.id)}>Take {chosen.name} off it</button>
  {/if}
  {#if nowhere.length > 0}
    <span class="text-secondary" title={nowhere.map(({ name }) => name).join(', ')}
      >{count(nowhere.length, 'entity is', 'entities are')} on no diagram: {nowhere
        .slice(0, 3)
        .map(({ name }) => name)
        .join(', ')}{nowhere.length > 3 ? ' …' : ''}</span
    >
  {/if}
  <button class="text-soft underline" onclick={onclose}>Close</button>
</div>
