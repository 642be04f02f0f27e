<script lang="ts">
  import type { Snippet } from 'svelte'
  import { page } from '$app/state'
  import DeskFrame from '$lib/ui/desk/DeskFrame.svelte'

  const { children }: { children: Snippet } = $props()
</script>

{#key page.params.id}
  <DeskFrame id={page.params.id ?? ''} {children} />
{/key}
