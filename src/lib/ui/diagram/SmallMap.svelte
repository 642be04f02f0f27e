<!-- The whole diagram, small, and what of it is seen. -->
<script lang="ts">
  import { around } from '../../core/picture'
  import type { Board } from './board.svelte'

  const { board }: { board: Board } = $props()
  const [WIDTH, HEIGHT] = [168, 104]
  const box = $derived(around([board.picture.box, ...board.picture.areas.map((area) => area.box)]))
  const k = $derived(Math.min(WIDTH / Math.max(1, box.width), HEIGHT / Math.max(1, box.height)))
  const cards = $derived(
    board.picture.cards.map(({ x, y, width, height }) => `M${x} ${y}h${width}v${height}h${-width}z`).join('')
  )
  const seen = $derived.by(() => {
    const { view, size } = board.plane
    return { x: -view.x / view.k, y: -view.y / view.k, width: size.width / view.k, height: size.height / view.k }
  })
  function go(event: PointerEvent & { currentTarget: SVGSVGElement }) {
    if (event.type === 'pointerdown') event.currentTarget.setPointerCapture(event.pointerId)
    else if (event.buttons !== 1) return
    const { left, top } = event.currentTarget.getBoundingClientRect()
    board.plane.moveTo({ x: box.x + (event.clientX - left) / k, y: box.y + (event.clientY - top) / k })
  }
</script>

<div class="absolute right-3 bottom-12 overflow-hidden rounded-md border border-line bg-base-100">
  <svg
    class="block cursor-crosshair"
    width={box.width * k}
    height={box.height * k}
    viewBox="{box.x} {box.y} {box.width} {box.height}"
    role="img"
    aria-label="The whole diagram, small"
    onpointerdown={go}
    onpointermove={go}
  >
    <path d={cards} fill="var(--soft)" opacity="0.6" />
  </svg>
  <!-- Moved alone: the cards are not painted anew for it. -->
  <div
    class="pointer-events-none absolute top-0 left-0 border border-primary bg-sea-tint opacity-50 will-change-transform"
    style="width: {seen.width * k}px; height: {seen.height * k}px; transform: translate({(seen.x - box.x) *
      k}px, {(seen.y - box.y) * k}px)"
  ></div>
</div>
