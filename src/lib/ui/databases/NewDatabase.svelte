<!-- A database that is yet to be made on a server: what is said of it, and the statement that makes it. -->
<script lang="ts">
  import type { NewDatabase } from '../../core/dialects'

  interface Props {
    readonly how: NewDatabase
    /** What it is to be called, as the address has it. */
    readonly name: string
    readonly busy: boolean
    readonly onmake: (settings: Readonly<Record<string, string>>) => void
  }
  const { how, name, busy, onmake }: Props = $props()
  const id = $props.id()
  let said = $state<Record<string, string>>({})

  /** The statement, or why there is none yet. */
  const made = $derived.by((): { readonly sql: string } | { readonly why: string } => {
    try {
      return { sql: how.statement(name, said) }
    } catch (error) {
      return { why: error instanceof Error ? error.message : String(error) }
    }
  })
  const field = 'rounded border border-line bg-base-100 px-2 py-1'
</script>

<fieldset class="grid w-full gap-2 rounded border border-line px-3 pb-3" aria-label="A new database">
  <legend class="px-1 font-semibold">A new database</legend>
  <div class="flex flex-wrap gap-4">
    {#each how.settings as setting (setting.name)}
      <label class="grid max-w-72 content-start gap-0.5">
        {setting.label}
        {#if setting.values}
          <select
            class="{field} w-40"
            aria-describedby="{id}-{setting.name.replaceAll(' ', '-')}"
            value={said[setting.name] ?? setting.usual}
            onchange={(event) => (said[setting.name] = event.currentTarget.value)}
          >
            {#each setting.values as value (value)}<option>{value}</option>{/each}
          </select>
        {:else}
          <input
            class="{field} w-56"
            aria-describedby="{id}-{setting.name.replaceAll(' ', '-')}"
            placeholder={setting.usual}
            value={said[setting.name] ?? ''}
            oninput={(event) => (said[setting.name] = event.currentTarget.value)}
          />
        {/if}
        <span id="{id}-{setting.name.replaceAll(' ', '-')}" class="text-[12px] text-soft">{setting.meaning}</span>
      </label>
    {/each}
  </div>
  {#if 'sql' in made}
    <pre class="overflow-x-auto rounded bg-base-200 px-2 py-1 text-[12px]"><code>{made.sql}</code></pre>
  {:else}
    <p class="text-soft">{made.why} {name === '' ? 'Say it above, under Database.' : ''}</p>
  {/if}
  <button
    type="button"
    class="justify-self-start rounded border border-line px-2.5 py-1 font-semibold hover:bg-base-300 disabled:opacity-60"
    disabled={busy || !('sql' in made)}
    onclick={() => onmake($state.snapshot(said))}>Make it</button
  >
</fieldset>
