<!-- All of an entity that is no column, in place: names, key, what is unique, indexes, rules, links, kinds. -->
<script lang="ts">
  import type { Entity } from '../../core/design'
  import Commons from './Commons.svelte'
  import Guessed from './Guessed.svelte'
  import Keys from './Keys.svelte'
  import Links from './Links.svelte'
  import Names from './Names.svelte'
  import Options from './Options.svelte'
  import Rules from './Rules.svelte'
  import Kinds from './Kinds.svelte'

  const { entity, onclose }: { entity: Entity; onclose: () => void } = $props()
</script>

<section
  aria-label="About {entity.name}"
  class="@container max-h-[55%] shrink-0 overflow-y-auto border-t-2 border-primary bg-base-200 px-3 py-2 text-[13px]"
>
  <div class="mb-1 flex items-baseline gap-2">
    <h2 class="text-[15px] font-semibold">{entity.name}</h2>
    <span class="text-xs text-soft">all but its columns</span>
    <button class="ml-auto rounded px-2 py-0.5 text-xs text-soft hover:bg-base-300" onclick={onclose}>Close</button>
  </div>
  <div class="grid gap-x-6 gap-y-3 @3xl:grid-cols-2">
    <Guessed {entity} />
    <Names {entity} />
    <Keys {entity} />
    <Rules {entity} />
    <Links {entity} />
    <Kinds {entity} />
    <Commons {entity} />
    <Options {entity} />
  </div>
</section>
