<!-- What the marks of the notation mean. -->
<script lang="ts">
  import type { Notation } from '../../core/picture'
  import Shapes from './Shapes.svelte'

  const { notation, views }: { notation: Notation; views: boolean } = $props()
  let open = $state(true)
</script>

<div
  class="absolute bottom-3 left-3 flex max-w-[calc(100%-176px)] flex-wrap items-center gap-x-3 gap-y-0.5 rounded-md border border-line bg-base-100 px-2.5 py-1 text-[12px]"
  role="group"
  aria-label="Legend"
>
  {#if open}
    {#each notation.legend as { shapes, text } (text)}
      <span class="flex items-center gap-1">
        {#if shapes.length > 0}<svg viewBox="0 0 30 14" width="30" height="14" aria-hidden="true"
            ><Shapes {shapes} /></svg
          >{/if}{text}
      </span>
    {/each}
    {#if views}
      <span class="flex items-center gap-1"
        ><svg viewBox="0 0 24 8" width="24" height="8" aria-hidden="true"
          ><path d="M0 4h24" stroke="currentColor" stroke-width="1.6" stroke-dasharray="1.5 4" /></svg
        >read by a view</span
      >
    {/if}
  {/if}
  <button class="text-soft" aria-expanded={open} onclick={() => (open = !open)}>{open ? 'Hide' : 'Legend'}</button>
</div>
