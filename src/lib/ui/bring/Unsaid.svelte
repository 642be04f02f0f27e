<!-- What a database leaves unsaid, each with its reason, to be taken into the design or not. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import type { Suggestion } from '../../core/infer'
  import { count } from '../desk/words'
  import type { Bringing } from './bringing.svelte'

  const { bringing }: { bringing: Bringing } = $props()
  const SORTS = [
    { kind: 'field', name: 'Fields', note: 'that documents have and no validator speaks of' },
    { kind: 'link', name: 'Links', note: 'columns that hold another table’s key and do not say so' },
    { kind: 'key', name: 'Keys', note: 'of tables that have none' },
    { kind: 'index', name: 'Indexes', note: 'for foreign keys that none begins with' },
    { kind: 'between', name: 'Bridge tables', note: 'that are no more than a many-to-many link' },
    { kind: 'special', name: 'Subtypes', note: 'whose rows are rows of another table' },
    { kind: 'domain', name: 'Domains', note: 'columns that are called alike and of one type' },
    { kind: 'word', name: 'Short words', note: 'in names, and what people say for them' }
  ] as const
  /** What is short and likely to be wanted is open at first; from then on a person opens and closes it. */
  const openedAtFirst = (node: HTMLDetailsElement, kind: Suggestion['kind'], length: number) =>
    untrack(() => {
      if (!node.dataset['met']) node.open = (kind === 'field' || kind === 'link' || kind === 'key') && length < 12
      node.dataset['met'] = 'yes'
    })
  const button = 'rounded border border-line px-2 py-0.5 font-semibold hover:bg-base-300'
  let word = $state({ short: '', long: '' })
  let wrong = $state('')
  const fitting = $derived(bringing.fitting())
  const groups = $derived(
    SORTS.flatMap((sort) => {
      const list = fitting.filter(({ kind }) => kind === sort.kind).sort((a, b) => b.sure - a.sure)
      return list.length || sort.kind === 'word'
        ? [{ ...sort, list, taken: list.filter(({ says }) => bringing.accept.has(says)).length }]
        : []
    })
  )
  const sureness = ({ sure }: Suggestion) =>
    sure >= 0.95 ? 'hardly to be doubted' : sure >= 0.85 ? 'likely' : 'possible'
</script>

{#if bringing.found}
  <section class="rounded-md border border-line bg-base-100 px-4 py-3" aria-label="What it leaves unsaid">
    <h2 class="font-semibold">What it leaves unsaid</h2>
    <p class="text-[13px] text-soft">What is ticked is in the design; the database stays as it is.</p>
    {#if bringing.found.counts && groups.some(({ kind }) => kind === 'link' || kind === 'key')}
      <p class="mt-2 flex items-center gap-2 text-[13px]">
        {#if bringing.asking}
          <span role="status">Asking the rows: {bringing.asking.done} of {bringing.asking.of} …</span>
          <button class={button} onclick={() => bringing.stopAsking()}>Stop</button>
        {:else}
          <button class={button} onclick={() => void bringing.askRows()}>Ask the rows</button>
          <span class="text-soft">whether any speaks against a link or a key</span>
        {/if}
      </p>
    {/if}
    {#each groups as { kind, name, note, list, taken } (kind)}
      <details class="mt-2" {@attach (node) => openedAtFirst(node, kind, list.length)}>
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
              onchange={(event) => bringing.take(list, event.currentTarget.checked)}
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
                  onchange={(event) => bringing.take([suggestion], event.currentTarget.checked)}
                />
                <span class="min-w-0">
                  <span class="font-mono break-words">{suggestion.says}</span>
                  {#if suggestion.word}<span class="text-soft">is {suggestion.word.long}</span>{/if}
                  <span class="block text-soft">{sureness(suggestion)}: {suggestion.why}</span>
                  {#if bringing.against.has(suggestion.says)}
                    {@const rows = bringing.against.get(suggestion.says) ?? 0}
                    <span class="block {rows > 0 ? 'text-error' : 'text-success'}"
                      >{rows > 0
                        ? `${count(rows, 'row speaks', 'rows speak')} against it`
                        : 'no row speaks against it'}</span
                    >
                  {/if}
                </span>
              </label>
            </li>
          {/each}
        </ul>
        {#if kind === 'word'}
          <form
            class="mt-2 flex items-center gap-1.5 text-[13px]"
            aria-label="Say a short word"
            onsubmit={(event) => {
              event.preventDefault()
              wrong = bringing.sayWord(word.short, word.long) ?? ''
              if (wrong === '') word = { short: '', long: '' }
            }}
          >
            <input
              class="w-20 rounded border border-line bg-base-100 px-1.5 py-0.5 font-mono"
              aria-label="Short word"
              placeholder="qty"
              bind:value={word.short}
            />
            <span class="text-soft">is</span>
            <input
              class="min-w-0 flex-1 rounded border border-line bg-base-100 px-1.5 py-0.5"
              aria-label="What it is short for"
              placeholder="quantity"
              bind:value={word.long}
            />
            <button class="rounded border border-line px-2 py-0.5 font-semibold hover:bg-base-300">Say so</button>
          </form>
          {#if wrong}<p role="alert" class="text-[13px] text-error">{wrong}</p>{/if}
        {/if}
      </details>
    {/each}
  </section>
{/if}
