<!-- A design beside a live database and what both last agreed on: every difference, which way it goes, and the plan. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import { onMount, untrack } from 'svelte'
  import { FREE_KINDS, isFree, KINDS, namesOf, withProperty, type Placed } from '../../core/catalog'
  import { keepDifferent, type Difference } from '../../core/compare'
  import { newId, ownerOf, type Design, type Entity, type Target } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import { listRuns, openFiles, targetKey, type RunRecord } from '../../storage'
  import type { Along } from '../../core/session'
  import { coreWorker } from '../../workers'
  import { connect } from '../databases/connect'
  import SignIn from '../databases/SignIn.svelte'
  import { toldDatabase } from '../databases/told'
  import { entityOf as selectedEntity, useDesk } from '../desk/desk.svelte'
  import { count, countByWho, type Judged } from '../desk/words'
  import Carried from './Carried.svelte'
  import { Choices, type Direction } from './choices.svelte'
  import { describe } from './describe'
  import DifferenceRow from './DifferenceRow.svelte'
  import Misfits from './Misfits.svelte'
  import Plan from './Plan.svelte'
  import { Run } from './run.svelte'
  import TargetHead from './TargetHead.svelte'

  const { targetId }: { targetId: string } = $props()
  const desk = useDesk()
  const target = $derived(desk.design.targets[targetId])
  const status = $derived(desk.status.get(targetId))
  const compared = $derived(status?.compared)
  const differences = $derived(compared?.differences ?? [])
  /** The design has moved on since it was compared; the next comparison is on its way. */
  const stale = $derived(status?.design !== undefined && status.design !== desk.design)
  const engine = $derived(target && dialect(target.engine, target.version))
  const live = $derived(
    target && status?.files !== undefined && status.live
      ? toldDatabase(status.live)
      : target && connect(desk.design, target)
  )
  const errors = $derived(compared?.notices.filter((notice) => notice.severity === 'error') ?? [])
  const otherVersion = $derived.by(() => {
    const version = status?.live?.serverVersion
    return version !== undefined && target && version.split('.')[0] !== target.version.split('.')[0]
      ? version
      : undefined
  })

  const choices = new Choices()
  let run = $state.raw<Run>()
  let back = $state.raw<readonly string[]>([])
  let alongWriting = $state.raw<Along>({})
  let conflicts = $state.raw<readonly string[]>([])
  let planned = ''
  let takingUp = false
  let cutOff = $state.raw<RunRecord>()
  /** What cut a run off while this page looked on. */
  let lost = $state('')

  const writing = $derived(choices.keys(differences, 'write'))
  const taking = $derived(choices.keys(differences, 'take'))

  // A changed design or choice means a new plan. While one runs, and after, its results stay in view: the database has
  // moved on by the run itself, and what is left of the plan is still the plan.
  let madeFor: Design | undefined
  /** Plans that are being made. */
  let making = $state(0)
  $effect(() => {
    const [found, design, keys, fresh, database, state] = [engine, desk.design, writing, !stale, live, status?.live]
    untrack(() => {
      if (!found || !compared || !fresh || !database || !state || run?.running || takingUp) return
      const asked = JSON.stringify([keys, target?.handSteps ?? []])
      // That it was not run is said until somebody looks again.
      const told = run?.ended === 'changed'
      if (run && (run.results.size > 0 || run.resumed || told) && madeFor === design) return
      if (run && planned === asked && madeFor === design && run.migration.from === state) return
      planned = asked
      madeFor = design
      making++
      void make(keys, asked).finally(() => making--)
    })
  })

  async function make(keys: readonly string[], asked: string) {
    const state = status?.live
    if (!engine || !live || !state) return
    const chosen = await coreWorker().plan(await desk.sides(targetId, state), keys)
    // The newest request wins, and none over a run that was begun meanwhile.
    if (asked !== planned || run?.running) return
    alongWriting = chosen.along
    back = chosen.back
    run = new Run(
      chosen.migration,
      engine,
      live,
      targetKey(desk.design.id, targetId),
      target?.ledger,
      () => void desk.look(targetId)
    )
    await run.foretell()
  }

  onMount(() => {
    desk.targetId = targetId
    if (!desk.status.get(targetId)?.live) void desk.look(targetId)
    void listRuns(targetKey(desk.design.id, targetId)).then((runs) => {
      cutOff = runs.find((record) => record.endedAt === undefined)
    })
  })

  const obstacle = $derived(
    errors[0]
      ? `${errors[0].message} Mend it in the design before running anything.`
      : desk.barred
        ? `${desk.barred.message} The design says that this must be mended first.`
        : status?.files !== undefined && writing.length > 0
          ? 'Files can only be read: save the script, and run it where they came from.'
          : undefined
  )

  let unread = $state.raw<readonly { readonly place: string; readonly why?: string }[]>([])
  let trouble = $state('')
  /** A newer script, a dump, or another state of the file, in the place of a database. */
  async function compareWithFiles() {
    const files = await openFiles('.db,.sqlite,.sqlite3,.db3,.sql,.jsonl')
    if (files.length === 0) return
    trouble = ''
    run = undefined
    planned = ''
    try {
      unread = (await desk.compareWithFiles(targetId, files)) ?? []
    } catch (error) {
      trouble = error instanceof Error ? error.message : String(error)
    }
  }

  async function go(upTo?: number) {
    const own = run
    if (!own) return
    lost = ''
    try {
      await own.start(upTo)
    } catch (error) {
      // The database, or the way to it, is gone: what became of the statement under way is looked up on return.
      lost = error instanceof Error ? error.message : String(error)
      cutOff = own.started
      run = undefined
      planned = ''
      await desk.look(targetId)
      return
    }
    cutOff = undefined
    if (live) await desk.agree(targetId, await live.catalog(), own.effects)
  }

  async function again() {
    run = undefined
    planned = ''
    await desk.look(targetId)
  }

  async function takeUp() {
    if (!cutOff || !engine || !live) return
    // A plan that is still being made, or is asked for meanwhile, is not wanted.
    takingUp = true
    planned = cutOff.id
    madeFor = desk.design
    try {
      run = await Run.resume(cutOff, engine, live, target?.ledger === true)
      // What it had done before it was cut off is ours, not somebody else's.
      await desk.agree(targetId, await live.catalog(), run.effects)
      lost = ''
      cutOff = undefined
    } catch (error) {
      lost = error instanceof Error ? error.message : String(error)
      await desk.look(targetId)
    } finally {
      takingUp = false
    }
    await run?.foretell()
  }

  async function giveUp() {
    if (!cutOff || !engine || !live) return
    const given = await Run.resume(cutOff, engine, live, target?.ledger === true)
    await given.giveUp()
    cutOff = undefined
    await desk.agree(targetId, await live.catalog(), given.effects)
  }

  async function takeChosen(here: boolean) {
    const state = status?.live
    if (!state) return
    conflicts = []
    const taken = await coreWorker().take(await desk.sides(targetId, state), taking, here)
    conflicts = taken.refused.map(({ key, conflict }) => {
      const at = differences.find((difference) => difference.key === key)
      return `${at ? describe(at).what : 'This'} cannot be taken${here ? '' : ' for every target'}: ${conflict}`
    })
    if (taken.edit) desk.edit(taken.edit)
  }

  const set = (values: Partial<Target>) => {
    if (target) desk.edit({ kind: 'object.set', collection: 'targets', object: { ...target, ...values } })
  }

  function keep(difference: Difference, reason: string) {
    const item = keepDifferent(difference.change, reason)
    if (item) set({ ignored: [...(target?.ignored ?? []), item] })
  }

  /** From now on the target holds what its database has beside the design, as it is. */
  function hold(list: readonly Placed[]) {
    const held = list.map(({ address: { path }, kind, value }) => ({
      path,
      kind,
      value: withProperty(value, 'owner', undefined)
    })) as unknown as NonNullable<Target['extras']>
    set({ extras: [...(target?.extras ?? []), ...held] })
  }

  interface Group {
    readonly title: string
    readonly entity: Entity | undefined
    /** Tables first, in order of their names; then other kinds, in theirs. */
    readonly rank: number
    readonly list: Difference[]
  }
  const shown = $derived(differences.filter(choices.isShown))
  const groups = $derived.by(() => {
    const found = new Map<string, Group>()
    for (const difference of shown) {
      const { change } = difference
      const { kind } = change.address
      const ofKind = isFree(kind) && kind !== 'table'
      const name = kind === 'table' && change.action === 'rename' ? change.to : namesOf(change.address).table
      const title = ofKind ? KINDS[kind].many : name
      const key = `${ofKind ? kind : ''} ${title}`
      const rank = ofKind ? 1 + FREE_KINDS.indexOf(kind) : 0
      const group = found.get(key) ?? { title, entity: ofKind ? undefined : entityOf(name), rank, list: [] }
      group.list.push(difference)
      found.set(key, group)
    }
    return [...found.values()].sort((a, b) => a.rank - b.rank || a.title.localeCompare(b.title))
  })
  function entityOf(table: string) {
    const id = compared?.wanted.tables.find((t) => t.name === table)?.origin?.id
    return id === undefined ? undefined : desk.design.entities[id]
  }

  // What is selected elsewhere comes into view here, where it differs.
  let list = $state<HTMLElement>()
  const selected = $derived(selectedEntity(desk.selection))
  $effect(() => {
    if (selected !== undefined)
      list?.querySelector(`[data-entity="${CSS.escape(selected)}"]`)?.scrollIntoView({ block: 'start' })
  })
  function alongWith(key: string): string | undefined {
    const by = alongWriting[key]
    const found = differences.find((difference) => difference.key === by)
    return found && describe(found).what
  }

  function show({ change }: Difference) {
    const id =
      change.origin?.id ?? compared?.wanted.tables.find((t) => t.name === namesOf(change.address).table)?.origin?.id
    if (id === undefined) return
    const { entity: owner, attribute } = ownerOf(desk.design, id)
    if (owner && !desk.design.links[id])
      desk.select(
        attribute ? { kind: 'row', entity: owner.id, row: attribute.id } : { kind: 'entity', entity: owner.id }
      )
    else if (desk.design.links[id]) desk.select({ kind: 'link', link: id })
    void goto(resolve('/design/[id]', { id: desk.design.id }))
  }

  const counts = $derived(countByWho(differences))
  const filters: readonly { readonly who: Judged | 'all'; readonly word: string }[] = [
    { who: 'all', word: 'All' },
    { who: 'design', word: 'by the design' },
    { who: 'database', word: 'by the database' },
    { who: 'both', word: 'by both' },
    { who: 'not known', word: 'never agreed' },
    { who: 'cannot tell', word: 'cannot be told' }
  ]
  const everything: readonly Direction[] = ['write', 'take', 'leave']
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
  <TargetHead {target}>
    {#if target.connection === 'none'}
      <button class="{button} !py-1" onclick={compareWithFiles}>Compare with files</button>
    {:else}
      <button class="{button} !py-1" disabled={status?.state === 'looking' || run?.running} onclick={again}
        >Compare again</button
      >
    {/if}
  </TargetHead>
  <div class="flex min-h-0 flex-1">
    <section class="flex min-w-0 flex-1 flex-col border-r border-line" aria-label="Differences">
      {#if cutOff}
        <p role="alert" class="flex flex-wrap items-center gap-3 bg-ochre-tint px-5 py-2 text-[13px] text-secondary">
          A run that began {new Date(cutOff.startedAt).toLocaleString()} was cut off{lost ? `: ${lost}` : '.'}
          <button class="font-semibold underline" onclick={takeUp}>Take it up where it was</button>
          <button class="underline" onclick={giveUp}>Leave it: make a new plan</button>
        </p>
      {/if}
      {#if status?.state === 'unreachable'}
        <p role="alert" class="m-5 rounded bg-brick-tint px-3 py-2 text-error">
          The database cannot be reached: {status.message} Compare again, or look at the target’s settings.
        </p>
      {:else if status?.state === 'held back'}
        <p role="alert" class="m-5 rounded bg-brick-tint px-3 py-2 text-error">{status.message}</p>
      {:else if status?.state === 'not signed in'}
        <SignIn {target} onopen={again} />
      {:else if target.connection === 'none' && status?.files === undefined}
        <p class="max-w-prose p-5 text-soft">
          This target has no database; its script is on the Draft step. A newer script or dump of the database can be
          compared in its place: what changed there is taken into the design, or a script is written that changes it.
        </p>
      {:else if status?.state === 'looking' && !compared}
        <p class="flex items-center gap-2 p-5 text-soft" role="status">
          <span class="loading loading-sm loading-spinner" aria-hidden="true"></span>Reading what the database holds …
        </p>
      {/if}
      {#if trouble}
        <p role="alert" class="m-5 rounded bg-brick-tint px-3 py-2 text-error">{trouble}</p>
      {/if}
      {#if status?.files !== undefined}
        <p class="border-b border-line px-5 py-1.5 text-[13px]" role="status">
          Compared with {status.files}.
          {#if unread.length > 0}
            <span class="text-error" title={unread.map(({ place, why }) => `${place}: ${why ?? ''}`).join('\n')}
              >{count(unread.length, 'statement', 'statements')} not understood, from {unread[0]?.place} on.</span
            >
          {/if}
        </p>
      {/if}
      {#if compared}
        {#if differences.length > 0}
          <div class="flex shrink-0 flex-wrap items-center gap-1 px-4 py-1.5 text-[13px]">
            <span class="mr-1 text-soft" id="by">Changed</span>
            {#each filters as { who, word } (who)}
              {@const n = who === 'all' ? differences.length : counts[who]}
              {#if n > 0}
                <button
                  class="rounded-full px-2 py-0.5 {choices.shown === who
                    ? 'bg-sea-tint font-semibold text-primary'
                    : 'hover:bg-base-300'}"
                  aria-pressed={choices.shown === who}
                  onclick={() => (choices.shown = who)}>{word} {n}</button
                >
              {/if}
            {/each}
            <span class="ml-auto text-soft">{shown.length < differences.length ? 'These' : 'All'}:</span>
            {#each everything as direction (direction)}
              <button
                class="rounded border border-line px-2 py-0.5 hover:bg-base-300"
                onclick={() =>
                  choices.set(
                    shown.map((difference) => difference.key),
                    direction
                  )}>{direction}</button
              >
            {/each}
          </div>
        {/if}
        <div class="min-h-0 flex-1 overflow-y-auto" bind:this={list}>
          {#if differences.length === 0}
            <div
              class="grid place-content-center gap-1 text-center {compared.carried.length > 0 || engine?.misfits
                ? 'py-10'
                : 'h-full'}"
            >
              <p class="text-lg font-semibold">In step</p>
              <p class="text-soft">
                {target.name} holds what the design says, {count(
                  compared.wanted.tables.length,
                  engine?.profile.words?.table?.[0] ?? 'table',
                  engine?.profile.words?.table?.[1] ?? 'tables'
                )} of it.
              </p>
            </div>
          {:else}
            {#if status?.baselined === false && counts['not known'] > 0}
              <p class="mx-5 my-2 rounded bg-sea-tint px-3 py-2 text-[13px]">
                Design and database have never agreed on anything, so nobody can say who changed what.
                <button class="font-semibold underline" onclick={() => desk.baseline(targetId)}
                  >Take the database as it is for agreed</button
                >: nothing is run.
              </p>
            {/if}
            <table class="w-full table-fixed text-left">
              <thead class="sticky top-0 z-10 bg-base-300 text-[13px] text-soft">
                <tr>
                  <th class="w-[29%] px-5 py-1.5 font-medium">Difference</th>
                  <th class="px-2 font-medium">Design wants</th>
                  <th class="px-2 font-medium">Last agreed</th>
                  <th class="px-2 font-medium">Database has</th>
                  <th class="w-[162px] px-2 font-medium">Which way</th>
                </tr>
              </thead>
              {#each groups as group (`${group.rank} ${group.title}`)}
                <tbody class="scroll-mt-8" data-entity={group.entity?.id}>
                  <tr
                    ><th colspan="5" class="border-b border-line bg-base-200 px-5 pt-2 pb-1 font-semibold"
                      ><span class={group.rank > 0 ? 'inline-block first-letter:uppercase' : ''}
                        >{group.entity?.name ?? group.title}</span
                      >
                      {#if group.entity}<span class="font-mono text-xs font-normal text-soft">{group.title}</span
                        >{/if}</th
                    ></tr
                  >
                  {#each group.list as difference (difference.key)}
                    <DifferenceRow
                      {difference}
                      words={engine?.profile.words}
                      {choices}
                      along={alongWith(difference.key)}
                      onshow={() => show(difference)}
                      onkeep={(reason) => keep(difference, reason)}
                    />
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
              ▲ {likely.column ?? likely.table} may be {likely.to} under its old name ({likely.because}).
              <button class="font-semibold underline" onclick={() => desk.confirm(targetId, likely)}
                >They are the same</button
              >. As it stands, one goes and the other comes.
            </p>
          {/each}
          {#each target.ignored ?? [] as item, i (i)}
            <p class="px-5 py-0.5 text-[13px] text-soft">
              Kept different: {[...item.path.slice(1), item.property].filter(Boolean).join('.') || item.path[0]} ({item.reason}).
              <button
                class="underline"
                onclick={() => set({ ignored: target.ignored?.filter((other) => other !== item) })}
                >Compare it again</button
              >
            </p>
          {/each}
          {#each status?.live?.unread ?? [] as item (item.kind + item.name)}
            <p class="px-5 py-0.5 text-[13px] text-soft">Not compared: the {item.kind} {item.name}.</p>
          {/each}
          {#if engine?.misfits && live && status?.live}
            <Misfits dialect={engine} {live} wanted={compared.wanted} there={status.live} />
          {/if}
          {#if compared.carried.length > 0 && engine}
            <Carried carried={compared.carried} {engine} onhold={hold} />
          {/if}
        </div>
        {#if taking.length > 0}
          <div class="border-t border-line px-5 py-2.5">
            {#if conflicts.length > 0}
              <ul role="alert" class="mb-2 text-[13px] text-error">
                {#each conflicts as conflict (conflict)}<li>{conflict}</li>{/each}
              </ul>
            {/if}
            <div class="flex flex-wrap items-center gap-2">
              <span>Take {count(taking.length, 'change', 'changes')} into the design:</span>
              <button
                class="ml-auto rounded-md bg-primary px-3 py-1.5 font-semibold text-primary-content"
                onclick={() => takeChosen(false)}>for every target</button
              >
              <button class={button} onclick={() => takeChosen(true)}>for {target.name} only</button>
            </div>
          </div>
        {/if}
      {/if}
    </section>
    <Plan
      {target}
      {run}
      {back}
      {obstacle}
      behind={stale || making > 0}
      onrun={go}
      onhand={(anchor, place, statement) =>
        set({ handSteps: [...(target.handSteps ?? []), { id: newId('stp'), statement, place, anchor }] })}
      onunhand={(id) => set({ handSteps: target.handSteps?.filter((step) => step.id !== id) })}
      onagain={again}
    />
  </div>
{/if}
