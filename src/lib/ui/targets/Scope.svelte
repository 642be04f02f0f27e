<!-- What a target compares and what it leaves alone, with reasons; and what it has otherwise than the design. -->
<script lang="ts">
  import type { Ignored, Target } from '../../core/design'
  import { notUnicode } from '../../core/session'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'

  const { target, set }: { target: Target; set: (target: Target, values: Partial<Target>) => void } = $props()
  const desk = useDesk()
  const ignored = $derived(target.ignored ?? [])
  /** How this engine has what the design says, and what it has otherwise. */
  const words = $derived((target.departures ?? []).filter((departure) => 'instead' in departure))
  const departures = $derived((target.departures ?? []).filter((departure) => !('instead' in departure)))
  const text = $derived(notUnicode(desk.design, target.id))
  const extras = $derived(target.extras ?? [])
  /** Tables of the database that the design knows nothing of. */
  const strangers = $derived.by(() => {
    const { live, compared } = desk.status.get(target.id) ?? {}
    const wanted = new Set(compared?.wanted.tables.map((table) => table.name))
    const isLeftOut = ({ schema, name }: { schema: string; name: string }) =>
      ignored.some(({ kind, path }) => path[0] === schema && (kind === 'schema' || path[1] === name))
    return (live?.tables ?? []).filter((table) => !wanted.has(table.name) && !isLeftOut(table))
  })
  /** Whole schemas of such tables. */
  const foreignSchemas = $derived.by(() => {
    const wanted = new Set(desk.status.get(target.id)?.compared?.wanted.tables.map(({ schema }) => schema))
    return [...new Set(strangers.map(({ schema }) => schema))].filter((schema) => !wanted.has(schema)).sort()
  })
  let table = $state('')
  let reason = $state('')

  function leaveOut() {
    const [kind, ...path] = JSON.parse(table) as [Ignored['kind'], ...string[]]
    if (reason.trim() === '') return
    const item: Ignored = { kind, path, reason: reason.trim() }
    set(target, { ignored: [...ignored, item] })
    table = ''
    reason = ''
  }
  const said = ({ kind, path, property }: Ignored) =>
    kind === 'schema' ? `all of the schema ${path[0]}` : [...path.slice(1), property].filter(Boolean).join('.')
  const field = 'rounded border border-line bg-base-100 px-2 py-1'
</script>

{#if ignored.length > 0 || strangers.length > 0 || departures.length + extras.length > 0 || words.length > 0}
  <div class="mt-2 text-[13px]">
    {#each ignored as item, i (i)}
      <p>
        <span class="text-soft">Not compared:</span> <code class="font-mono">{said(item)}</code>
        <span class="text-soft">({item.reason})</span>
        <button class="underline" onclick={() => set(target, { ignored: ignored.filter((other) => other !== item) })}
          >compare it again</button
        >
      </p>
    {/each}
    {#if text}
      {@const { many, collations, edit } = text}
      <p>
        <span class="text-soft"
          >{count(many, 'table or column keeps', 'tables and columns keep')} text without all of Unicode: {collations.join(
            ', '
          )}.</span
        >
        <button class="underline" onclick={() => desk.edit(edit)}>Keep it as Unicode</button>
      </p>
    {/if}
    {#if departures.length > 0}
      <p>
        <span class="text-soft">{count(departures.length, 'thing', 'things')} here otherwise than the design says.</span
        >
        <button class="underline" onclick={() => set(target, { departures: words })}>Follow the design again</button>
      </p>
    {/if}
    {#if extras.length > 0}
      <p>
        <span class="text-soft">{count(extras.length, 'thing', 'things')} held here beside the design.</span>
        <button class="underline" onclick={() => set(target, { extras: [] })}>Hold none of them</button>
      </p>
    {/if}
    {#if words.length > 0}
      <p class="text-soft">
        {count(words.length, 'thing', 'things')} in the words of the database that it came from, while the design says the
        same.
      </p>
    {/if}
    {#if strangers.length > 0}
      <form
        class="mt-1 flex flex-wrap items-center gap-2"
        onsubmit={(event) => {
          event.preventDefault()
          leaveOut()
        }}
      >
        <label class="flex items-center gap-1.5"
          >Leave out
          <select class={field} bind:value={table}>
            <option value="">…</option>
            {#each foreignSchemas as schema (schema)}<option value={JSON.stringify(['schema', schema])}
                >all of the schema {schema}</option
              >{/each}
            {#each strangers as { schema, name } (`${schema}.${name}`)}<option
                value={JSON.stringify(['table', schema, name])}>the table {name}</option
              >{/each}
          </select>
        </label>
        <label class="flex items-center gap-1.5">because <input class="{field} w-56" bind:value={reason} /></label>
        <button
          class="rounded border border-line px-2 py-0.5 font-semibold hover:bg-base-300"
          disabled={!table || !reason.trim()}>Leave out</button
        >
      </form>
    {/if}
  </div>
{/if}
