<!-- Entity cards on a plane that is panned and zoomed. -->
<script lang="ts">
  import Layers from '@lucide/svelte/icons/layers'
  import Link2 from '@lucide/svelte/icons/link-2'
  import Network from '@lucide/svelte/icons/network'
  import Image from '@lucide/svelte/icons/image-down'
  import Plus from '@lucide/svelte/icons/plus'
  import { drag } from 'd3-drag'
  import { select } from 'd3-selection'
  import { zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3-zoom'
  import { onMount, tick, untrack } from 'svelte'
  import { freeName, newEntity, newLink, type Diagram, type Place } from '../../core/design'
  import {
    around,
    drawnLinks,
    layoutRequest,
    neighbourhood,
    NOTATIONS,
    pathWithin,
    picture as draw,
    type PlacedCard
  } from '../../core/picture'
  import { coreWorker } from '../../workers'
  import { entityOf, useDesk } from '../desk/desk.svelte'
  import { theme } from '../desk/theme.svelte'
  import CardShape from './CardShape.svelte'
  import DiagramBar from './DiagramBar.svelte'
  import EntityBar from './EntityBar.svelte'
  import { coloursOf, drawFar, type View } from './far'
  import Legend from './Legend.svelte'
  import PictureBar from './PictureBar.svelte'
  import Shapes from './Shapes.svelte'
  import LinkBar from './LinkBar.svelte'
  import ViewBar from '../views/ViewBar.svelte'

  const desk = useDesk()
  /** Below this, names are all that can be read; where there are many cards, one canvas draws everything. */
  const FAR = 0.42
  const FEW = 60
  /** Pixels that the legend takes at the bottom. */
  const BELOW = 56

  let diagramId = $state(Object.keys(untrack(() => desk.design.diagrams))[0] ?? '')
  const diagrams = $derived(Object.values(desk.design.diagrams))
  const whole = $derived<Diagram>(desk.design.diagrams[diagramId] ?? diagrams[0] ?? { id: '', name: '', places: {} })
  const centre = $derived(
    desk.around === undefined ? undefined : (desk.design.entities[desk.around] ?? desk.design.views[desk.around])
  )
  const only = $derived(centre && neighbourhood(desk.design, centre.id))
  /** Where what is shown around one thing stands: laid out each time, and kept nowhere. */
  let aside = $state.raw<Record<string, Place>>({})
  const diagram = $derived<Diagram>(
    centre ? { id: '', name: `around ${centre.name}`, places: aside, ...drawnAs(whole) } : whole
  )
  let moved = $state.raw<Record<string, Place>>({})
  const picture = $derived(draw(desk.design, diagram, moved, only))
  /** Cards that others stand in: lines to those pass over them. */
  const holders = $derived(
    new Set(picture.cards.flatMap(({ id, within }) => (within === undefined ? [] : [within, id])))
  )
  const tints = $derived(new Map(Object.values(desk.design.areas).map((area) => [area.id, area.tint])))

  let svg = $state<SVGSVGElement>()
  let plane = $state<SVGGElement>()
  let canvas = $state<HTMLCanvasElement>()
  let view = $state.raw<View>({ k: 1, x: 0, y: 0 })
  let size = $state({ width: 800, height: 600 })
  let linking = $state(false)
  let linkFrom = $state<string | undefined>()
  let working = $state(false)
  let picturing = $state(false)
  let listing = $state(false)
  let behavior: ZoomBehavior<SVGSVGElement, unknown> | undefined
  const far = $derived(view.k < (picture.cards.length <= FEW ? FAR / 2 : FAR))

  // What is seen, in steps of a quarter of a screen, so that panning does not count cards at every frame.
  const seen = $derived.by(() => {
    const [w, h] = [size.width / view.k, size.height / view.k]
    const [stepX, stepY] = [w / 4, h / 4]
    const left = Math.floor(-view.x / view.k / stepX) * stepX
    const top = Math.floor(-view.y / view.k / stepY) * stepY
    return `${left} ${top} ${left + w + stepX} ${top + h + stepY}`
  })
  const near = $derived.by(() => {
    if (far) return { cards: [], routes: [] }
    const [left = 0, top = 0, right = 0, bottom = 0] = seen.split(' ').map(Number)
    const inside = (x: number, y: number, w: number, h: number) =>
      x < right && y < bottom && x + w > left && y + h > top
    const cards = picture.cards.filter((card) => inside(card.x, card.y, card.width, card.height))
    const ids = new Set(cards.map((card) => card.id))
    const crowded = picture.cards.length > FEW
    return {
      cards,
      routes: picture.routes.flatMap((route) => {
        const xs = route.points.map(([x]) => x)
        const ys = route.points.map(([, y]) => y)
        const [x, y] = [Math.min(...xs), Math.min(...ys)]
        if (!inside(x, y, Math.max(...xs) - x, Math.max(...ys) - y)) return []
        // Among very many, lines that only pass by step back: they are faint, and not dashed, which would be slow.
        const passing = crowded && !ids.has(route.parent) && !ids.has(route.child)
        const window = { x: left, y: top, width: right - left, height: bottom - top }
        return {
          ...route,
          passing,
          lines: route.lines.map((line) => ({ ...line, path: pathWithin(line, window) }))
        }
      })
    }
  })

  const selectedEntity = $derived(desk.design.entities[entityOf(desk.selection) ?? ''])
  const selectedView = $derived(desk.selection?.kind === 'view' ? desk.design.views[desk.selection.view] : undefined)
  const selectedLink = $derived.by(() => {
    const s = desk.selection
    return s?.kind === 'link' ? desk.design.links[s.link] : s?.kind === 'row' ? desk.design.links[s.row] : undefined
  })

  onMount(() => {
    if (!svg) return
    behavior = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.04, 2.5])
      .filter((event: Event) => event.type === 'wheel' || !(event.target as Element).closest('[data-card]'))
      .on('zoom', (event: { transform: ZoomTransform }) => {
        const { k, x, y } = event.transform
        view = { k, x, y }
      })
    select(svg).call(behavior).on('dblclick.zoom', null)
    const watch = new ResizeObserver(([entry]) => {
      if (entry) size = { width: entry.contentRect.width, height: entry.contentRect.height }
    })
    watch.observe(svg)
    void settle()
    return () => watch.disconnect()
  })

  /** A diagram that nobody has arranged is laid out when it is first shown. */
  async function settle() {
    const outer = picture.cards.filter(({ within }) => within === undefined).length
    if (outer > 0 && picture.unplaced.length === outer) await layOut(false)
    await tick()
    fit(false)
  }

  $effect(() => {
    const input = { picture, view, tints, far, selected: selectedEntity?.id ?? selectedView?.id }
    void theme.dark
    void size
    if (!canvas) return
    const node = canvas
    const frame = requestAnimationFrame(() => drawFar(node, { ...input, colours: coloursOf(node) }))
    return () => cancelAnimationFrame(frame)
  })

  // What is selected elsewhere comes into view.
  $effect(() => {
    const id = selectedEntity?.id ?? selectedView?.id ?? selectedLink?.child
    untrack(() => {
      const card = picture.cards.find((c) => c.id === id)
      if (!card || !svg || !behavior || moved[card.id]) return
      const [x, y] = [card.x * view.k + view.x, card.y * view.k + view.y]
      const inView = x + card.width * view.k > 20 && y + 30 > 0 && x < size.width - 20 && y < size.height - 20
      if (!inView) select(svg).call(behavior.translateTo, card.x + card.width / 2, card.y + card.height / 2)
    })
  })

  function fit(all = true) {
    if (!svg || !behavior) return
    const { x, y, width, height } = around([
      picture.box,
      ...picture.areas.map((a) => ({ ...a.label, width: 10, height: 10 }))
    ])
    if (width === 0) return select(svg).call(behavior.transform, zoomIdentity)
    const rect = svg.getBoundingClientRect()
    const k = Math.min((rect.width - 60) / width, (rect.height - 60 - BELOW) / height, 1)
    // At first, a design too large to read as a whole is shown from the card nearest to its top left corner, readable.
    const scale = all ? k : Math.max(k, Math.min(1, 0.62))
    const fits = scale === k
    const corner = picture.cards.reduce<Place>((near, card) => (card.x + card.y < near.x + near.y ? card : near), {
      x: Infinity,
      y: Infinity
    })
    const at = fits
      ? zoomIdentity
          .translate(
            (rect.width - width * scale) / 2 - x * scale,
            (rect.height - BELOW - height * scale) / 2 - y * scale
          )
          .scale(scale)
      : zoomIdentity.translate(40 - corner.x * scale, 40 - corner.y * scale).scale(scale)
    select(svg).call(behavior.transform, at)
  }
  function zoomBy(factor: number) {
    if (svg && behavior) select(svg).call(behavior.scaleBy, factor)
  }

  async function layOut(asEdit = true) {
    working = true
    try {
      const links = drawnLinks(desk.design)
      const places = await coreWorker().layout(layoutRequest(picture, links, size.width / Math.max(1, size.height)))
      const edit = { kind: 'diagram.place', id: diagram.id, places } as const
      if (centre) aside = places
      else if (asEdit) desk.edit(edit)
      else desk.settle(edit)
      await tick()
      fit()
    } finally {
      working = false
    }
  }

  function place(places: Record<string, Place>) {
    if (centre) aside = { ...aside, ...places }
    else desk.edit({ kind: 'diagram.place', id: diagram.id, places })
  }

  // Around one thing, or back to all: it is laid out, and brought into view as a whole.
  let before: string | undefined
  $effect(() => {
    const id = centre?.id
    untrack(() => {
      if (id === before) return
      before = id
      aside = {}
      void tick().then(async () => {
        if (id === undefined) fit(false)
        else await layOut(false)
      })
    })
  })

  function drawnAs({ columns, notation }: Diagram): Partial<Diagram> {
    return { ...(columns ? { columns } : {}), ...(notation ? { notation } : {}) }
  }

  function notate(id: string) {
    const { notation: _before, ...rest } = whole
    const chosen = NOTATIONS.find((one) => one.id === id)?.id
    const object = chosen === undefined || chosen === 'crows foot' ? rest : { ...rest, notation: chosen }
    desk.edit({ kind: 'object.set', collection: 'diagrams', object })
  }

  /** About the middle of what is seen. */
  const middle = (): Place => ({
    x: Math.round((size.width / 2 - view.x) / view.k - 75),
    y: Math.round((size.height / 2 - view.y) / view.k - 30)
  })

  function addView() {
    desk.around = undefined
    const made = desk.addView(diagram.area === undefined ? {} : { area: diagram.area })
    desk.edit({ kind: 'diagram.place', id: diagram.id, places: { [made.id]: middle() } }, true)
  }

  function addEntity() {
    desk.around = undefined
    const entity = newEntity(
      freeName(
        'Entity',
        Object.values(desk.design.entities).map((e) => e.name)
      ),
      diagram.area === undefined ? {} : { area: diagram.area }
    )
    desk.edit({
      kind: 'all',
      edits: [
        { kind: 'object.set', collection: 'entities', object: entity },
        { kind: 'diagram.place', id: diagram.id, places: { [entity.id]: middle() } }
      ]
    })
    desk.select({ kind: 'entity', entity: entity.id })
  }

  function press(card: PlacedCard, target: EventTarget | null) {
    if (card.view) return desk.select({ kind: 'view', view: card.id })
    if (!linking) {
      const row = target instanceof Element ? target.closest('[data-row]')?.getAttribute('data-row') : undefined
      return desk.select(row ? { kind: 'row', entity: card.id, row } : { kind: 'entity', entity: card.id })
    }
    if (linkFrom === undefined) {
      linkFrom = card.id
      return
    }
    const [parent, child] = [desk.design.entities[linkFrom], desk.design.entities[card.id]]
    linking = false
    linkFrom = undefined
    if (!parent || !child) return
    const link = newLink(desk.design, parent, child)
    desk.edit({ kind: 'link.add', link })
    desk.select({ kind: 'link', link: link.id })
  }

  function draggable(node: SVGGElement, card: PlacedCard) {
    const moving = card.within === undefined ? card : (picture.cards.find(({ id }) => id === card.within) ?? card)
    let start: Place = moving
    let [dx, dy] = [0, 0]
    const behave = drag<SVGGElement, unknown>()
      .container(() => plane ?? node)
      .clickDistance(4)
      .filter((event: MouseEvent) => !linking && event.button === 0)
      .on('start', () => {
        start = { x: moving.x, y: moving.y }
        dx = dy = 0
      })
      .on('drag', (event: { dx: number; dy: number }) => {
        dx += event.dx
        dy += event.dy
        if (Math.hypot(dx, dy) > 2)
          moved = { [moving.id]: { x: Math.round(start.x + dx), y: Math.round(start.y + dy) } }
      })
      .on('end', () => {
        if (moved[moving.id]) place(moved)
        moved = {}
      })
    select(node).call(behave)
    return () => void select(node).on('.drag', null)
  }

  function onkeydown(event: KeyboardEvent) {
    const entity = selectedEntity ?? selectedView
    if (event.key === 'Escape') {
      if (!linking) desk.around = undefined
      linking = false
      linkFrom = undefined
    } else if (event.key === '+' || event.key === '=') zoomBy(1.25)
    else if (event.key === '-') zoomBy(0.8)
    else if (event.key === '0') fit()
    else if (entity && event.key.startsWith('Arrow')) {
      const card = picture.cards.find((c) => c.id === entity.id)
      const by = event.shiftKey ? 40 : 10
      const [x = 0, y = 0] = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, -by], ArrowDown: [0, by] }[
        event.key
      ] ?? [0, 0]
      if (card) place({ [card.id]: { x: card.x + x, y: card.y + y } })
    } else if (event.key === 'Delete' && desk.selection) {
      if (desk.selection.kind === 'link')
        desk.edit({ kind: 'object.remove', collection: 'links', id: desk.selection.link })
      else if (desk.selection.kind === 'entity')
        desk.edit({ kind: 'object.remove', collection: 'entities', id: desk.selection.entity })
      else if (desk.selection.kind === 'view')
        desk.edit({ kind: 'object.remove', collection: 'views', id: desk.selection.view })
    } else return
    event.preventDefault()
  }
  const button = 'flex shrink-0 items-center gap-1 whitespace-nowrap rounded px-1 py-1 text-[13px] hover:bg-base-300'
</script>

{#snippet cardAt(card: PlacedCard)}
  <g
    transform="translate({card.x} {card.y})"
    data-card={card.id}
    role="button"
    tabindex="0"
    aria-label="{card.view ? 'View' : 'Entity'} {card.title}"
    class="cursor-pointer outline-none"
    onclick={(event) => press(card, event.target)}
    onkeydown={(event) => {
      if (event.key !== 'Enter' && event.key !== ' ') return
      event.preventDefault()
      press(card, null)
    }}
    {@attach (node: SVGGElement) => draggable(node, card)}
  >
    <CardShape {card} tint={tints.get(card.area ?? '') ?? 1} selection={desk.selection} />
    {#if linkFrom === card.id}<rect
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
  </g>
{/snippet}

<div class="flex h-full flex-col">
  <div
    class="flex min-h-9 shrink-0 flex-wrap items-center gap-x-0.5 border-b border-line bg-base-200 px-2"
    role="toolbar"
    aria-label="Diagram"
  >
    {#if centre}
      <button
        class="max-w-56 truncate rounded-full bg-sea-tint px-2.5 py-0.5 text-[13px] font-semibold text-primary"
        title="Show the whole diagram again (Esc)"
        onclick={() => (desk.around = undefined)}>only around {centre.name} ×</button
      >
    {:else}
      <select
        class="max-w-28 rounded border border-line bg-base-100 px-1 py-0.5 text-[13px]"
        aria-label="Diagram"
        bind:value={diagramId}
        onchange={() => {
          desk.around = undefined
          void tick().then(settle)
        }}
      >
        {#each diagrams as item (item.id)}<option value={item.id}>{item.name}</option>{/each}
      </select>
      <button
        class="{button} {listing ? 'bg-sea-tint' : ''}"
        aria-label="Diagrams"
        aria-expanded={listing}
        title="New diagrams, and what stands on this one"
        onclick={() => (listing = !listing)}><Layers size={14} aria-hidden="true" /></button
      >
    {/if}
    <button class={button} onclick={addEntity}><Plus size={14} aria-hidden="true" />Entity</button>
    <button class={button} onclick={addView}><Plus size={14} aria-hidden="true" />View</button>
    <button
      class="{button} {linking ? 'bg-sea-tint' : ''}"
      aria-pressed={linking}
      onclick={() => {
        linking = !linking
        linkFrom = undefined
      }}><Link2 size={14} aria-hidden="true" />Link</button
    >
    <button class={button} disabled={working || picture.cards.length === 0} onclick={() => layOut()}
      ><Network size={14} aria-hidden="true" />{working ? 'Laying out …' : 'Lay out'}</button
    >
    <select
      class="rounded border border-line bg-base-100 px-1 py-0.5 text-[13px]"
      aria-label="Columns shown"
      title="Of each entity: all columns, only those in its keys and links, or its name alone"
      value={whole.columns ?? 'all'}
      onchange={(event) => {
        const { columns: _before, ...rest } = whole
        const chosen = event.currentTarget.value
        const columns = chosen === 'keys' || chosen === 'names' ? { columns: chosen as 'keys' | 'names' } : {}
        desk.edit({ kind: 'object.set', collection: 'diagrams', object: { ...rest, ...columns } })
      }}
    >
      <option value="all">All columns</option>
      <option value="keys">Keys only</option>
      <option value="names">Names only</option>
    </select>
    <button
      class="{button} {picturing ? 'bg-sea-tint' : ''}"
      aria-expanded={picturing}
      title="Save this diagram as SVG, PNG or PDF"
      onclick={() => (picturing = !picturing)}><Image size={14} aria-hidden="true" />Picture</button
    >
    <select
      class="ml-auto max-w-28 rounded border border-line bg-base-100 px-1 py-0.5 text-[13px]"
      aria-label="Notation"
      title={picture.notation.source}
      value={picture.notation.id}
      onchange={(event) => notate(event.currentTarget.value)}
    >
      {#each NOTATIONS as { id, label } (id)}<option value={id}>{label}</option>{/each}
    </select>
    {#if linking}
      <span class="text-[13px] text-secondary" role="status">
        {linkFrom === undefined
          ? 'Click the entity that is referred to'
          : `Now the one that refers to ${desk.design.entities[linkFrom]?.name ?? ''}`}
      </span>
    {/if}
  </div>
  {#if listing && !centre}
    <DiagramBar
      diagram={whole}
      standing={picture.cards.map(({ id }) => id)}
      onchoose={(id) => {
        diagramId = id
        void tick().then(settle)
      }}
      onclose={() => (listing = false)}
    />
  {/if}
  {#if picturing}
    <PictureBar design={desk.design} {diagram} {picture} onclose={() => (picturing = false)} />
  {/if}
  <div class="relative min-h-0 flex-1 overflow-hidden bg-base-200">
    <canvas bind:this={canvas} class="pointer-events-none absolute inset-0 size-full" aria-hidden="true"></canvas>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
    <svg
      bind:this={svg}
      class="absolute inset-0 size-full touch-none {linking ? 'cursor-crosshair' : 'cursor-grab'}"
      role="application"
      aria-label="Diagram {diagram.name}"
      tabindex="0"
      {onkeydown}
      onclick={(event) => event.target === svg && desk.select(undefined)}
    >
      <g bind:this={plane} transform="translate({view.x} {view.y}) scale({view.k})">
        {#each near.cards as card (card.id)}{#if holders.has(card.id)}{@render cardAt(card)}{/if}{/each}
        {#if !far}
          {#each picture.areas as area (area.id)}
            <text x={area.label.x} y={area.label.y} class="fill-soft text-[12px] tracking-[0.2em] uppercase"
              >{area.name}</text
            >
          {/each}
          {#each near.routes as route (route.id)}
            {@const chosen = selectedLink?.id === route.id}
            <g
              role="button"
              tabindex="-1"
              aria-label="Link"
              class="cursor-pointer outline-none"
              data-link={route.id}
              onclick={() => desk.design.links[route.id] && desk.select({ kind: 'link', link: route.id })}
              onkeydown={undefined}
            >
              {#each route.lines as { path, dash, double }, i (i)}
                <path d={path} fill="none" stroke="transparent" stroke-width="12" />
                <path
                  d={path}
                  fill="none"
                  stroke={chosen ? 'var(--color-primary)' : route.passing ? 'var(--line)' : 'var(--soft)'}
                  stroke-width={(chosen ? 2.4 : route.passing ? 1 : 1.4) + (double ? 2.8 : 0)}
                  stroke-dasharray={route.read ? '1.5 4' : route.passing ? undefined : dash}
                />
                {#if double}<path d={path} fill="none" stroke="var(--color-base-200)" stroke-width="1.6" />{/if}
              {/each}
              <Shapes shapes={route.marks} {...chosen ? { stroke: 'var(--color-primary)' } : {}} />
            </g>
          {/each}
          {#each picture.groups as group (group.id)}<Shapes shapes={group.shapes} />{/each}
        {/if}
        {#each near.cards as card (card.id)}{#if !holders.has(card.id)}{@render cardAt(card)}{/if}{/each}
      </g>
    </svg>
    {#if picture.cards.length === 0}
      <div class="pointer-events-none absolute inset-0 grid place-content-center gap-1 text-center text-soft">
        <p class="text-base font-semibold text-base-content">An empty chart</p>
        <p>Add an entity here or in the sheet.</p>
      </div>
    {/if}
    <Legend notation={picture.notation} views={picture.cards.some((card) => card.view)} />
    <div
      class="absolute right-3 bottom-3 flex items-center gap-1 rounded-md border border-line bg-base-100 px-1.5 py-0.5 text-[13px]"
    >
      <button class="px-1.5" aria-label="Zoom out" onclick={() => zoomBy(0.8)}>−</button>
      <span class="w-12 text-center whitespace-nowrap tabular-nums">{Math.round(view.k * 100)} %</span>
      <button class="px-1.5" aria-label="Zoom in" onclick={() => zoomBy(1.25)}>+</button>
      <button class="px-1.5" onclick={() => fit()}>Fit</button>
    </div>
  </div>
  {#if selectedLink}
    <LinkBar link={selectedLink} />
  {:else if selectedEntity}
    <EntityBar entity={selectedEntity} />
  {:else if selectedView}
    <ViewBar view={selectedView} />
  {/if}
</div>
