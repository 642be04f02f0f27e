<!-- What can be said of a view from the diagram: its name, its area, and that it goes. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import type { Edit, View } from '../../core/design'
  import NameField from '../desk/NameField.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import AreaField from '../diagram/AreaField.svelte'

  const { view }: { view: View } = $props()
  const desk = useDesk()
  function into(area: string | undefined): Edit {
    const { area: _area, ...rest } = view
    return { kind: 'object.set', collection: 'views', object: area === undefined ? rest : { ...rest, area } }
  }
</script>

<div
  class="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-t border-line bg-base-100 px-3 py-2 text-[13px]"
  role="group"
  aria-label="The view {view.name} in the diagram"
>
  <NameField label="View" name={view.name} rename={(name) => desk.renameView(view, name)} />
  <AreaField area={view.area} put={into} />
  <span class="text-soft">Its query stands in the sheet.</span>
  <button
    class="ml-auto flex items-center gap-1 rounded px-2 py-0.5 text-error hover:bg-base-300"
    onclick={() => desk.edit({ kind: 'object.remove', collection: 'views', id: view.id })}
    ><Trash size={14} aria-hidden="true" />Remove</button
  >
</div>
