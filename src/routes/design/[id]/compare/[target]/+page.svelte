<script lang="ts">
  import { page } from '$app/state'
  import Compare from '$lib/ui/compare/Compare.svelte'
</script>

{#key page.params.target}
  <Compare targetId={page.params.target ?? ''} />
{/key}
