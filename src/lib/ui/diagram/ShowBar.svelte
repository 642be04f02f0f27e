<!-- What shows on a diagram: the columns of cards, what stands beside their names, the ways of lines. -->
<script lang="ts">
  import { allAttributes, BESIDE_NAMES, type BesideName } from '../../core/design'
  import { NOTATIONS } from '../../core/picture'
  import { useDesk } from '../desk/desk.svelte'
  import type { Board } from './board.svelte'

  const { board, onclose }: { board: Board; onclose: () => void } = $props()
  const desk = useDesk()
  const diagram = $derived(board.whole)
  const PLAIN: readonly BesideName[] = ['types', 'required', 'database names']
  const shows = $derived(diagram.shows ?? PLAIN)
  const LINES = ['rounded', 'right-angled', 'straight', 'curved'] as const
  const [one] = $derived(board.chosen)
  const width = $derived(one && diagram.widths?.[one.id])
  const holders = $derived(
    board.picture.cards.flatMap(({ id }) => {
      const entity = desk.design.entities[id]
      return entity
        ? allAttributes(entity).flatMap((attribute) => (attribute.fields?.length ? [attribute.id] : []))
        : []
    })
  )
  const dimmed = $derived([...(diagram.grey ?? []), ...(diagram.hidden ?? [])])
  function toggle(name: BesideName) {
    const next = BESIDE_NAMES.filter((other) => shows.includes(other) !== (other === name))
    const isPlain = next.length === PLAIN.length && next.every((other) => PLAIN.includes(other))
    board.set({ shows: isPlain ? undefined : [...next] })
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const button = 'rounded border border-line bg-base-100 px-2 py-0.5 hover:bg-base-300'
</script>

<div
  class="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-line bg-base-200 px-3 py-1.5 text-[13px]"
  role="group"
  aria-label="Look of the diagram"
>
  <select
    class={field}
    aria-label="Columns shown"
    title="Of each entity: all columns, only those in its keys and links, or its name alone"
    value={diagram.columns ?? 'all'}
    disabled={diagram.level === 'conceptual'}
    onchange={({ currentTarget: { value } }) =>
      board.set({ columns: value === 'keys' || value === 'names' ? value : undefined })}
  >
    <option value="all">All columns</option>
    <option value="keys">Keys only</option>
    <option value="names">Names only</option>
  </select>
  <select
    class={field}
    aria-label="Notation"
    title={board.picture.notation.source}
    value={board.picture.notation.id}
    onchange={({ currentTarget: { value } }) => {
      const chosen = NOTATIONS.find((notation) => notation.id === value)?.id
      board.set({ notation: chosen === 'crows foot' ? undefined : chosen })
    }}
  >
    {#each NOTATIONS as { id, label } (id)}<option value={id}>{label}</option>{/each}
  </select>
  {#each BESIDE_NAMES as name (name)}
    <label class="flex items-center gap-1"
      ><input
        type="checkbox"
        class="accent-primary"
        checked={shows.includes(name)}
        disabled={diagram.level === 'conceptual'}
        onchange={() => toggle(name)}
      />{name}</label
    >
  {/each}
  <label class="flex items-center gap-1"
    ><input
      type="checkbox"
      class="accent-primary"
      checked={diagram.wrapped === true}
      onchange={(event) => board.set({ wrapped: event.currentTarget.checked || undefined })}
    />long names wrapped</label
  >
  <label class="flex items-center gap-1.5"
    >Lines
    <select
      class={field}
      value={diagram.lines ?? 'rounded'}
      onchange={({ currentTarget: { value } }) => {
        const chosen = LINES.find((line) => line === value)
        board.set({ lines: chosen === 'rounded' ? undefined : chosen })
      }}
    >
      {#each LINES as line (line)}<option value={line}>{line}</option>{/each}
    </select></label
  >
  {#if one && board.chosen.length === 1 && !board.centre}
    <label class="flex items-center gap-1.5"
      >Width of {one.title}
      <input
        type="number"
        class="{field} w-20"
        min="80"
        max="900"
        placeholder={`${Math.round(one.width)}`}
        value={width ?? ''}
        onchange={({ currentTarget: { value } }) => {
          const { [one.id]: _before, ...rest } = diagram.widths ?? {}
          const wanted = Number(value)
          const widths = wanted >= 80 ? { ...rest, [one.id]: Math.min(900, wanted) } : rest
          board.set({ widths: Object.keys(widths).length > 0 ? widths : undefined })
        }}
      /></label
    >
  {/if}
  {#if one && board.chosen.length === 1 && !board.centre}
    <select
      class={field}
      aria-label="How {one.title} is shown here"
      value={one.grey ? 'grey' : 'plain'}
      onchange={({ currentTarget: { value } }) =>
        board.dim(value === 'grey' || value === 'hidden' ? value : 'plain', [one.id])}
    >
      <option value="plain">as all others</option>
      <option value="grey">in grey</option>
      <option value="hidden">not shown here</option>
    </select>
  {/if}
  {#if holders.length > 0}
    <button class={button} onclick={() => board.set({ folded: holders })}>Fold all fields</button>
    <button class={button} onclick={() => board.set({ folded: undefined })}>Unfold</button>
  {/if}
  {#if dimmed.length > 0}
    <button class={button} onclick={() => board.set({ grey: undefined, hidden: undefined })}
      >Show all {dimmed.length} that are grey or hidden</button
    >
  {/if}
  <button class="text-soft underline" onclick={onclose}>Close</button>
</div>
