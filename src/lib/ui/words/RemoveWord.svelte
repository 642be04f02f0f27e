<!-- Takes a line of a list out. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  const { what, onremove }: { what: string; onremove: () => unknown } = $props()
</script>

<button type="button" class="rounded p-1 text-soft hover:text-error" aria-label="Remove {what}" onclick={onremove}
  ><Trash size={15} aria-hidden="true" /></button
>
