// The plane that is panned and zoomed: how far it is moved, what of it is seen, and ways to go somewhere on it.
import { select } from 'd3-selection'
import { zoom, zoomIdentity, type ZoomBehavior, type ZoomTransform } from 'd3-zoom'
import type { Place } from '../../core/design'
import type { Box } from '../../core/picture'
import type { View } from './far'

/** Pixels that the legend takes at the bottom. */
const BELOW = 56
const [LEAST, MOST] = [0.04, 2.5]
/** At first, a design too large to be read as a whole is shown so. */
const READABLE = 0.62

export class Plane {
  view = $state.raw<View>({ k: 1, x: 0, y: 0 })
  size = $state.raw({ width: 800, height: 600 })
  /** What is seen, in steps of a quarter of a screen, so that panning does not count cards at every frame. */
  readonly seen = $derived.by(() => {
    const [w, h] = [this.size.width / this.view.k, this.size.height / this.view.k]
    const [stepX, stepY] = [w / 4, h / 4]
    const left = Math.floor(-this.view.x / this.view.k / stepX) * stepX
    const top = Math.floor(-this.view.y / this.view.k / stepY) * stepY
    return `${left} ${top} ${w + stepX} ${h + stepY}`
  })
  private svg: SVGSVGElement | undefined
  private behavior: ZoomBehavior<SVGSVGElement, unknown> | undefined

  /** `pans`: whether a press there moves the plane. */
  constructor(private readonly pans: (event: MouseEvent) => boolean) {}

  readonly attach = (svg: SVGSVGElement) => {
    this.svg = svg
    this.behavior = zoom<SVGSVGElement, unknown>()
      .scaleExtent([LEAST, MOST])
      .filter((event: MouseEvent) => event.type === 'wheel' || (event.button === 0 && this.pans(event)))
      .on('zoom', (event: { transform: ZoomTransform }) => {
        const { k, x, y } = event.transform
        this.view = { k, x, y }
      })
    select(svg).call(this.behavior).on('dblclick.zoom', null)
    const watch = new ResizeObserver(([entry]) => {
      if (entry) this.size = { width: entry.contentRect.width, height: entry.contentRect.height }
    })
    watch.observe(svg)
    return () => watch.disconnect()
  }

  /** The place under a point of the window. */
  at(event: { readonly clientX: number; readonly clientY: number }): Place {
    const { left = 0, top = 0 } = this.svg?.getBoundingClientRect() ?? {}
    const { k, x, y } = this.view
    return { x: (event.clientX - left - x) / k, y: (event.clientY - top - y) / k }
  }

  /** About the middle of what is seen, for a thing of a usual size. */
  middle(): Place {
    const { k, x, y } = this.view
    return { x: Math.round((this.size.width / 2 - x) / k - 75), y: Math.round((this.size.height / 2 - y) / k - 30) }
  }

  zoomBy(factor: number) {
    if (this.svg && this.behavior) select(this.svg).call(this.behavior.scaleBy, factor)
  }

  moveTo(place: Place) {
    if (this.svg && this.behavior) select(this.svg).call(this.behavior.translateTo, place.x, place.y)
  }

  /** Brings a box into view where it is not, and near enough to be read where that is wanted. */
  show(box: Box, near: boolean) {
    if (!this.svg || !this.behavior) return
    const { k } = this.view
    const [x, y] = [box.x * k + this.view.x, box.y * k + this.view.y]
    const isSeen = x + box.width * k > 20 && y + 30 > 0 && x < this.size.width - 20 && y < this.size.height - 20
    if (near && k < READABLE) {
      const [scale, middle] = [0.9, { x: box.x + box.width / 2, y: box.y + box.height / 2 }]
      const to = zoomIdentity
        .translate(this.size.width / 2 - middle.x * scale, this.size.height / 2 - middle.y * scale)
        .scale(scale)
      select(this.svg).call(this.behavior.transform, to)
    } else if (!isSeen) this.moveTo({ x: box.x + box.width / 2, y: box.y + box.height / 2 })
  }

  /** All of a box; or, where that is too far away to be read and `corner` is given, from there on. */
  fit({ x, y, width, height }: Box, corner?: Place) {
    if (!this.svg || !this.behavior) return
    if (width === 0) return select(this.svg).call(this.behavior.transform, zoomIdentity)
    const rect = this.svg.getBoundingClientRect()
    const k = Math.min((rect.width - 60) / width, (rect.height - 60 - BELOW) / height, 1)
    const scale = corner ? Math.max(k, READABLE) : k
    const to =
      corner && scale !== k
        ? zoomIdentity.translate(40 - corner.x * scale, 40 - corner.y * scale)
        : zoomIdentity.translate(
            (rect.width - width * scale) / 2 - x * scale,
            (rect.height - BELOW - height * scale) / 2 - y * scale
          )
    select(this.svg).call(this.behavior.transform, to.scale(scale))
  }
}
