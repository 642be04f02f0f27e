<!-- One value of a document by its name, and what is in it, which opens and closes. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import Branch from './Branch.svelte'
  import { entriesOf, saidOf } from './values'

  interface Props {
    readonly name: string
    readonly value: unknown
    /** It stands open at first. */
    readonly open?: boolean
  }
  const { name, value, open = false }: Props = $props()
  let isOpen = $state(untrack(() => open))
  const entries = $derived(entriesOf(value))
  /** Most lists are short; of a long one, so many are shown until more are asked for. */
  const PAGE = 50
  let shown = $state(PAGE)
</script>

{#if entries}
  <details bind:open={isOpen}>
    <summary class="cursor-pointer list-none rounded px-1 py-px hover:bg-base-200"
      ><span class="inline-block w-3 text-soft {isOpen ? 'rotate-90' : ''}" aria-hidden="true">▸</span><span
        class="font-medium">{name}</span
      >
      <span class="text-soft">{saidOf(value)}</span></summary
    >
    <div class="ml-2.5 border-l border-line pl-2.5">
      {#each entries.slice(0, shown) as [inner, one] (inner)}<Branch name={inner} value={one} />{/each}
      {#if shown < entries.length}
        <button class="px-1 underline" onclick={() => (shown += PAGE)}
          >{Math.min(PAGE, entries.length - shown)} more of {entries.length}</button
        >
      {/if}
    </div>
  </details>
{:else}
  <div class="flex gap-2 px-1 py-px pl-4">
    <span class="font-medium">{name}</span>
    <span class={value === null ? 'text-soft italic' : 'break-all'}>{saidOf(value)}</span>
  </div>
{/if}
