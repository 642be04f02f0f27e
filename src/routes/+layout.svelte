<script lang="ts">
  import '../app.css'
  import type { Snippet } from 'svelte'
  import { theme } from '$lib/ui/desk/theme.svelte'

  const { children }: { children: Snippet } = $props()
  theme.start()
</script>

{@render children()}
