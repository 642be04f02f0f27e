<!-- Documents of an answer, each with what is in it beneath it; so many at a time. -->
<script lang="ts">
  import type { QueryResult } from '../../live'
  import Branch from './Branch.svelte'

  const { result, label }: { result: QueryResult; label: string } = $props()
  const PAGE = 100
  let shown = $state(PAGE)
  const documents = $derived(
    result.rows.slice(0, shown).map((row) =>
      // What a document does not have is null in its row.
      Object.fromEntries(result.columns.flatMap((name, i) => (row[i] === null ? [] : [[name, row[i]]])))
    )
  )
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="max-h-80 overflow-auto rounded border border-line bg-base-100 p-1 font-mono text-[13px]"
  tabindex="0"
  role="region"
  aria-label={label}
>
  {#each documents as document, i (i)}<Branch name={String(i + 1)} value={document} open={i === 0} />{:else}<p
      class="px-1 text-soft"
    >
      No documents.
    </p>{/each}
  {#if shown < result.rows.length}
    <button class="m-1 underline" onclick={() => (shown += PAGE)}
      >Show the next {Math.min(PAGE, result.rows.length - shown).toLocaleString('en')}</button
    >
  {/if}
</div>
