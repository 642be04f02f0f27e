<script lang="ts">
  import { page } from '$app/state'
  import Queries from '$lib/ui/queries/Queries.svelte'
</script>

{#key page.params.target}
  <Queries targetId={page.params.target ?? ''} />
{/key}
