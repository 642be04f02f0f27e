<script lang="ts">
  import Shelf from '$lib/ui/shelf/Shelf.svelte'
</script>

<svelte:head><title>Ramblet</title></svelte:head>
<Shelf />
