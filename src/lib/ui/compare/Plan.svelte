<!-- The plan for what is chosen to be written: steps, what may go wrong, the way back, and running it. -->
<script lang="ts">
  import { namesOf } from '../../core/catalog'
  import { differenceKey } from '../../core/compare'
  import { dialect, printScript } from '../../core/dialects'
  import { migrationScript, rehearsal } from '../../core/plan'
  import type { Target } from '../../core/design'
  import { saveFile } from '../../storage'
  import { useDesk } from '../desk/desk.svelte'
  import { count, today } from '../desk/words'
  import { describe } from './describe'
  import SqlView from '../script/SqlView.svelte'
  import Rehearse from './Rehearse.svelte'
  import { Rehearsing } from './rehearsing.svelte'
  import StepCard from './StepCard.svelte'
  import type { Run } from './run.svelte'

  interface Props {
    readonly target: Target
    readonly run: Run | undefined
    readonly back: readonly string[]
    /** Why nothing may be run now. */
    readonly obstacle: string | undefined
    /** The design or a choice has moved on: the plan that follows it is on its way. */
    readonly behind: boolean
    readonly onrun: (upTo?: number) => void
    readonly onhand: (anchor: string, place: 'before' | 'after', statement: string) => void
    readonly onunhand: (id: string) => void
    readonly onagain: () => void
  }
  const { target, run, back, obstacle, behind, onrun, onhand, onunhand, onagain }: Props = $props()
  const desk = useDesk()

  let acceptLoss = $state(false)
  let typed = $state('')
  // Unlocked for this run only: a new plan is locked again.
  let unlocked = $state<Run>()
  const losers = $derived(
    run?.migration.steps.filter((step) => step.hazards.some((hazard) => hazard.kind === 'loses data')) ?? []
  )
  const losing = $derived(losers.length)
  // What was read holds for a plan made again, as long as it loses the same.
  const losses = $derived(losers.map((step) => step.statement).join('\n'))
  $effect(() => {
    void losses
    acceptLoss = false
  })
  function unlock() {
    if (typed.trim() !== target.name) return
    unlocked = run
    typed = ''
  }
  const locked = $derived(target.locked === true && unlocked !== run)
  const ready = $derived(
    run !== undefined && !obstacle && !behind && !locked && !run.running && run.left > 0 && (losing === 0 || acceptLoss)
  )
  const doneSteps = $derived(run?.done.size ?? 0)
  const total = $derived(run?.migration.steps.length ?? 0)
  /** How many steps each transaction has. */
  const together = $derived.by(() => {
    const steps = new Map<number, number>()
    for (const { group } of run?.migration.steps ?? []) steps.set(group, (steps.get(group) ?? 0) + 1)
    return steps
  })
  const engine = $derived(dialect(target.engine, target.version))
  const printed = (statements: readonly { readonly sql: string }[]) => (engine ? printScript(statements, engine) : '')
  /** Of the plan that it was opened for: a new plan has been tried nowhere. */
  let opened = $state.raw<{ readonly run: Run; readonly rehearsing: Rehearsing }>()
  const rehearsing = $derived(opened?.run === run ? opened?.rehearsing : undefined)
  let told = $state(true)
  const mayRehearse = $derived(
    run?.live.rehearse !== undefined &&
      engine?.waysOf !== undefined &&
      !target.locked &&
      !behind &&
      total > 0 &&
      doneSteps === 0
  )
  function rehearse() {
    const trial = run && engine && rehearsal(run.migration.from, run.migration, engine)
    told = true
    opened = trial ? { run, rehearsing: new Rehearsing(run.live, trial) } : undefined
  }
  const script = () => (run && engine ? printed(migrationScript(run.migration, engine)) : '')
  /** What is to be read of it as a whole, before it is saved. */
  let read = $state<'script' | 'way back'>()
  const wayBack = () => printed(back.map((sql) => ({ sql })))
  const show = (what: 'script' | 'way back') => (read = read === what ? undefined : what)
  function save(back: boolean) {
    const name = `${desk.design.name}, ${target.name}, ${back ? 'way back, ' : ''}${today()}.${engine?.profile.features.commands ?? 'sql'}`
    saveFile(name, back ? wayBack() : script(), 'text/plain')
  }
  const button =
    'rounded-md border border-line bg-base-100 px-3 py-1.5 font-semibold hover:bg-base-300 disabled:opacity-50'
</script>

<section class="flex w-[460px] shrink-0 flex-col" aria-label="Plan">
  <div class="flex h-11 shrink-0 items-center gap-3 px-4">
    <h2 class="text-lg font-semibold">Plan</h2>
    <span class="text-[13px] text-soft" role="status"
      >{run
        ? `${count(total, 'step', 'steps')}${doneSteps ? `, ${doneSteps.toLocaleString('en')} done` : ''}`
        : ''}</span
    >
    {#if run?.running}<progress
        class="h-1.5 flex-1 accent-primary"
        max={total}
        value={doneSteps}
        aria-label="Steps done"
      ></progress>{/if}
    {#if mayRehearse && !run?.running}
      <button class="{button} ml-auto !py-0.5" aria-expanded={rehearsing !== undefined && told} onclick={rehearse}
        >Rehearse …</button
      >
    {/if}
  </div>
  {#if rehearsing && told && mayRehearse}<Rehearse {rehearsing} onclose={() => (told = false)} />{/if}
  {#if run?.ended === 'changed'}
    <div role="alert" class="mx-4 mb-2 rounded bg-brick-tint px-3 py-2 text-[13px] text-error">
      <p class="font-semibold">The database is not what this plan was made for: nothing was run.</p>
      <p>
        Somebody changed {run.changes
          .slice(0, 3)
          .map(
            (change) =>
              `${namesOf(change.address).table}${change.address.kind === 'table' ? '' : `.${namesOf(change.address).name}`}`
          )
          .join(', ')}{run.changes.length > 3 ? ' and more' : ''} since.
        <button class="font-semibold underline" onclick={onagain}>Compare again</button>
      </p>
    </div>
  {/if}
  {#if run?.migration.left}
    <div role="alert" class="mx-4 mb-2 rounded bg-ochre-tint px-3 py-2 text-[13px] text-secondary">
      <p class="font-semibold">{engine?.profile.label} has no statement for this, and it stays as it is:</p>
      <ul>
        {#each run.migration.left as change (differenceKey(change))}
          {@const { what, detail } = describe({ change }, engine?.profile.words)}
          <li>{what}: {detail}</li>
        {/each}
      </ul>
    </div>
  {/if}
  {#if run?.heldBy}
    <div role="alert" class="mx-4 mb-2 rounded bg-brick-tint px-3 py-2 text-[13px] text-error">
      <p class="font-semibold">Another run holds this database: nothing was run.</p>
      <p>
        {run.heldBy.holder} began {new Date(run.heldBy.since).toLocaleString()}. If that run is gone,
        <button class="font-semibold underline" onclick={() => run?.breakLock()}>break its lock</button>.
      </p>
    </div>
  {/if}
  {#if run && read}
    <div class="flex min-h-0 flex-1 flex-col px-4 pb-3">
      <div class="flex items-center gap-2 pb-1 text-[13px]">
        <b class="mr-auto">{read === 'script' ? 'The script' : 'The way back'}</b>
        <button
          class="rounded bg-primary px-2.5 py-0.5 font-semibold text-primary-content"
          onclick={() => save(read === 'way back')}>Save the file</button
        >
        <button class="px-1 text-soft underline" onclick={() => (read = undefined)}>Back to the steps</button>
      </div>
      <div class="min-h-0 flex-1 overflow-hidden rounded border border-line">
        <SqlView
          text={read === 'script' ? script() : wayBack()}
          label={read === 'script' ? 'Script of the plan' : 'Script of the way back'}
        />
      </div>
    </div>
  {/if}
  <ol class="{run && read ? 'hidden' : ''} min-h-0 flex-1 space-y-2 overflow-y-auto px-4 pb-3">
    {#if run}
      {#each run.migration.steps as step, i (step.id)}
        <StepCard
          {step}
          number={i + 1}
          {run}
          opens={i === 0 || run.migration.steps[i - 1]?.group !== step.group}
          together={together.get(step.group) ?? 1}
          dialect={engine}
          tried={rehearsing?.tried.get(step.id)}
          canRun={ready}
          onrunto={() => onrun(step.group)}
          {onhand}
          {onunhand}
        />{:else}
        <li class="text-soft">Nothing to write. Choose <b>write</b> beside a difference and its steps stand here.</li>
      {/each}
    {/if}
  </ol>
  {#if obstacle}
    <p role="alert" class="mx-4 mb-2 rounded bg-brick-tint px-3 py-2 text-[13px] text-error">{obstacle}</p>
  {/if}
  {#if run && total > 0}
    <div class="border-t border-line px-4 py-2.5">
      {#if locked && run.left > 0}
        <form
          class="mb-2 flex items-center gap-2 text-[13px]"
          onsubmit={(event) => {
            event.preventDefault()
            unlock()
          }}
        >
          <label class="flex flex-1 items-center gap-2 whitespace-nowrap"
            ><span>Locked: type <b>{target.name}</b></span>
            <input
              class="w-28 flex-1 rounded border border-line bg-base-100 px-2 py-1"
              bind:value={typed}
              autocomplete="off"
              aria-label="Type {target.name} to unlock it for this run"
            />
          </label>
          <button class="{button} !py-1" disabled={typed.trim() !== target.name}>Unlock for this run</button>
        </form>
      {/if}
      {#if losing > 0 && run.left > 0}
        <label class="mb-2 flex items-center gap-2 text-[13px] text-error">
          <input type="checkbox" class="size-4 accent-primary" bind:checked={acceptLoss} />
          {count(losing, 'step loses', 'steps lose')} data. I have read which.
        </label>
      {/if}
      <div class="flex flex-wrap gap-2">
        <button class={button} aria-expanded={read === 'script'} onclick={() => show('script')}>Script</button>
        <button class={button} aria-expanded={read === 'way back'} onclick={() => show('way back')}>Way back</button>
        {#if run.running}
          <button class="{button} ml-auto" onclick={() => run?.stop()}>Stop after this step</button>
        {:else if run.left > 0}
          <button class="{button} ml-auto" disabled={!ready} onclick={() => onrun(run?.next)}>Run next</button>
          <button
            class="rounded-md bg-primary px-3 py-1.5 font-semibold text-primary-content disabled:opacity-50"
            disabled={!ready}
            onclick={() => onrun()}>{doneSteps ? 'Run the rest' : 'Run all'}</button
          >
        {:else}
          <span class="ml-auto self-center font-semibold text-success">✓ all steps done</span>
        {/if}
      </div>
    </div>
  {/if}
</section>
