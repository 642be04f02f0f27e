<!-- An entity's card, drawn from numbers that were worked out without a screen. -->
<script lang="ts">
  import type { PlacedCard } from '../../core/picture'
  import { entityOf, type Selection } from '../desk/desk.svelte'
  import Shapes from './Shapes.svelte'

  interface Props {
    readonly card: PlacedCard
    readonly tint: number
    readonly selection: Selection | undefined
  }
  const { card, tint, selection }: Props = $props()
  const chosen = $derived(
    selection && (selection.kind === 'view' ? selection.view === card.id : entityOf(selection) === card.id)
  )
  const row = $derived(
    selection?.kind === 'row' ? selection.row : selection?.kind === 'link' ? selection.link : undefined
  )
</script>

{#if chosen}
  <rect
    x="-3"
    y="-3"
    width={card.width + 6}
    height={card.height + 6}
    rx="5"
    fill="none"
    stroke="var(--color-primary)"
    stroke-width="2.5"
  />
{/if}
<rect width={card.width} height={card.height} fill="transparent" />
<Shapes shapes={card.ground} {tint} />
{#each card.rows as item (item.id)}
  {#if item.row !== undefined && item.row === row}
    <rect x="1" y={item.y} width={card.width - 2} height={card.row} fill="var(--sea-tint)" />
  {/if}
{/each}
<Shapes shapes={card.shapes} {tint} />
{#each card.rows as item (item.id)}
  <rect data-row={item.row} y={item.y} width={card.width} height={card.row} fill="transparent" />
{/each}
