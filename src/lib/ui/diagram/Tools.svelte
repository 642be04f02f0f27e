<!-- What can be drawn, and how the diagram is shown. -->
<script lang="ts">
  import BoxSelect from '@lucide/svelte/icons/square-dashed-mouse-pointer'
  import Frame from '@lucide/svelte/icons/square-dashed'
  import Image from '@lucide/svelte/icons/image-down'
  import Layers from '@lucide/svelte/icons/layers'
  import Link2 from '@lucide/svelte/icons/link-2'
  import Network from '@lucide/svelte/icons/network'
  import Note from '@lucide/svelte/icons/sticky-note'
  import Plus from '@lucide/svelte/icons/plus'
  import Eye from '@lucide/svelte/icons/eye'
  import { useDesk } from '../desk/desk.svelte'
  import type { Board, Tool } from './board.svelte'

  export type Panel = 'diagrams' | 'shows' | 'picture'
  interface Props {
    readonly board: Board
    readonly panel: Panel | undefined
    readonly onpanel: (panel: Panel) => void
  }
  const { board, panel, onpanel }: Props = $props()
  const desk = useDesk()
  const targets = $derived(Object.values(desk.design.targets))
  const level = $derived(
    board.whole.level === 'physical' ? `physical ${board.whole.target ?? ''}` : (board.whole.level ?? 'logical')
  )
  /** By the keyboard there is no place to click: it is made in the middle. */
  function take(tool: Tool, event: MouseEvent) {
    board.linkFrom = undefined
    board.problem = ''
    if (event.detail === 0 && tool === 'entity') return board.addEntity()
    if (event.detail === 0 && (tool === 'note' || tool === 'frame')) return board.addNote(tool)
    board.tool = board.tool === tool ? undefined : tool
  }
  function setLevel(chosen: string) {
    const [name, ...rest] = chosen.split(' ')
    const target = rest.join(' ')
    board.editing = undefined
    if (name === 'physical') board.set({ level: 'physical', target: target === '' ? undefined : target })
    else board.set({ level: name === 'conceptual' ? 'conceptual' : undefined, target: undefined })
  }
  const button = 'flex shrink-0 items-center gap-1 whitespace-nowrap rounded px-1 py-1 text-[13px] hover:bg-base-300'
  const on = (is: boolean) => (is ? 'bg-sea-tint text-primary' : '')
  const field = 'rounded border border-line bg-base-100 px-1 py-0.5 text-[13px]'
</script>

<div
  class="flex min-h-9 shrink-0 flex-wrap items-center gap-x-0.5 border-b border-line bg-base-200 px-2"
  role="toolbar"
  aria-label="Diagram"
>
  {#if board.centre}
    <button
      class="max-w-56 truncate rounded-full bg-sea-tint px-2.5 py-0.5 text-[13px] font-semibold text-primary"
      title="Show the whole diagram again (Esc)"
      onclick={() => (desk.around = undefined)}>only around {board.centre.name} ×</button
    >
  {:else}
    <select
      class="{field} max-w-28"
      aria-label="Diagram"
      value={board.whole.id}
      onchange={(event) => board.choose(event.currentTarget.value)}
    >
      {#each board.diagrams as item (item.id)}<option value={item.id}>{item.name}</option>{/each}
    </select>
    <button
      class="{button} {on(panel === 'diagrams')}"
      aria-label="Diagrams"
      aria-expanded={panel === 'diagrams'}
      title="New diagrams, and what stands on this one"
      onclick={() => onpanel('diagrams')}><Layers size={14} aria-hidden="true" /></button
    >
  {/if}
  {#snippet tool(name: Tool, Icon: typeof Plus, label: string, title: string, bare = false)}
    <button
      class="{button} {on(board.tool === name)}"
      aria-label={label}
      aria-pressed={board.tool === name}
      {title}
      onclick={(event) => take(name, event)}
      ><Icon size={14} aria-hidden="true" />{#if !bare}{label}{/if}</button
    >
  {/snippet}
  {@render tool('entity', Plus, 'Entity', 'A new entity where you click (E)')}
  <button class={button} onclick={() => board.addView()}><Plus size={14} aria-hidden="true" />View</button>
  {@render tool('link', Link2, 'Link', 'A link from one entity to another (L)')}
  {@render tool('note', Note, 'Note', 'A note (N)', true)}
  {@render tool('frame', Frame, 'Frame', 'A frame around what belongs together (F)', true)}
  {@render tool('choose', BoxSelect, 'Choose', 'Choose several cards: draw a frame, as with Shift held', true)}
  <button
    class={button}
    disabled={board.working || board.picture.cards.length === 0}
    title={board.picked.size > 1 ? 'The cards that are chosen' : 'All cards'}
    onclick={() => board.layOut()}
    ><Network size={14} aria-hidden="true" />{board.working ? 'Laying out …' : 'Lay out'}</button
  >
  {#if board.fresh.length > 0}
    <button
      class={button}
      disabled={board.working}
      title="Only what was never placed; all else stays where it is"
      onclick={() => board.layOut(true, board.fresh)}>{board.fresh.length} new</button
    >
  {/if}
  <button
    class="{button} {on(panel === 'shows')}"
    aria-expanded={panel === 'shows'}
    title="The notation, what shows on cards, and how lines go"
    onclick={() => onpanel('shows')}><Eye size={14} aria-hidden="true" />Look</button
  >
  <button
    class="{button} {on(panel === 'picture')}"
    aria-expanded={panel === 'picture'}
    aria-label="Picture"
    title="Save this diagram as SVG, PNG or PDF, or print it"
    onclick={() => onpanel('picture')}><Image size={14} aria-hidden="true" /></button
  >
  <select
    class="{field} ml-auto max-w-28"
    aria-label="Level"
    title="Names and links alone; columns of neutral types; or the tables of a target"
    value={level}
    onchange={(event) => setLevel(event.currentTarget.value)}
  >
    <option value="conceptual">Conceptual</option>
    <option value="logical">Logical</option>
    {#each targets as { id, name } (id)}<option value="physical {id}">Physical: {name}</option>{:else}
      <option value="physical ">Physical</option>
    {/each}
  </select>
</div>
