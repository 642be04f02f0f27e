<script lang="ts">
  import Bring from '$lib/ui/bring/Bring.svelte'
</script>

<svelte:head><title>Start from what exists · Ramblet</title></svelte:head>
<Bring />
