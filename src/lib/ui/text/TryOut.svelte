<!-- The draft run in a database that passes again: the tables that it makes, or the statement that is refused. -->
<script lang="ts">
  import { typeText, type Catalog } from '../../core/catalog'
  import { freeName, newTarget } from '../../core/design'
  import { targetKey } from '../../storage'
  import { coreWorker, databaseWorker } from '../../workers'
  import { EMBEDDED } from '../databases/connect'
  import { useDesk } from '../desk/desk.svelte'
  import { count, engineLabel } from '../desk/words'

  const { onclose }: { readonly onclose: () => void } = $props()
  const desk = useDesk()
  /** The engine that is shown, where it runs in the browser. */
  const shown = $derived(desk.shown)
  const engine = $derived(
    EMBEDDED.includes(shown.engine)
      ? { engine: shown.engine, version: shown.version }
      : { engine: 'postgres', version: '18' }
  )
  let made = $state.raw<Catalog>()
  let refused = $state.raw<{ readonly sql: string; readonly message: string }>()
  let statements: readonly string[] = []
  let busy = $state(true)
  let turn = 0

  async function run() {
    const own = ++turn
    busy = true
    made = refused = undefined
    try {
      // A target that says nothing, of the engine alone.
      const bare = { ...desk.design, targets: { passing: newTarget('passing', { id: 'passing', ...engine }) } }
      const script = await coreWorker().script(bare, 'passing', {}, undefined, undefined)
      statements = script.statements.map(({ sql }) => sql)
      const outcome = await databaseWorker().tryOut(engine.engine, engine.version, statements)
      if (own !== turn) return
      made = outcome.catalog
      refused = outcome.refused && { sql: statements[outcome.refused.at] ?? '', message: outcome.refused.message }
    } catch (error) {
      if (own === turn) refused = { sql: '', message: error instanceof Error ? error.message : String(error) }
    } finally {
      if (own === turn) busy = false
    }
  }
  void run()

  /** A target with a database of its own, in which all of it has been run. */
  async function keep() {
    const names = Object.values(desk.design.targets).map((target) => target.name)
    const target = newTarget(freeName('draft', names), { ...engine, connection: 'embedded' })
    desk.edit({ kind: 'object.set', collection: 'targets', object: target })
    desk.show(target.id)
    await databaseWorker().run({ key: targetKey(desk.design.id, target.id), ...engine }, statements)
    await databaseWorker().keep({ key: targetKey(desk.design.id, target.id), ...engine })
    await desk.look(target.id)
    onclose()
  }
  const button = 'rounded px-2 py-1 text-[13px] hover:bg-base-300 disabled:opacity-50'
</script>

<section
  class="max-h-[45%] shrink-0 overflow-y-auto border-t border-line bg-base-200 px-3 py-2"
  aria-label="Trying it out"
>
  <div class="flex items-center gap-2">
    <h2 class="mr-auto font-semibold">
      {#if busy}Running it in {engineLabel(engine)} …{:else if made}{count(made.tables.length, 'table', 'tables')} made in
        {engineLabel(engine)}{:else}{engineLabel(engine)} refuses it{/if}
    </h2>
    <button class={button} disabled={busy} onclick={() => void run()}>Again</button>
    <button class={button} disabled={!made} onclick={() => void keep()}>Keep it as a target</button>
    <button class={button} onclick={onclose}>Close</button>
  </div>
  <div role="status">
    {#if refused}
      <p class="mt-1 text-error">{refused.message}</p>
      {#if refused.sql}<pre class="mt-1 overflow-x-auto font-mono text-xs">{refused.sql}</pre>{/if}
      <p class="mt-1 text-[13px] text-soft">Nothing is kept. Mend the design, and run it again.</p>
    {:else if made}
      <p class="text-[13px] text-soft">It goes when this is closed: no target knows of it.</p>
      <ul class="mt-1 grid gap-x-6 gap-y-1 text-[13px] sm:grid-cols-2">
        {#each made.tables as table (table.schema + table.name)}
          <li class="min-w-0">
            <span class="font-semibold">{table.name}</span>
            <span class="block truncate font-mono text-xs text-soft" title={table.columns.map((c) => c.name).join(', ')}
              >{table.columns.map((column) => `${column.name} ${typeText(column.type)}`).join(', ')}</span
            >
          </li>
        {/each}
      </ul>
    {/if}
  </div>
</section>
