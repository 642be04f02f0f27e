<script lang="ts">
  import Language from '$lib/ui/help/Language.svelte'
</script>

<Language />
