<!-- How a target keeps the columns that hold others: as a document, as a list of the engine, or in tables of their own. -->
<script lang="ts">
  import { nestedIn } from '../../core/derive'
  import { NESTED, typeWords, type Attribute, type Target } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'

  interface Props {
    readonly target: Target
    readonly set: (target: Target, values: Partial<Target>) => void
  }
  const { target, set }: Props = $props()
  const desk = useDesk()
  const nested = $derived(nestedIn(desk.design))
  const types = $derived(dialect(target.engine, target.version)?.types)
  const isList = ({ type }: Attribute) => types?.fromNeutral(type).type.of !== undefined

  function keep(id: string, way: string) {
    const { [id]: _, ...others } = target.nested ?? {}
    const chosen = NESTED.find((one) => one === way)
    set(target, { nested: chosen ? { ...others, [id]: chosen } : others })
  }
</script>

{#if nested.length > 0}
  <details class="mt-2 text-[13px]">
    <summary class="cursor-pointer">
      {count(nested.length, 'column holds', 'columns hold')} others: how they are kept here
    </summary>
    <ul class="mt-1 grid max-h-72 gap-1 overflow-y-auto">
      {#each nested as { entity, attribute } (attribute.id)}
        {@const list = isList(attribute)}
        <li>
          <label class="flex flex-wrap items-center gap-2">
            <span class="min-w-56"
              >{entity.name}, {attribute.name}
              <span class="font-mono text-xs text-soft">{typeWords(desk.design, attribute)}</span></span
            >
            <select
              class="rounded border border-line bg-base-100 px-2 py-0.5"
              value={target.nested?.[attribute.id] ?? ''}
              onchange={(event) => keep(attribute.id, event.currentTarget.value)}
            >
              <option value="">{list ? 'a list of the engine' : 'a document'}</option>
              {#if list}<option value="document">a document</option>{/if}
              <option value="table">a table of its own</option>
            </select>
          </label>
        </li>
      {/each}
    </ul>
  </details>
{/if}
