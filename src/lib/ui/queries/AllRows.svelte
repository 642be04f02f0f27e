<!-- What there is to say of an answer that has more rows than are shown, and a way to have them all. -->
<script lang="ts">
  import type { LiveDatabase } from '../../live'
  import { RowExport } from './export.svelte'

  interface Props {
    readonly live: LiveDatabase
    readonly sql: string
    /** Of the file, without its ending. */
    readonly name: string
  }
  const { live, sql, name }: Props = $props()
  const all = new RowExport()
</script>

<span class="text-[13px] text-soft">
  {#if all.running}
    <span role="status">{all.count.toLocaleString('en')} rows fetched …</span>
    <button class="underline" onclick={() => all.stop()}>Stop</button>
  {:else}
    <button class="underline" onclick={() => all.save(live, sql, `${name}.csv`)}>Save all rows to a file</button>
    <span role="status">{all.saved ? `${all.count.toLocaleString('en')} rows saved` : ''}</span>
  {/if}
  {#if all.error}<span role="alert" class="text-error">{all.error}</span>{/if}
</span>
