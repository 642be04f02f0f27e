<!-- Which of the columns that every entity has this one has, too. -->
<script lang="ts">
  import { withCommon } from '../../core/cells'
  import type { Entity } from '../../core/design'
  import { printType } from '../../core/types'
  import { useDesk } from '../desk/desk.svelte'
  import Part from './Part.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const commons = $derived(Object.values(desk.design.commons).sort((a, b) => a.rank - b.rank))
  const subtype = $derived(Object.values(desk.design.subtypes).some(({ subtypes }) => subtypes.includes(entity.id)))
</script>

{#if commons.length > 0}
  <Part
    title="Columns of every entity"
    hint={subtype ? 'what it is a kind of has them for it' : 'without a mark, it does without'}
  >
    <div class="flex flex-wrap gap-x-4 gap-y-1">
      {#each commons as common (common.id)}
        <label class="flex items-center gap-1.5"
          ><input
            type="checkbox"
            class="size-4 accent-primary"
            disabled={subtype}
            checked={!subtype && !entity.without?.includes(common.id)}
            onchange={(event) =>
              desk.edit(withCommon(desk.design, common.id, [entity.id], event.currentTarget.checked))}
          />{common.name} <span class="font-mono text-soft">{printType(common.type)}</span></label
        >
      {/each}
    </div>
  </Part>
{/if}
