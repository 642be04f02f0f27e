<script lang="ts">
  import Checkpoints from '$lib/ui/checkpoints/Checkpoints.svelte'
</script>

<Checkpoints />
