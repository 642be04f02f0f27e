<!-- A design beside a live database: every difference, and the plan that closes the distance. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import { untrack } from 'svelte'
  import { invert } from '../../core/catalog'
  import type { Design } from '../../core/design'
  import { dialect, printScript } from '../../core/dialects'
  import { plan } from '../../core/plan'
  import { saveFile } from '../../storage'
  import Disc from '../desk/Disc.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import { count, distance, engineLabel } from '../desk/words'
  import { describe } from './describe'
  import { Run } from './run.svelte'
  import StepCard from './StepCard.svelte'

  const { targetId }: { targetId: string } = $props()
  const desk = useDesk()
  const target = $derived(desk.design.targets[targetId])
  const status = $derived(desk.status.get(targetId))
  const compared = $derived(status?.compared)
  /** The design has moved on since it was compared; the next comparison is on its way. */
  const stale = $derived(status?.design !== undefined && status.design !== desk.design)
  const far = $derived(distance(status))
  const engine = $derived(target && dialect(target.engine, target.version))
  const errors = $derived(compared?.notices.filter((notice) => notice.severity === 'error') ?? [])
  const otherVersion = $derived.by(() => {
    const version = status?.live?.serverVersion
    return version !== undefined && target && version.split('.')[0] !== target.version ? version : undefined
  })
  let run = $state.raw<Run>()
  let acceptLoss = $state(false)

  let madeFor: Design | undefined

  // A changed design means a new plan. While one runs, and after, its results stay in view: the database has moved on by
  // the run itself, and what is left of the plan is still the plan.
  $effect(() => {
    const next = compared?.migration
    const [found, design, id, fresh] = [engine, desk.design, targetId, !stale]
    untrack(() => {
      if (!next || !found || !fresh || run?.running || run?.migration === next) return
      if (run && run.results.size > 0 && madeFor === design) return
      run = new Run(next, found, design.id, id)
      madeFor = design
      acceptLoss = false
      void run.foretell()
    })
  })

  $effect(() => {
    const id = targetId
    untrack(() => {
      desk.targetId = id
      if (!desk.status.get(id)?.live) void desk.look(id)
    })
  })

  const losing = $derived(
    run?.migration.steps.filter((step) => step.hazards.some((h) => h.kind === 'loses data')).length ?? 0
  )
  const ready = $derived(
    run !== undefined && !stale && !run.running && run.left > 0 && errors.length === 0 && (losing === 0 || acceptLoss)
  )

  async function go(one: boolean) {
    if (!run) return
    await run.start(one)
    const live = await run.live.catalog()
    await desk.agree(targetId, live)
  }

  async function again() {
    run = undefined
    await desk.look(targetId)
  }

  const groups = $derived.by(() => {
    const byTable = new Map<string, { title: string; entity: string | undefined; changes: ReturnType<typeof row>[] }>()
    for (const change of compared?.changes ?? []) {
      const name = change.address.kind === 'table' && change.action === 'rename' ? change.to : change.address.table
      const group = byTable.get(name) ?? { title: name, entity: entityOf(name), changes: [] }
      group.changes.push(row(change))
      byTable.set(name, group)
    }
    return [...byTable.values()].sort((a, b) => a.title.localeCompare(b.title))
  })
  function row(change: NonNullable<typeof compared>['changes'][number]) {
    return {
      ...describe(change),
      change,
      key: JSON.stringify([change.action, change.address, change.action === 'alter' ? change.property : ''])
    }
  }
  function entityOf(table: string) {
    const id = compared?.wanted.tables.find((t) => t.name === table)?.origin?.id
    return id === undefined ? undefined : desk.design.entities[id]?.name
  }

  function show(change: NonNullable<typeof compared>['changes'][number]) {
    const id = change.origin?.id ?? compared?.wanted.tables.find((t) => t.name === change.address.table)?.origin?.id
    if (id === undefined) return
    const owner = Object.values(desk.design.entities).find((e) => e.id === id || e.attributes.some((a) => a.id === id))
    if (owner)
      desk.select(owner.id === id ? { kind: 'entity', entity: id } : { kind: 'row', entity: owner.id, row: id })
    else if (desk.design.links[id]) desk.select({ kind: 'link', link: id })
    void goto(resolve('/design/[id]', { id: desk.design.id }))
  }

  const script = () => printScript((run?.migration.steps ?? []).map((step) => ({ sql: step.statement })))
  function wayBack() {
    const migration = run?.migration
    if (!migration || !engine) return
    const changes = compared?.changes ?? []
    const back = plan(migration.to, invert(changes), engine)
    saveFile(
      `${target?.name ?? 'target'}-way-back.sql`,
      printScript(back.steps.map((step) => ({ sql: step.statement }))),
      'application/sql'
    )
  }
  const button =
    'rounded-md border border-line bg-base-100 px-3 py-1.5 font-semibold hover:bg-base-300 disabled:opacity-50'
</script>

{#if !target}
  <p class="p-6">
    There is no such target. <a class="underline" href={resolve('/design/[id]/targets', { id: desk.design.id })}
      >See all targets</a
    >
  </p>
{:else}
  <div class="flex min-h-0 flex-1">
    <section class="flex min-w-0 flex-1 flex-col border-r border-line" aria-label="Differences">
      <div class="flex h-14 shrink-0 items-center gap-3 px-5">
        <Disc disc={far.disc} />
        <h1 class="text-lg font-semibold">{target.name}</h1>
        <span class="text-[13px] text-soft"
          >{engineLabel(target)} · {target.connection === 'embedded' ? 'embedded' : target.environment}</span
        >
        <span
          class="font-semibold {far.disc === 'half'
            ? 'text-secondary'
            : far.disc === 'crossed'
              ? 'text-error'
              : 'text-primary'}"
          role="status">{far.words}</span
        >
        <button class="{button} ml-auto" disabled={status?.state === 'looking' || run?.running} onclick={again}
          >Compare again</button
        >
      </div>
      {#if status?.state === 'unreachable'}
        <p role="alert" class="mx-5 rounded bg-brick-tint px-3 py-2 text-error">
          The database cannot be reached: {status.message} Compare again, or look at the target’s settings.
        </p>
      {:else if target.connection === 'none'}
        <p class="px-5 text-soft">This target has no database. Its script is on the Draft step.</p>
      {:else if status?.state === 'looking' && !compared}
        <p class="flex items-center gap-2 px-5 text-soft" role="status">
          <span class="loading loading-sm loading-spinner" aria-hidden="true"></span>Reading what the database holds …
        </p>
      {/if}
      {#if compared}
        <div class="min-h-0 flex-1 overflow-y-auto">
          {#if compared.changes.length === 0}
            <div class="grid h-full place-content-center gap-1 text-center">
              <p class="text-lg font-semibold">In step</p>
              <p class="text-soft">
                {target.name} holds what the design says, {count(compared.wanted.tables.length, 'table', 'tables')} of it.
              </p>
            </div>
          {:else}
            <table class="w-full table-fixed text-left">
              <thead class="sticky top-0 z-10 bg-base-300 text-[13px] text-soft">
                <tr
                  ><th class="w-[38%] px-5 py-1.5 font-medium">Difference</th><th class="px-2 font-medium"
                    >Design wants</th
                  ><th class="px-2 font-medium">Database has</th></tr
                >
              </thead>
              {#each groups as group (group.title)}
                <tbody>
                  <tr
                    ><th colspan="3" class="border-b border-line bg-base-200 px-5 pt-2 pb-1 font-semibold"
                      >{group.entity ?? group.title}
                      {#if group.entity}<span class="font-mono text-xs font-normal text-soft">{group.title}</span
                        >{/if}</th
                    ></tr
                  >
                  {#each group.changes as item (item.key)}
                    <tr class="border-b border-line bg-base-100">
                      <td class="px-5 py-1.5"
                        ><button class="text-left hover:underline" onclick={() => show(item.change)}>{item.what}</button
                        > <span class="text-[13px] text-soft">{item.detail}</span></td
                      >
                      <td
                        class="truncate px-2 font-mono text-[13px] {item.wanted === 'none'
                          ? 'text-soft'
                          : 'font-semibold text-primary'}"
                        title={item.wanted}>{item.wanted}</td
                      >
                      <td
                        class="truncate px-2 font-mono text-[13px] {item.live === 'none' ? 'text-soft' : ''}"
                        title={item.live}>{item.live}</td
                      >
                    </tr>
                  {/each}
                </tbody>
              {/each}
            </table>
          {/if}
          {#if otherVersion}
            <p class="px-5 py-2 text-[13px] text-secondary">
              ▲ The design is written for version {target.version}; this database is of version {otherVersion}.
            </p>
          {/if}
          {#each compared.likely as likely (likely.table + (likely.column ?? ''))}
            <p class="px-5 py-2 text-[13px] text-secondary">
              ▲ {likely.column ?? likely.table} may be {likely.to} under its old name ({likely.because}). If so, rename
              it in the database or in the design: as it stands, one goes and the other comes.
            </p>
          {/each}
          {#each status?.live?.unread ?? [] as item (item.kind + item.name)}
            <p class="px-5 py-0.5 text-[13px] text-soft">Not compared: the {item.kind} {item.name}.</p>
          {/each}
        </div>
      {/if}
    </section>
    <section class="flex w-[480px] shrink-0 flex-col" aria-label="Plan">
      <div class="flex h-14 shrink-0 items-center gap-3 px-4">
        <h2 class="text-lg font-semibold">Plan</h2>
        <span class="text-[13px] text-soft"
          >{run
            ? `${count(run.migration.steps.length, 'step', 'steps')}${run.done.size ? `, ${run.done.size} done` : ''}`
            : ''}</span
        >
      </div>
      <ol class="min-h-0 flex-1 space-y-2 overflow-y-auto px-4 pb-3">
        {#if run}
          {#each run.migration.steps as step, i (step.id)}<StepCard {step} number={i + 1} {run} />{:else}
            <li class="text-soft">Nothing to do.</li>
          {/each}
        {/if}
      </ol>
      {#if errors.length > 0}
        <p role="alert" class="mx-4 mb-2 rounded bg-brick-tint px-3 py-2 text-[13px] text-error">
          {errors[0]?.message} Mend it in the design before running anything.
        </p>
      {/if}
      {#if run && run.migration.steps.length > 0}
        <div class="border-t border-line px-4 py-2.5">
          {#if losing > 0 && run.left > 0}
            <label class="mb-2 flex items-center gap-2 text-[13px] text-error">
              <input type="checkbox" class="size-4 accent-primary" bind:checked={acceptLoss} />
              {count(losing, 'step loses', 'steps lose')} data. I have read which.
            </label>
          {/if}
          <div class="flex flex-wrap gap-2">
            <button class={button} onclick={() => saveFile(`${target.name}.sql`, script(), 'application/sql')}
              >Script</button
            >
            <button class={button} onclick={wayBack}>Way back</button>
            {#if run.running}
              <button class="{button} ml-auto" onclick={() => run?.stop()}>Stop after this step</button>
            {:else if run.left > 0}
              <button class="{button} ml-auto" disabled={!ready} onclick={() => go(true)}>Run next</button>
              <button
                class="rounded-md bg-primary px-3 py-1.5 font-semibold text-primary-content disabled:opacity-50"
                disabled={!ready}
                onclick={() => go(false)}>{run.done.size ? 'Run the rest' : 'Run all'}</button
              >
            {:else}
              <span class="ml-auto self-center font-semibold text-success">✓ all steps done</span>
            {/if}
          </div>
        </div>
      {/if}
    </section>
  </div>
{/if}
