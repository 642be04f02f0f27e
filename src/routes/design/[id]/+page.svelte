<script lang="ts">
  import Draft from '$lib/ui/desk/Draft.svelte'
</script>

<Draft />
