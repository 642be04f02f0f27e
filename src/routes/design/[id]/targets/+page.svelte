<script lang="ts">
  import Targets from '$lib/ui/targets/Targets.svelte'
</script>

<Targets />
