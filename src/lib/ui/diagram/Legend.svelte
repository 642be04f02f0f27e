<!-- What the marks mean. -->
<script lang="ts">
  import Mark from '../desk/Mark.svelte'
  const { views }: { views: boolean } = $props()
  let open = $state(true)
</script>

<div
  class="absolute bottom-3 left-3 flex max-w-[calc(100%-176px)] flex-wrap items-center gap-x-3 gap-y-0.5 rounded-md border border-line bg-base-100 px-2.5 py-1 text-[12px]"
>
  {#if open}
    <span class="flex items-center gap-1"><Mark key={true} link={false} />key</span>
    <span class="flex items-center gap-1"><Mark key={false} link={true} />link</span>
    <span><b>name?</b> may be empty</span>
    <span class="flex items-center gap-1"
      ><svg viewBox="0 0 24 8" width="24" height="8" aria-hidden="true"
        ><path d="M0 4h24" stroke="currentColor" stroke-width="1.6" /></svg
      >identifying</span
    >
    <span class="flex items-center gap-1"
      ><svg viewBox="0 0 24 8" width="24" height="8" aria-hidden="true"
        ><path d="M0 4h24" stroke="currentColor" stroke-width="1.6" stroke-dasharray="5 3" /></svg
      >not</span
    >
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
