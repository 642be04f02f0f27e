<!-- What a database leaves unsaid, each with its reason, to be taken into the design or not. -->
<script lang="ts">
  import type { Suggestion } from '../../core/infer'
  import type { Bringing } from './bringing.svelte'

  const { bringing }: { bringing: Bringing } = $props()
  const SORTS = [
    { kind: 'link', name: 'Links', note: 'columns that hold another table’s key and do not say so' },
    { kind: 'key', name: 'Keys', note: 'of tables that have none' },
    { kind: 'index', name: 'Indexes', note: 'for foreign keys that none begins with' }
  ] as const
  const fitting = $derived(bringing.fitting())
  const groups = $derived(
    SORTS.flatMap((sort) => {
      const list = fitting.filter(({ kind }) => kind === sort.kind).sort((a, b) => b.sure - a.sure)
      return list.length ? [{ ...sort, list, taken: list.filter(({ says }) => bringing.accept.has(says)).length }] : []
    })
  )
  const sureness = ({ sure }: Suggestion) =>
    sure >= 0.95 ? 'hardly to be doubted' : sure >= 0.85 ? 'likely' : 'possible'
  const take = (list: readonly Suggestion[], all: boolean) => {
    for (const { says } of list)
      if (all) bringing.accept.add(says)
      else bringing.accept.delete(says)
  }
</script>

{#if groups.length > 0}
  <section class="rounded-md border border-line bg-base-100 px-4 py-3" aria-label="What it leaves unsaid">
    <h2 class="font-semibold">What it leaves unsaid</h2>
    <p class="text-[13px] text-soft">What is ticked is in the design; the database stays as it is.</p>
    {#each groups as { kind, name, note, list, taken } (kind)}
      <details class="mt-2" open={kind !== 'index' && list.length < 12}>
        <summary class="cursor-pointer text-[13px]"
          ><b>{name}</b> <span class="text-soft">{note}: {taken} of {list.length}</span></summary
        >
        {#if list.length > 1}
          <label class="mt-1 flex items-center gap-2 text-[13px]">
            <input
              type="checkbox"
              class="size-4 accent-primary"
              checked={taken === list.length}
              indeterminate={taken > 0 && taken < list.length}
              onchange={(event) => take(list, event.currentTarget.checked)}
            />
            all of them
          </label>
        {/if}
        <ul class="mt-1 max-h-64 overflow-y-auto border-t border-line text-[13px]">
          {#each list as suggestion (suggestion.says)}
            <li class="border-b border-line py-1">
              <label class="flex items-start gap-2">
                <input
                  type="checkbox"
                  class="mt-0.5 size-4 shrink-0 accent-primary"
                  checked={bringing.accept.has(suggestion.says)}
                  onchange={(event) => take([suggestion], event.currentTarget.checked)}
                />
                <span class="min-w-0">
                  <span class="font-mono break-words">{suggestion.says}</span>
                  <span class="block text-soft">{sureness(suggestion)}: {suggestion.why}</span>
                </span>
              </label>
            </li>
          {/each}
        </ul>
      </details>
    {/each}
  </section>
{/if}
