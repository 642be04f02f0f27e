<!-- A view as a line of the sheet: its two names and what it means. -->
<script lang="ts">
  import { plainTable } from '../../core/derive'
  import type { View } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'

  const { view }: { view: View } = $props()
  const desk = useDesk()
  const chosen = $derived(desk.selection?.kind === 'view' && desk.selection.view === view.id)
</script>

<div
  role="row"
  class="flex h-full items-end border-b border-line px-3 pb-1 {chosen ? 'bg-sea-tint' : ''}"
  aria-selected={chosen}
>
  <span role="gridcell" class="flex min-w-0 flex-1">
    <button
      class="flex min-w-0 flex-1 items-baseline gap-2 rounded px-1 text-left hover:bg-base-300"
      aria-label="View {view.name}"
      onclick={() => desk.select({ kind: 'view', view: view.id })}
      ><span class="text-[15px] font-semibold">{view.name}</span>
      <span class="font-mono text-xs text-soft">{plainTable(view, desk.design.settings)}</span>
      <span class="truncate text-[13px] text-soft">{view.means ?? ''}</span>
      <span class="ml-auto text-xs text-soft">view</span></button
    >
  </span>
</div>
