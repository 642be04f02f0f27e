<!-- An entity's card, drawn from numbers that were worked out without a screen. -->
<script lang="ts">
  import { HEAD, NAME_X, ROW, type PlacedCard } from '../../core/picture'
  import { entityOf, type Selection } from '../desk/desk.svelte'

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
<rect
  width={card.width}
  height={card.height}
  rx="3"
  fill="var(--color-base-100)"
  stroke={card.view ? 'var(--soft)' : 'var(--line)'}
  stroke-dasharray={card.view ? '2 3' : undefined}
/>
{#if card.keyBottom > HEAD}
  <rect x="1" y={HEAD} width={card.width - 2} height={card.keyBottom - HEAD} fill="var(--key-tint)" />
{/if}
{#if card.view}
  <text x="14" y={HEAD + 15} class="fill-soft text-[11.5px]">{card.rows.length === 0 ? 'reads nothing yet' : ''}</text>
{:else}
  <rect width="5" height={HEAD} rx="2" fill="var(--edge-{tint})" />
{/if}
<line x1="0" x2={card.width} y1={HEAD} y2={HEAD} stroke="var(--line)" />
<text x="14" y="21" class="fill-base-content text-[14px] font-[650]">{card.title}</text>
<text x={card.width - 12} y="20.5" text-anchor="end" class="fill-soft font-mono text-[11.5px]">{card.dbName}</text>
{#each card.rows as item (item.id)}
  {#if item.row !== undefined && item.row === row}
    <rect x="1" y={item.y} width={card.width - 2} height={ROW} fill="var(--sea-tint)" />
  {/if}
  <g data-row={item.row}>
    {#if card.view}
      <path
        d="M12 {item.y + 10.5}h10m-3-3 3 3-3 3"
        fill="none"
        stroke="var(--soft)"
        stroke-width="1.3"
        stroke-dasharray="1.5 2"
      />
    {/if}
    <rect y={item.y} width={card.width} height={ROW} fill="transparent" />
    {#if item.key}<rect x="9" y={item.y + 5} width="4.5" height="11" fill="var(--color-base-content)" />{/if}
    {#if item.x > NAME_X}
      <path d="M{item.x - 9} {item.y}v10.5h5" fill="none" stroke="var(--line)" />
    {/if}
    {#if item.link}
      <path
        d="M{item.key ? 16 : 12} {item.y + 6}v4.5h7m-2.6-2.6 2.6 2.6-2.6 2.6"
        fill="none"
        stroke="var(--color-primary)"
        stroke-width="1.6"
      />
    {/if}
    <text x={item.x} y={item.y + 15} class="fill-base-content text-[13px]">{item.name}</text>
    <text x={item.typeX} y={item.y + 15} class="fill-soft font-mono text-[11.5px]">{item.type}</text>
  </g>
{/each}
{#if card.keyBottom > HEAD && card.rows.length > card.rows.filter((r) => r.key).length}
  <line
    x1="4"
    x2={card.width - 4}
    y1={card.keyBottom}
    y2={card.keyBottom}
    stroke="var(--line)"
    stroke-dasharray="3 3"
  />
{/if}
