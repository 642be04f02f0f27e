<!-- A pasted table whose columns are not those of the sheet: what each says can be said otherwise before it is taken. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import { MEANINGS, type Meaning, type Reading } from '../../core/cells'
  import { count } from '../desk/words'

  interface Props {
    readonly lines: readonly (readonly string[])[]
    readonly reading: Reading
    readonly into: string
    /** The table is taken as it is read then; nothing where it is left. */
    readonly onend: (reading: Reading | undefined) => void
  }
  const { lines, reading, into, onend }: Props = $props()
  const SAYS: Readonly<Record<Meaning, string>> = {
    name: 'name',
    type: 'type',
    length: 'length of the type',
    filled: 'required',
    nullable: 'may be empty',
    default: 'default',
    rules: 'rules',
    meaning: 'meaning',
    database: 'database name',
    key: 'in the key'
  }
  const MOST = 6
  let now = $state.raw<Reading>(untrack(() => reading))
  const width = $derived(Math.max(...lines.map((fields) => fields.length)))
  const rows = $derived(now.headed ? lines.slice(1) : lines)
  const named = $derived(now.meanings.includes('name'))

  function say(column: number, meaning: Meaning | undefined) {
    // What another column said is said here now.
    const meanings = Array.from({ length: width }, (_, i) =>
      i === column ? meaning : now.meanings[i] === meaning ? undefined : now.meanings[i]
    )
    now = { ...now, meanings }
  }
</script>

<!-- svelte-ignore a11y_no_noninteractive_element_interactions (Escape leaves it, wherever one is in it) -->
<section
  aria-label="What is pasted"
  class="shrink-0 border-b-2 border-primary bg-base-200 px-3 py-2 text-[13px]"
  onkeydown={(event) => {
    if (event.key !== 'Escape') return
    event.stopPropagation()
    onend(undefined)
  }}
>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1 pb-1.5">
    <b>{count(rows.length, 'row', 'rows')} for {into}</b>
    <label class="flex items-center gap-1.5"
      ><input
        type="checkbox"
        class="size-4 accent-primary"
        checked={now.headed}
        onchange={(event) => (now = { ...now, headed: event.currentTarget.checked })}
      />the first line is no row</label
    >
    {#if !named}<span role="alert" class="text-error">Say which column has the names.</span>{/if}
    <button
      {@attach (button) => button.focus()}
      class="ml-auto rounded bg-primary px-2.5 py-0.5 font-semibold text-primary-content disabled:opacity-50"
      disabled={!named}
      onclick={() => onend(now)}>Take them</button
    >
    <button class="px-1 text-soft underline" onclick={() => onend(undefined)}>Leave it</button>
  </div>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex (it is scrolled by the keys) -->
  <div
    class="max-h-48 overflow-auto rounded border border-line bg-base-100"
    tabindex="0"
    role="region"
    aria-label="Its first rows"
  >
    <table>
      <thead>
        <tr>
          {#each { length: width } as _, i (i)}
            <th class="border-b border-line px-1 py-0.5 text-left font-normal">
              <select
                class="rounded border border-line bg-base-100 px-1 py-0.5"
                aria-label="What column {i + 1} says"
                value={now.meanings[i] ?? ''}
                onchange={(event) => say(i, (event.currentTarget.value || undefined) as Meaning | undefined)}
              >
                <option value="">left out</option>
                {#each MEANINGS as meaning (meaning)}<option value={meaning}>{SAYS[meaning]}</option>{/each}
              </select>
            </th>
          {/each}
        </tr>
      </thead>
      <tbody>
        {#each rows.slice(0, MOST) as fields, r (r)}
          <tr>
            {#each { length: width } as _, i (i)}
              <td
                class="max-w-48 truncate px-2 py-0.5 {now.meanings[i] === undefined ? 'text-soft line-through' : ''}"
                title={fields[i]}>{fields[i] ?? ''}</td
              >
            {/each}
          </tr>
        {/each}
        {#if rows.length > MOST}<tr><td class="px-2 py-0.5 text-soft">and {rows.length - MOST} more</td></tr>{/if}
      </tbody>
    </table>
  </div>
</section>
