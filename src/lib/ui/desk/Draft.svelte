<!-- Two panes, any lens in each; the divider moves. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import Diagram from '../diagram/Diagram.svelte'
  import ScriptPane from '../script/Script.svelte'
  import Sheet from '../sheet/Sheet.svelte'
  import Text from '../text/Text.svelte'
  import Words from '../words/Words.svelte'
  import { useDesk } from './desk.svelte'
  import { entityCount } from './words'

  const LENSES = ['Text', 'Diagram', 'Sheet', 'Script', 'Words'] as const
  type Lens = (typeof LENSES)[number]
  const KEY = 'ramblet.panes'

  const desk = useDesk()
  const kept = JSON.parse(localStorage.getItem(KEY) ?? '{}') as { left?: Lens; right?: Lens; share?: number }
  let left = $state<Lens>(kept.left ?? 'Diagram')
  let right = $state<Lens>(kept.right ?? 'Sheet')
  /** Share of the width that the left pane has, in percent; 0 and 100 give one pane all the room. */
  let share = $state(kept.share ?? 50)
  let room = $state<HTMLDivElement>()

  // Only a script shows what a target holds beside the design, and only the words what is said for all entities.
  $effect(() => {
    const lens = { held: 'Script', word: 'Words' }[desk.selection?.kind as string] as Lens | undefined
    if (lens) untrack(() => bring(lens))
  })
  function bring(lens: Lens) {
    if (left !== lens && right !== lens) right = lens
    if (right === lens ? share === 100 : share === 0) share = 50
  }

  $effect(() => localStorage.setItem(KEY, JSON.stringify({ left, right, share })))

  function follow(event: PointerEvent) {
    const handle = event.currentTarget as HTMLElement
    handle.setPointerCapture(event.pointerId)
    const move = (e: PointerEvent) => {
      const rect = room?.getBoundingClientRect()
      if (!rect) return
      const wanted = ((e.clientX - rect.left) / rect.width) * 100
      share = wanted < 12 ? 0 : wanted > 88 ? 100 : wanted
    }
    handle.addEventListener('pointermove', move)
    handle.addEventListener('pointerup', () => handle.removeEventListener('pointermove', move), { once: true })
  }
  function nudge(event: KeyboardEvent) {
    const by = { ArrowLeft: -5, ArrowRight: 5, Home: -100, End: 100 }[event.key]
    if (by === undefined) return
    event.preventDefault()
    share = Math.max(0, Math.min(100, share + by))
  }
  const said = {
    saved: 'saved',
    saving: 'saving …',
    elsewhere: 'changed in another tab',
    removed: 'removed in another tab',
    failed: 'not saved'
  } as const
</script>

{#snippet lenses(side: 'left' | 'right', chosen: Lens)}
  <div class="flex h-9 shrink-0 items-center gap-1 border-b border-line bg-base-200 px-3">
    <div class="flex gap-1" role="tablist" aria-label="{side} pane">
      {#each LENSES as lens (lens)}
        <button
          role="tab"
          aria-selected={lens === chosen}
          class="rounded-full px-3 py-0.5 font-medium {lens === chosen
            ? 'bg-sea-tint font-semibold text-primary'
            : 'text-soft hover:bg-base-300'}"
          onclick={() => (side === 'left' ? (left = lens) : (right = lens))}>{lens}</button
        >
      {/each}
    </div>
    {#if side === 'right' || share === 100}
      <span class="ml-auto truncate text-xs text-soft" aria-live="polite"
        >{entityCount(desk.design)} · {said[desk.keeper.state]}</span
      >
    {/if}
    {#if share === 0 || share === 100}
      <button class="ml-2 rounded px-2 text-xs text-soft hover:bg-base-300" onclick={() => (share = 50)}
        >Two panes</button
      >
    {/if}
  </div>
{/snippet}
{#snippet lens(chosen: Lens)}
  <div class="min-h-0 flex-1">
    {#if chosen === 'Text'}<Text />{:else if chosen === 'Diagram'}<Diagram />{:else if chosen === 'Sheet'}<Sheet
      />{:else if chosen === 'Words'}<Words />{:else}<ScriptPane />{/if}
  </div>
{/snippet}

<div bind:this={room} class="flex min-h-0 flex-1">
  {#if share > 0}
    <section
      class="flex min-w-0 flex-col"
      style:width={share === 100 ? '100%' : `calc(${share}% - 3px)`}
      aria-label="Left pane"
    >
      {@render lenses('left', left)}
      {@render lens(left)}
    </section>
  {/if}
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    role="separator"
    aria-orientation="vertical"
    aria-label="Divider between the panes"
    aria-valuenow={Math.round(share)}
    tabindex="0"
    class="w-1.5 shrink-0 cursor-col-resize border-x border-line bg-base-300 hover:bg-sea-tint"
    onpointerdown={follow}
    onkeydown={nudge}
    ondblclick={() => (share = 50)}
  ></div>
  {#if share < 100}
    <section class="flex min-w-0 flex-1 flex-col" aria-label="Right pane">
      {@render lenses('right', right)}
      {@render lens(right)}
    </section>
  {/if}
</div>
