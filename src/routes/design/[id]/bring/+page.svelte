<script lang="ts">
  import Bring from '$lib/ui/bring/Bring.svelte'
  import { useDesk } from '$lib/ui/desk/desk.svelte'

  const desk = useDesk()
</script>

<Bring into={desk} />
