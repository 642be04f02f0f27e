<!-- What there is to say when a design is not kept as usual, and what can be done. -->
<script lang="ts">
  import { printDesign, type Design } from '../../core/design'
  import { saveFile } from '../../storage'
  import type { Desk } from './desk.svelte'
  import type { Keeping } from './keeper.svelte'

  const { desk }: { desk: Desk } = $props()
  const toFile = (design: Design) => saveFile(`${design.name}.ramblet`, printDesign(design))
  const said: Partial<Record<Keeping, string>> = {
    elsewhere:
      'This design was changed in another tab. What you change here is not kept: save it to a file, or load what the other tab has.',
    removed:
      'This design was taken off the shelf in another tab. What you see is all that is left of it: save it to a file, or put it back.'
  }
</script>

{#snippet action(label: string, run: () => void)}
  <button class="font-semibold underline" onclick={run}>{label}</button>
{/snippet}

{#if desk.keeper.state === 'failed' || said[desk.keeper.state] !== undefined}
  <p role="alert" class="flex flex-wrap items-center gap-3 bg-brick-tint px-4 py-1.5 text-[13px] text-error">
    {said[desk.keeper.state] ?? `Not kept. ${desk.keeper.trouble} Until then, save the design to a file.`}
    {@render action('Save to a file', () => toFile(desk.design))}
    {#if desk.keeper.state === 'removed'}{@render action('Put it back', () => void desk.keeper.putBack())}{/if}
    {#if desk.keeper.state === 'failed'}{@render action('Try again', () => void desk.keeper.now())}{/if}
    {#if desk.keeper.state === 'elsewhere'}{@render action('Load again', () => location.reload())}{/if}
  </p>
{/if}
{#if desk.keeper.overtaken}
  {@const design = desk.keeper.overtaken}
  <p role="alert" class="flex flex-wrap items-center gap-3 bg-ochre-tint px-4 py-1.5 text-[13px]">
    What was typed here last was not kept in time, and another tab has saved since.
    {@render action('Save it to a file', () => toFile(design))}
    {@render action('Have it instead', () => desk.replace(design))}
    {@render action('Let it go', () => desk.keeper.letGo())}
  </p>
{/if}
{#if !desk.pen.here}
  <p role="status" class="flex flex-wrap items-center gap-3 bg-sea-tint px-4 py-1.5 text-[13px]">
    Another tab writes this design; this one follows what it saves, and changes nothing.
    {@render action('Write here instead', () => desk.pen.take())}
  </p>
{/if}
