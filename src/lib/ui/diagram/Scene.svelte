<!-- Cards, lines, notes and areas on the plane, as far as they are seen. -->
<script lang="ts">
  import { isFront, type PlacedCard, type PlacedNote } from '../../core/picture'
  import type { Place } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import type { Board } from './board.svelte'
  import CardShape from './CardShape.svelte'
  import type { Gestures } from './gestures.svelte'
  import Shapes from './Shapes.svelte'
  import type { Sight } from './sight.svelte'

  interface Props {
    readonly board: Board
    readonly gestures: Gestures
    readonly tints: ReadonlyMap<string, number>
    readonly sight: Sight
    readonly selectedLink: string | undefined
  }
  const { board, gestures, tints, sight, selectedLink }: Props = $props()
  const desk = useDesk()
  const { picture } = $derived(board)
  const { far } = $derived(sight)
  /** Cards that others stand in: lines to those pass over them. */
  const holders = $derived(
    new Set(picture.cards.flatMap(({ id, within }) => (within === undefined ? [] : [within, id])))
  )
  /** A link's line may be one of several that it became. */
  const linkOf = (route: string) => {
    const [id = ''] = route.split(' ')
    return desk.design.links[id] ? id : undefined
  }
  const selectLink = (route: string) => {
    const id = linkOf(route)
    if (id !== undefined) board.select(id)
  }
  const frameOf = ({ x, y }: Place, to: Place) => `M${x} ${y}L${to.x} ${to.y}`
</script>

{#snippet cardAt(card: PlacedCard)}
  <g
    transform="translate({card.x} {card.y})"
    data-card={card.id}
    role="button"
    tabindex="0"
    aria-label="{card.view ? 'View' : board.isOfEntities ? 'Entity' : 'Table'} {card.title}"
    aria-pressed={board.picked.has(card.id)}
    class="cursor-pointer outline-none"
    onclick={(event) => gestures.press(card, event)}
    ondblclick={(event) => {
      const row = event.target instanceof Element ? event.target.closest('[data-row]') : null
      if (!row && desk.selection?.kind === 'row') board.select(card.id)
      board.edit()
    }}
    onkeydown={(event) => {
      if (event.key !== 'Enter' && event.key !== ' ') return
      const isChosen = board.chosen.some(({ id }) => id === card.id)
      // What is chosen already is typed into.
      if (event.key === 'Enter' && isChosen && !event.shiftKey && board.tool !== 'link' && !card.view) return
      event.preventDefault()
      event.stopPropagation()
      gestures.press(card, event)
    }}
    {@attach (node: SVGGElement) => gestures.card(node, card)}
  >
    <CardShape
      {card}
      tint={tints.get(card.area ?? '') ?? 1}
      selection={desk.selection}
      picked={board.picked.has(card.id)}
      sizable={card.within === undefined && !board.centre}
    />
    {#if board.linkFrom === card.id || gestures.rubber?.onto === card.id}<rect
        x="-5"
        y="-5"
        width={card.width + 10}
        height={card.height + 10}
        rx="6"
        fill="none"
        stroke="var(--color-secondary)"
        stroke-width="2"
        stroke-dasharray="4 3"
      />{/if}
    {#if gestures.slot?.card === card.id}<path
        d="M2 {gestures.slot.y}H{card.width - 2}"
        stroke="var(--color-primary)"
        stroke-width="2.5"
      />{/if}
  </g>
{/snippet}

{#snippet noteAt(note: PlacedNote)}
  <Shapes shapes={note.lead} />
  <g
    transform="translate({note.x} {note.y})"
    data-note={note.id}
    role="button"
    tabindex="0"
    aria-label="{note.kind === 'note' ? 'Note' : 'Frame'} {note.text}"
    class="cursor-pointer outline-none"
    onclick={() => {
      if (gestures.dragged) return
      desk.select(undefined)
      board.pick([])
      board.noteId = note.id
    }}
    ondblclick={() => note.leadsTo !== undefined && board.choose(note.leadsTo)}
    onkeydown={(event) => {
      if (event.key !== 'Enter' && event.key !== ' ') return
      event.preventDefault()
      event.stopPropagation()
      if (board.noteId === note.id && note.leadsTo !== undefined) return board.choose(note.leadsTo)
      desk.select(undefined)
      board.pick([])
      board.noteId = note.id
    }}
    {@attach (node: SVGGElement) => gestures.note(node, note)}
  >
    {#if note.kind === 'frame'}
      <!-- Held by its edge and its label: what is in it is panned and chosen as elsewhere. -->
      <g class="pointer-events-none"><Shapes shapes={note.shapes} tint={note.tint} /></g>
      <rect
        width={note.width}
        height={note.height}
        fill="none"
        stroke="transparent"
        stroke-width="12"
        pointer-events="stroke"
      />
      <rect y={note.height - 24} width={Math.min(note.width, 220)} height="24" fill="transparent" />
    {:else}
      <Shapes shapes={note.shapes} tint={note.tint} />
    {/if}
    {#if board.noteId === note.id}
      <rect
        x="-3"
        y="-3"
        width={note.width + 6}
        height={note.height + 6}
        rx="4"
        fill="none"
        stroke="var(--color-primary)"
        stroke-width="2"
      />
      <rect
        data-size
        class="cursor-nwse-resize"
        x={note.width - 6}
        y={note.height - 6}
        width="12"
        height="12"
        rx="2"
        fill="var(--color-primary)"
      />
    {/if}
  </g>
{/snippet}

{#if !far}
  {#each picture.notes as note (note.id)}{#if !isFront(note)}{@render noteAt(note)}{/if}{/each}
{/if}
{#each sight.cards as card (card.id)}{#if holders.has(card.id)}{@render cardAt(card)}{/if}{/each}
{#if !far}
  {#each picture.areas as area (area.id)}
    <text x={area.label.x} y={area.label.y} class="fill-soft text-[12px] tracking-[0.2em] uppercase">{area.name}</text>
  {/each}
  {#each sight.routes as route (route.id)}
    {@const chosen = selectedLink !== undefined && linkOf(route.id) === selectedLink}
    <g
      role="button"
      tabindex="-1"
      aria-label="Link"
      class="cursor-pointer outline-none"
      data-link={route.id}
      onclick={() => selectLink(route.id)}
      onkeydown={undefined}
    >
      {#each route.lines as { path, dash, double }, i (i)}
        <path d={path} fill="none" stroke="transparent" stroke-width="12" />
        <path
          d={path}
          fill="none"
          stroke={chosen ? 'var(--color-primary)' : route.grey ? 'var(--line)' : 'var(--soft)'}
          stroke-width={(chosen ? 2.4 : 1.4) + (double ? 2.8 : 0)}
          stroke-dasharray={route.read ? '1.5 4' : dash}
        />
        {#if double}<path d={path} fill="none" stroke="var(--color-base-200)" stroke-width="1.6" />{/if}
      {/each}
      <Shapes shapes={route.marks} {...chosen ? { stroke: 'var(--color-primary)' } : {}} />
    </g>
  {/each}
  {#each picture.groups as group (group.id)}<Shapes shapes={group.shapes} />{/each}
{/if}
{#each sight.cards as card (card.id)}{#if !holders.has(card.id)}{@render cardAt(card)}{/if}{/each}
{#if !far}
  {#each picture.notes as note (note.id)}{#if isFront(note)}{@render noteAt(note)}{/if}{/each}
{/if}
{#if gestures.rubber}
  {@const { from, to, says } = gestures.rubber}
  <path
    d={frameOf(from, to)}
    stroke="var(--color-secondary)"
    stroke-width="2"
    stroke-dasharray="6 4"
    class="pointer-events-none"
  />
  {#if says}
    <text
      x={to.x + 14 / board.plane.view.k}
      y={to.y + 26 / board.plane.view.k}
      class="pointer-events-none font-semibold"
      font-size={14 / board.plane.view.k}
      fill="var(--color-secondary)"
      stroke="var(--color-base-100)"
      stroke-width={5 / board.plane.view.k}
      paint-order="stroke"
      data-says>{says}</text
    >
  {/if}
{/if}
{#if gestures.frame}
  <rect
    {...gestures.frame}
    fill="var(--sea-tint)"
    opacity="0.4"
    stroke="var(--color-primary)"
    stroke-width={1.5 / board.plane.view.k}
    class="pointer-events-none"
  />
{/if}
