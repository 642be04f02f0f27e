// Lines of one height in a pane that scrolls: only those in sight are drawn.
import { createVirtualizer } from '@tanstack/svelte-virtual'
import { untrack } from 'svelte'
import { get } from 'svelte/store'

/** `height` is in pixels; `count` and `pane` are asked whenever what they stand for changes. To be called while a component is made. */
export function linesInSight(height: number, count: () => number, pane: () => HTMLElement | undefined) {
  const lines = createVirtualizer<HTMLElement, HTMLElement>({
    count: 0,
    getScrollElement: () => pane() ?? null,
    estimateSize: () => height,
    overscan: 12
  })
  $effect(() => {
    const [many, scroller] = [count(), pane()]
    untrack(() => get(lines).setOptions({ count: many, getScrollElement: () => scroller ?? null }))
    get(lines).measure()
  })
  return lines
}
