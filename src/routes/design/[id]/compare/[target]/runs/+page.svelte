<script lang="ts">
  import { page } from '$app/state'
  import Runs from '$lib/ui/runs/Runs.svelte'
</script>

{#key page.params.target}
  <Runs targetId={page.params.target ?? ''} />
{/key}
