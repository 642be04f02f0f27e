<!-- What the rows are, against what the design says: an engine may hold some that never fitted. -->
<script lang="ts">
  import { findTable, isWithin, type Catalog, type Table } from '../../core/catalog'
  import type { Dialect } from '../../core/dialects'
  import type { LiveDatabase, QueryResult } from '../../live'
  import { coreWorker } from '../../workers'
  import { count } from '../desk/words'
  import Tree from '../queries/Tree.svelte'

  interface Props {
    readonly dialect: Dialect
    readonly live: LiveDatabase
    readonly wanted: Catalog
    readonly there: Catalog
  }
  const { dialect, live, wanted, there }: Props = $props()
  interface Found {
    readonly table: Table
    /** What is found of it, in words, and the query that shows it. */
    readonly says: string
    readonly rows: string
    readonly shown?: QueryResult
  }
  /** Documents of each collection that are looked at for what nobody designed. */
  const SAMPLE = 1000
  let found = $state.raw<readonly Found[]>()
  let asked = $state(0)
  let busy = $state(false)
  let stopped = false
  let trouble = $state('')
  const tables = $derived(wanted.tables.filter(({ schema, name }) => findTable(there, schema, name)))
  // What was counted was counted of another design, or another state.
  $effect(() => {
    void [wanted, there]
    found = undefined
  })

  async function look() {
    busy = true
    stopped = false
    trouble = ''
    asked = 0
    const list: Found[] = []
    try {
      for (const table of tables) {
        if (stopped) break
        const question = dialect.misfits?.(table)
        const n = question ? Number((await live.query(question.count, { readOnly: true })).rows[0]?.[0] ?? 0) : 0
        if (question && n > 0)
          list.push({ table, says: `${count(n, 'document does', 'documents do')} not fit.`, rows: question.rows })
        list.push(...(await strange(table)))
        asked++
      }
      found = list
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error)
    } finally {
      busy = false
    }
  }
  /** What documents have and the design does not say. */
  async function strange(table: Table): Promise<Found[]> {
    if (!dialect.sample || !dialect.having) return []
    const { rows } = await live.rows(dialect.sample(table.name, SAMPLE))
    await live.endRows()
    const documents = rows.map(([document]) => JSON.parse(String(document)) as unknown)
    const fields = await coreWorker().undesigned(table, documents)
    return fields
      .filter(({ name }) => !fields.some((other) => isWithin(name, other.name)))
      .map(({ name, seen }) => ({
        table,
        says: `${name} is in ${seen?.there.toLocaleString('en') ?? 'some'} of ${documents.length.toLocaleString('en')} that were looked at, and not in the design.`,
        rows: dialect.having?.(table.name, name).rows ?? ''
      }))
  }
  async function show(one: Found) {
    const shown = await live.query(one.rows, { readOnly: true })
    found = found?.map((other) => (other === one ? { ...one, shown } : other))
  }
  const [one, many] = $derived(dialect.profile.words?.table ?? (['table', 'tables'] as const))
</script>

<section class="border-t border-line px-5 py-3" aria-label="What the documents are">
  <div class="flex flex-wrap items-center gap-3">
    <h2 class="font-semibold">What the documents are</h2>
    {#if busy}
      <span class="text-[13px] text-soft" role="status">{asked} of {count(tables.length, one, many)}</span>
      <button class="underline" onclick={() => (stopped = true)}>Stop</button>
    {:else}
      <button class="rounded border border-line px-2 py-0.5 text-[13px] font-semibold hover:bg-base-300" onclick={look}
        >Count those that do not fit</button
      >
      <span class="text-[13px] text-soft"
        >A validator judges what is written, and nothing that was there before it.</span
      >
    {/if}
  </div>
  {#if trouble}<p role="alert" class="mt-2 text-[13px] text-error">{trouble}</p>{/if}
  {#if found}
    {#if found.length === 0}
      <p class="mt-2 text-[13px]" role="status">
        All documents of {count(asked, one, many)} fit what the design says, and none that was looked at has more.
      </p>
    {/if}
    <ul class="mt-2 grid gap-2">
      {#each found as item (`${item.table.name} ${item.says}`)}
        <li class="min-w-0">
          <span class="font-mono text-[13px]">{item.table.name}</span>:
          <span class="font-semibold text-secondary">{item.says}</span>
          {#if item.shown}
            <div class="mt-1"><Tree result={item.shown} label="Documents of {item.table.name}: {item.says}" /></div>
          {:else}
            <button class="underline" onclick={() => show(item)}>See them</button>
          {/if}
        </li>
      {/each}
    </ul>
  {/if}
</section>
