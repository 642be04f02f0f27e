<!-- What can be done to cards that are chosen together. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import { ALIGNMENTS, type Alignment } from '../../core/picture'
  import { count } from '../desk/words'
  import type { Board } from './board.svelte'

  const { board, oncopy }: { board: Board; oncopy: () => void } = $props()
  const words: Readonly<Record<Alignment, string>> = {
    left: 'left edges',
    centre: 'middles, one below the other',
    right: 'right edges',
    top: 'top edges',
    middle: 'middles, side by side',
    bottom: 'bottom edges'
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const button = 'rounded border border-line px-2 py-0.5 hover:bg-base-300 disabled:opacity-50'
</script>

<div
  class="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-t border-line bg-base-100 px-3 py-2 text-[13px]"
  role="group"
  aria-label="Cards that are chosen"
>
  <b>{count(board.chosen.length, 'card', 'cards')}</b>
  <select
    class={field}
    aria-label="Set in line"
    value=""
    onchange={(event) => {
      board.align(event.currentTarget.value as Alignment)
      event.currentTarget.value = ''
    }}
  >
    <option value="" disabled>Set in line …</option>
    {#each ALIGNMENTS as how (how)}<option value={how}>{words[how]}</option>{/each}
  </select>
  <button class={button} disabled={board.chosen.length < 3} onclick={() => board.space('across')}
    >Even gaps across</button
  >
  <button class={button} disabled={board.chosen.length < 3} onclick={() => board.space('down')}>down</button>
  <button class={button} disabled={board.working} onclick={() => board.layOut()}>Lay out these</button>
  <button class={button} title="Ctrl C; Ctrl V puts it on a diagram of this or another design" onclick={oncopy}
    >Copy</button
  >
  <button class={button} onclick={() => board.dim('grey', [...board.picked])}>Grey</button>
  <button class={button} onclick={() => board.dim('plain', [...board.picked])}>Not grey</button>
  <button class={button} onclick={() => board.dim('hidden', [...board.picked])}>Hide here</button>
  <button
    class="ml-auto flex items-center gap-1 rounded px-2 py-0.5 text-error hover:bg-brick-tint"
    onclick={() => board.remove()}><Trash size={13} aria-hidden="true" />Remove them</button
  >
</div>
