<!-- One step of a plan: its statement, what may go wrong, what became of it. -->
<script lang="ts">
  import { stepKey, type Step } from '../../core/plan'
  import { count, duration } from '../desk/words'
  import { printStatement, type Dialect } from '../../core/dialects'
  import type { Tried } from './rehearsing.svelte'
  import type { Run } from './run.svelte'

  interface Props {
    readonly step: Step
    readonly number: number
    readonly run: Run
    readonly dialect: Dialect | undefined
    /** It is the first step of its transaction, of so many. */
    readonly opens: boolean
    readonly together: number
    /** What came of it on empty tables. */
    readonly tried: Tried | undefined
    readonly canRun: boolean
    readonly onrunto: () => void
    readonly onhand: (anchor: string, place: 'before' | 'after', statement: string) => void
    readonly onunhand: (id: string) => void
  }
  const { step, number, run, dialect, opens, together, tried, canRun, onrunto, onhand, onunhand }: Props = $props()
  const inWords = (statement: string) => (dialect ? printStatement(statement, dialect) : statement)
  let place = $state<'before' | 'after'>()
  let own = $state('')
  const result = $derived(run.results.get(step.id))
  const preflight = $derived(run.preflights.get(step.id))
  let showUndo = $state(false)
  let repair = $state('')
  let problem = $state('')
  let repaired = $state(false)

  async function putRight() {
    problem = (await run.repair(repair)) ?? ''
    repaired = problem === ''
  }
  const quiet = $derived(step.hazards.length === 0)
</script>

{#if opens && together > 1}
  <li class="pt-1 text-xs text-soft">These {together} steps are one transaction: all of them or none.</li>
{/if}
<li
  class="rounded-md border [contain-intrinsic-size:auto_120px] [content-visibility:auto] bg-base-100 px-3 py-2 {result?.state ===
    'failed' || result?.state === 'unknown'
    ? 'border-error'
    : 'border-line'}"
  aria-label="Step {number}"
>
  <div class="flex gap-3">
    <span class="w-5 shrink-0 text-right text-[13px] font-semibold text-soft">{number}</span>
    <div class="min-w-0 flex-1">
      <pre class="overflow-x-auto font-mono text-[12.5px] leading-snug whitespace-pre-wrap" tabindex="-1">{inWords(
          step.statement
        )}</pre>
      {#if result?.state === 'done'}
        <p class="mt-1 text-[13px] font-semibold text-success">
          ✓ {result.before ? 'was done already' : `done in ${duration(result.time)}`}{result.affected
            ? `, ${count(result.affected, 'row', 'rows')}`
            : ''}
        </p>
      {:else if result?.state === 'under way'}
        <p class="mt-1 text-[13px] text-soft">
          {count(result.affected, 'document', 'documents')} so far{run.running
            ? ' …'
            : '. The rest goes on from there.'}
        </p>
      {:else if result?.state === 'failed'}
        <div role="alert" class="mt-1 rounded bg-brick-tint px-2 py-1.5 text-[13px] text-error">
          <p class="font-semibold">The database refused this: {result.error.message}</p>
          {#if result.error.detail}<p>{result.error.detail}</p>{/if}
          <p class="text-base-content">
            {step.repeatable
              ? 'What it has done to other documents stays, and is not done twice. Put this one right, then run the rest.'
              : 'Nothing of this step was kept. Put it right in the design or in the rows, then run the rest.'}
          </p>
        </div>
      {:else if result?.state === 'unknown'}
        <div role="alert" class="mt-1 rounded bg-brick-tint px-2 py-1.5 text-[13px] text-error">
          <p>
            Nobody can tell whether this was done: the run was cut off here, or somebody else changed the database.
            Look, and say.
          </p>
          <p class="mt-1 flex gap-3">
            <button class="font-semibold underline" onclick={() => run.settle(step.group, 'done')}>It is done</button>
            <button class="font-semibold underline" onclick={() => run.settle(step.group, 'to do')}
              >It is not done: run it</button
            >
          </p>
        </div>
      {:else}
        <ul class="mt-1 text-[13px]">
          {#if quiet || step.effects.length === 0}<li
              class={step.hand === undefined ? 'text-success' : 'text-secondary'}
            >
              ● {step.why}
            </li>{/if}
          {#each step.hazards as hazard, i (i)}
            <li
              class={hazard.kind === 'loses data' || hazard.kind === 'cannot be undone'
                ? 'text-error'
                : 'text-secondary'}
            >
              {hazard.kind === 'loses data' ? '✕' : '▲'} <b>{hazard.kind}</b>: {hazard.sentence}{hazard.kind ===
                'may fail' &&
              (preflight?.count !== undefined || preflight?.later)
                ? ';'
                : ''}
              {#if hazard.kind === 'may fail' && preflight?.count !== undefined}
                {#if preflight.count > 0}
                  <button class="font-semibold underline" onclick={() => run.showRows(step)}
                    >{count(preflight.count, 'row', 'rows')} would</button
                  >
                {:else}<span class="text-success">no row would now</span>{/if}
              {:else if hazard.kind === 'may fail' && preflight?.later}<span class="text-soft"
                  >known once the steps before have run</span
                >{:else if hazard.kind === 'loses data' && preflight?.changes !== undefined}
                {preflight.changes === 0
                  ? '(no value would now)'
                  : `(${count(preflight.changes, 'value', 'values')} would)`}{/if}
            </li>
          {/each}
          {#if tried?.error !== undefined}<li class="font-semibold text-error">
              ✕ refused on empty tables: {tried.error}
            </li>
          {:else if tried}<li class="text-soft">✓ on empty tables: {tried.how}</li>{/if}
        </ul>
      {/if}
      {#if preflight?.rows && result?.state !== 'done'}
        <div class="mt-1 max-h-40 overflow-auto rounded border border-line">
          <table class="w-full text-left text-xs">
            <thead
              ><tr
                >{#each preflight.rows.columns as column (column)}<th class="border-b border-line px-2 py-0.5 font-mono"
                    >{column}</th
                  >{/each}</tr
              ></thead
            >
            <tbody>
              {#each preflight.rows.rows as row, i (i)}
                <tr
                  >{#each row as cell, c (c)}<td class="px-2 py-0.5 whitespace-nowrap"
                      >{cell === null ? '—' : String(cell)}</td
                    >{/each}</tr
                >
              {/each}
            </tbody>
          </table>
        </div>
      {/if}
      {#if result?.state === 'failed' || (preflight?.rows && (preflight.count ?? 0) > 0 && result?.state !== 'done')}
        <form
          class="mt-1.5 flex gap-1.5"
          onsubmit={(event) => {
            event.preventDefault()
            void putRight()
          }}
        >
          <input
            class="min-w-0 flex-1 rounded border border-line bg-base-100 px-2 py-1 font-mono text-xs"
            aria-label="A statement of your own, run before step {number}"
            placeholder="a statement of your own, to put rows right"
            bind:value={repair}
          />
          <button
            class="rounded border border-line px-2 py-0.5 text-[13px] font-semibold hover:bg-base-300"
            disabled={repair.trim() === '' || run.running}>Run it</button
          >
        </form>
        {#if problem}<p role="alert" class="mt-1 text-[13px] text-error">{problem}</p>{:else if repaired}<p
            class="mt-1 text-[13px] text-success"
          >
            ✓ It ran. Now run the rest.
          </p>{/if}
      {/if}
      {#if place}
        <form
          class="mt-1.5 flex gap-1.5"
          onsubmit={(event) => {
            event.preventDefault()
            if (place && own.trim()) onhand(stepKey(step), place, own.trim())
            own = ''
            place = undefined
          }}
        >
          <!-- svelte-ignore a11y_autofocus -->
          <input
            class="min-w-0 flex-1 rounded border border-line bg-base-100 px-2 py-1 font-mono text-xs"
            aria-label="A statement of your own, {place} step {number}"
            placeholder="a statement of your own, {place} this step"
            bind:value={own}
            autofocus
          />
          <button class="rounded border border-line px-2 py-0.5 text-[13px] font-semibold hover:bg-base-300"
            >Put it there</button
          >
        </form>
      {/if}
      {#if step.undo.length > 0 && showUndo}
        <pre class="mt-1 rounded bg-base-200 px-2 py-1 font-mono text-xs whitespace-pre-wrap">{step.undo
            .map(inWords)
            .join('\n')}</pre>
      {/if}
    </div>
    <div class="flex shrink-0 flex-col items-end gap-0.5 self-start text-xs text-soft">
      {#if step.undo.length > 0}
        <button class="underline" aria-expanded={showUndo} onclick={() => (showUndo = !showUndo)}>way back</button>
      {/if}
      {#if result?.state !== 'done'}
        <button class="underline disabled:no-underline" disabled={!canRun} onclick={onrunto}>run to here</button>
        {#if step.hand === undefined}
          <span
            >add <button class="underline" onclick={() => (place = 'before')}>before</button> ·
            <button class="underline" onclick={() => (place = 'after')}>after</button></span
          >
        {:else}
          <button class="underline" onclick={() => onunhand(step.hand ?? '')}>take out</button>
        {/if}
      {/if}
    </div>
  </div>
</li>
