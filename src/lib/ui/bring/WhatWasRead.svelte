<!-- What came of a database or of scripts: counts, and all that was not understood or is not held. -->
<script lang="ts">
  import { count } from '../desk/words'
  import type { Bringing, Found } from './bringing.svelte'

  interface Props {
    readonly bringing: Bringing
    readonly found: Found
    /** The engines whose scripts are read. */
    readonly engines: readonly { readonly id: string; readonly label: string }[]
  }
  const { bringing, found, engines }: Props = $props()
  const moment = (time: string) => time.replace('T', ' ').replace(/(:\d\d)\.\d+/, '$1')
</script>

{#snippet told(list: Found['unknown'], what: string, tone: string)}
  {#if list.length > 0}
    <p class="mt-2 text-[13px] font-semibold {tone}">{count(list.length, 'statement', 'statements')} {what}</p>
    <ul class="max-h-72 overflow-y-auto text-[13px] {tone}">
      {#each list as { place, why, sql }, i (i)}
        <li>
          <details>
            <summary>{place}: {why}</summary>
            <pre
              class="my-1 max-h-40 overflow-auto rounded border border-line p-2 font-mono text-[12px] text-base-content">{sql}</pre>
          </details>
        </li>
      {/each}
    </ul>
  {/if}
{/snippet}

<section class="rounded-md border border-line bg-base-100 px-4 py-3" aria-label="What was read">
  <h2 class="font-semibold">What was read</h2>
  {#if found.taken !== undefined}
    <p class="mt-1 text-[13px]">as it was on {moment(found.taken)}, by the engine’s own client</p>
  {:else if found.script !== undefined && found.source.kind === 'files'}
    {@const { source } = found}
    <label class="mt-1 flex items-center gap-2 text-[13px]"
      >as {source.files.length === 1 ? 'a script' : 'scripts'} of
      <select
        class="rounded border border-line bg-base-100 px-1.5 py-0.5"
        value={found.script}
        onchange={(event) => void bringing.look({ ...source, engine: event.currentTarget.value })}
      >
        {#each engines as { id, label } (id)}<option value={id}>{label}</option>{/each}
      </select>
    </label>
  {/if}
  <ul class="mt-1 text-[13px] leading-6">
    <li>{count(found.catalog.tables.length, 'table', 'tables')}, each an entity</li>
    {#if !found.database}
      <li>types and keys as they are told there; else the values tell them</li>
    {:else}
      <li>{count(Object.keys(found.design.links).length, 'foreign key', 'foreign keys')}, as links</li>
    {/if}
    {#each found.carried as { many, names } (many)}
      <li title={names.join(', ')}>
        {names.length}
        {many}, {names.length === 1 ? 'kept as it is' : 'kept as they are'}
      </li>
    {/each}
  </ul>
  {#if found.passed > 0}
    <p class="text-[13px] leading-6 text-soft">
      {count(found.passed, 'statement', 'statements')} of data or settings passed over
    </p>
  {/if}
  {@render told(found.unknown, 'not understood', 'text-error')}
  {@render told(found.remarks, 'with a remark', 'text-secondary')}
  {#if found.lost.length > 0}
    <p class="mt-2 text-[13px] font-semibold text-error">{count(found.lost.length, 'thing', 'things')} not held</p>
    <ul class="text-[13px] text-error">
      {#each found.lost as what (what)}<li>{what}</li>{/each}
    </ul>
  {/if}
</section>
