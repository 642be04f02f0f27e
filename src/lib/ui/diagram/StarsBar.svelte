<!-- What is a fact and what a dimension on a diagram, and why. -->
<script lang="ts">
  import { starRoles } from '../../core/infer'
  import { useDesk } from '../desk/desk.svelte'
  import type { Board } from './board.svelte'

  const { board }: { board: Board } = $props()
  const desk = useDesk()
  const why = $derived(new Map(starRoles(desk.design).map((role) => [role.entity, role.why])))
  const stars = $derived(board.whole.stars ?? {})
  const cards = $derived(
    board.picture.cards
      .filter(({ view }) => !view)
      .map(({ id }) => ({ id, name: desk.design.entities[id]?.name ?? '', as: stars[id] ?? '' }))
      .sort((a, b) => rank(a.as) - rank(b.as) || a.name.localeCompare(b.name))
  )
  const rank = (as: string) => (as === 'fact' ? 0 : as === 'dimension' ? 1 : 2)
  function set(id: string, as: string) {
    const { [id]: _before, ...rest } = stars
    board.set({ stars: as === 'fact' || as === 'dimension' ? { ...rest, [id]: as } : rest })
  }
</script>

<ul
  class="max-h-32 overflow-y-auto border-b border-line bg-base-200 px-3 py-1 text-[13px]"
  aria-label="Facts and dimensions"
>
  {#each cards as { id, name, as } (id)}
    <li class="flex items-center gap-2 py-0.5">
      <select
        class="rounded border border-line bg-base-100 px-1"
        aria-label="What {name} is"
        value={as}
        onchange={(event) => set(id, event.currentTarget.value)}
      >
        <option value="fact">fact</option>
        <option value="dimension">dimension</option>
        <option value="">neither</option>
      </select>
      <button class="font-semibold hover:underline" onclick={() => board.select(id)}>{name}</button>
      <span class="truncate text-soft" title={why.get(id)}>{why.get(id) ?? 'as somebody said'}</span>
    </li>
  {/each}
</ul>
