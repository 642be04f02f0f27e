<script lang="ts">
  import Help from '$lib/ui/help/Help.svelte'
</script>

<Help />
