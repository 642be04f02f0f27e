<!-- One part of what there is about an entity: its title, and what stands under it. -->
<script lang="ts">
  import type { Snippet } from 'svelte'
  const { title, hint = '', children }: { title: string; hint?: string; children: Snippet } = $props()
</script>

<div role="group" aria-label={title} class="grid content-start gap-1">
  <h3 class="font-semibold">
    {title}{#if hint}<span class="ml-2 text-xs font-normal text-soft">{hint}</span>{/if}
  </h3>
  {@render children()}
</div>
