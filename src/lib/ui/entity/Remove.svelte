<!-- Takes one thing out. -->
<script lang="ts">
  import X from '@lucide/svelte/icons/x'
  const { what, onremove }: { what: string; onremove: () => void } = $props()
</script>

<button
  class="self-start rounded p-1 text-soft hover:bg-base-300 hover:text-error"
  aria-label="Remove {what}"
  onclick={onremove}><X size={13} aria-hidden="true" /></button
>
