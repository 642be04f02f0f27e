<!-- The design, drawn: a plane of cards, and what can be done there. -->
<script lang="ts">
  import { onMount, tick, untrack } from 'svelte'
  import ViewBar from '../views/ViewBar.svelte'
  import { entityOf, useDesk } from '../desk/desk.svelte'
  import { theme } from '../desk/theme.svelte'
  import { Board } from './board.svelte'
  import CardEditor from './CardEditor.svelte'
  import DiagramBar from './DiagramBar.svelte'
  import EntityBar from './EntityBar.svelte'
  import { coloursOf, drawFar } from './far'
  import { Gestures } from './gestures.svelte'
  import Legend from './Legend.svelte'
  import LinkBar from './LinkBar.svelte'
  import NoteBar from './NoteBar.svelte'
  import PickedBar from './PickedBar.svelte'
  import PictureBar from './PictureBar.svelte'
  import Scene from './Scene.svelte'
  import ShowBar from './ShowBar.svelte'
  import { Sight } from './sight.svelte'
  import SmallMap from './SmallMap.svelte'
  import StarsBar from './StarsBar.svelte'
  import ToolLine from './ToolLine.svelte'
  import Tools, { type Panel } from './Tools.svelte'

  const desk = useDesk()
  let plane = $state<SVGGElement>()
  let svg = $state<SVGSVGElement>()
  let canvas = $state<HTMLCanvasElement>()
  let panel = $state<Panel>()
  const board: Board = new Board(desk, (event) => Gestures.pans(event, board))
  const sight = new Sight(board)
  const gestures = new Gestures(board, desk, () => plane)
  const { picture } = $derived(board)
  const { view, size } = $derived(board.plane)
  let mapped = $state<boolean>()
  /** Of many, where not all are in view. */
  const mapShown = $derived(mapped ?? (picture.cards.length > 40 && sight.isPart))
  const tints = $derived(new Map(Object.values(desk.design.areas).map((area) => [area.id, area.tint])))

  const selectedEntity = $derived(desk.design.entities[entityOf(desk.selection) ?? ''])
  const selectedView = $derived(desk.selection?.kind === 'view' ? desk.design.views[desk.selection.view] : undefined)
  const selectedLink = $derived.by(() => {
    const s = desk.selection
    return s?.kind === 'link' ? desk.design.links[s.link] : s?.kind === 'row' ? desk.design.links[s.row] : undefined
  })

  onMount(() => void board.settle())

  $effect(() => {
    const { far, passing } = sight
    const input = { picture, view, tints, far, passing, selected: selectedEntity?.id ?? selectedView?.id }
    void theme.dark
    void size
    if (!canvas) return
    const node = canvas
    const frame = requestAnimationFrame(() => drawFar(node, { ...input, colours: coloursOf(node) }))
    return () => cancelAnimationFrame(frame)
  })

  // What is selected elsewhere comes into view, near enough to be read.
  $effect(() => {
    const id = selectedEntity?.id ?? selectedView?.id ?? selectedLink?.child
    untrack(() => {
      const isOwn = board.own !== undefined && (board.own === id || board.own === selectedLink?.id)
      board.own = undefined
      if (id !== undefined) board.noteId = undefined
      const card = picture.cards.find((c) => c.id === id)
      if (card && !board.moved[card.id]) board.plane.show(card, !isOwn)
    })
  })

  const focusPlane = () => void tick().then(() => svg?.focus())

  function onkeydown(event: KeyboardEvent) {
    const { key } = event
    const plain = !event.ctrlKey && !event.metaKey && !event.altKey
    if (key === 'Escape') {
      if (board.tool === undefined && board.picked.size === 0 && !board.note) desk.around = undefined
      board.tool = board.linkFrom = undefined
      board.problem = ''
      board.noteId = undefined
      board.pick([])
    } else if (key.startsWith('Arrow')) {
      if (event.ctrlKey) board.neighbour(key)
      else {
        const by = event.shiftKey ? 40 : 10
        board.moveBy(
          key === 'ArrowLeft' ? -by : key === 'ArrowRight' ? by : 0,
          key === 'ArrowUp' ? -by : key === 'ArrowDown' ? by : 0
        )
      }
    } else if ((key === 'a' || key === 'A') && event.ctrlKey) board.pickAll()
    else if (!plain) return
    else if (key === '+' || key === '=') board.plane.zoomBy(1.25)
    else if (key === '-') board.plane.zoomBy(0.8)
    else if (key === '0') board.fit()
    else if (key === 'Delete') board.remove()
    else if (key === 'F2' || key === 'Enter') board.edit()
    else if (key === 'Insert') {
      if (selectedEntity && board.isOfEntities) board.editing = { entity: selectedEntity.id, row: '+' }
    } else if (key === 'e') board.addEntity()
    else if (key === 'o') {
      if (desk.selection?.kind === 'row') board.fold(desk.selection.row)
    } else if (key === 'n') board.addNote('note')
    else if (key === 'f') board.addNote('frame')
    else if (key === 'l') {
      board.tool = 'link'
      board.linkFrom = selectedEntity?.id
    } else return
    event.preventDefault()
  }
  function oncopy(event?: ClipboardEvent) {
    const text = board.copied()
    if (text === undefined) return
    if (event?.clipboardData) {
      event.clipboardData.setData('text/plain', text)
      event.preventDefault()
    } else void navigator.clipboard.writeText(text)
  }
  function onpaste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData('text/plain') ?? ''
    if (text.trim() === '') return
    event.preventDefault()
    void board.paste(text)
  }
</script>

<div class="flex h-full flex-col">
  <Tools {board} {panel} onpanel={(next) => (panel = panel === next ? undefined : next)} />
  {#if panel === 'diagrams' && !board.centre}
    <DiagramBar {board} onclose={() => (panel = undefined)} />
    {#if board.whole.stars}<StarsBar {board} />{/if}
  {:else if panel === 'shows'}
    <ShowBar {board} onclose={() => (panel = undefined)} />
  {:else if panel === 'picture'}
    <PictureBar {board} onclose={() => (panel = undefined)} />
  {/if}
  <div class="relative min-h-0 flex-1 overflow-hidden bg-base-200">
    <canvas bind:this={canvas} class="pointer-events-none absolute inset-0 size-full" aria-hidden="true"></canvas>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
    <svg
      bind:this={svg}
      class="absolute inset-0 size-full touch-none {board.tool ? 'cursor-crosshair' : 'cursor-grab'}"
      role="application"
      aria-label="Diagram {board.diagram.name}"
      tabindex="0"
      {onkeydown}
      {oncopy}
      {onpaste}
      onpointerdown={gestures.down}
      onpointermove={gestures.move}
      onpointerup={gestures.up}
      onclick={(event) => {
        if (event.target !== svg || gestures.dragged) return
        desk.select(undefined)
        board.noteId = undefined
        board.pick([])
      }}
      {@attach board.plane.attach}
    >
      <g bind:this={plane} transform="translate({view.x} {view.y}) scale({view.k})">
        <Scene {board} {gestures} {tints} {sight} selectedLink={selectedLink?.id} />
      </g>
    </svg>
    {#if picture.cards.length === 0 && picture.notes.length === 0}
      <div class="pointer-events-none absolute inset-0 grid place-content-center gap-1 text-center text-soft">
        <p class="text-base font-semibold text-base-content">An empty chart</p>
        <p>Press E, or take Entity and click where it is to stand; or type into the sheet.</p>
      </div>
    {/if}
    {#if board.editing && !board.centre}
      <CardEditor {board} editing={board.editing} onleave={focusPlane} />
    {/if}
    <ToolLine {board} />
    {#if mapShown && picture.cards.length > 0}<SmallMap {board} />{/if}
    <Legend notation={picture.notation} views={picture.cards.some((card) => card.view)} />
    <div
      class="absolute right-3 bottom-3 flex items-center gap-1 rounded-md border border-line bg-base-100 px-1.5 py-0.5 text-[13px]"
    >
      <button class="px-1.5" aria-label="Zoom out" onclick={() => board.plane.zoomBy(0.8)}>−</button>
      <span class="w-12 text-center whitespace-nowrap tabular-nums">{Math.round(view.k * 100)} %</span>
      <button class="px-1.5" aria-label="Zoom in" onclick={() => board.plane.zoomBy(1.25)}>+</button>
      <button class="px-1.5" onclick={() => board.fit()}>Fit</button>
      <button
        class="px-1.5 {mapShown ? 'text-primary' : ''}"
        aria-pressed={mapShown}
        onclick={() => (mapped = !mapShown)}>Map</button
      >
    </div>
  </div>
  {#if board.note}
    <NoteBar {board} note={board.note} />
  {:else if board.picked.size > 1}
    <PickedBar {board} oncopy={() => oncopy()} />
  {:else if selectedLink}
    <LinkBar {board} link={selectedLink} />
  {:else if selectedEntity}
    <EntityBar {board} entity={selectedEntity} />
  {:else if selectedView}
    <ViewBar view={selectedView} />
  {/if}
</div>
