<!-- An entity's card, drawn from numbers that were worked out without a screen. -->
<script lang="ts">
  import type { PlacedCard } from '../../core/picture'
  import { entityOf, type Selection } from '../desk/desk.svelte'
  import Shapes from './Shapes.svelte'

  interface Props {
    readonly card: PlacedCard
    readonly tint: number
    readonly selection: Selection | undefined
    /** It is one of those that are chosen together. */
    readonly picked: boolean
    /** Its width can be drawn. */
    readonly sizable: boolean
  }
  const { card, tint, selection, picked, sizable }: Props = $props()
  const selected = $derived(
    selection &&
      (selection.kind === 'view'
        ? selection.view === card.id
        : entityOf(selection) === card.id ||
          (card.of !== undefined && card.of !== card.id && entityOf(selection) === card.of))
  )
  const row = $derived(
    selection?.kind === 'row' ? selection.row : selection?.kind === 'link' ? selection.link : undefined
  )
</script>

{#if selected || picked}
  <rect
    x="-3"
    y="-3"
    width={card.width + 6}
    height={card.height + 6}
    rx="5"
    fill="none"
    stroke="var(--color-primary)"
    stroke-width="2.5"
    stroke-dasharray={picked ? '7 3' : undefined}
  />
{/if}
<rect width={card.width} height={card.height} fill="transparent" />
<Shapes shapes={card.ground} {tint} />
{#each card.rows as item (`${item.id} ${item.y}`)}
  {#if item.row !== undefined && item.row === row}
    <rect x="1" y={item.y} width={card.width - 2} height={card.row} fill="var(--sea-tint)" />
  {/if}
{/each}
<Shapes shapes={card.shapes} {tint} />
{#each card.rows as item (`${item.id} ${item.y}`)}
  <rect data-row={item.row} y={item.y} width={card.width} height={card.row} fill="transparent" />
  {#if item.fields !== undefined && !item.continued}
    <rect data-fold={item.row} x={item.typeX - 19} y={item.y} width="18" height={card.row} fill="transparent" />
  {/if}
{/each}
{#if selected && sizable && !picked}
  <rect
    data-size
    class="cursor-ew-resize"
    x={card.width - 3}
    y={card.height / 2 - 10}
    width="6"
    height="20"
    rx="2"
    fill="var(--color-primary)"
  />
{/if}
