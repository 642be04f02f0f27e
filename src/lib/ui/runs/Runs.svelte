<!-- What was run on one target: who, when, each statement and what became of it. -->
<script lang="ts">
  import TargetHead from '../compare/TargetHead.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import { callMyself, whoIsThis } from '../desk/who'
  import { count, duration } from '../desk/words'
  import { csvLines, entriesOf, listRuns, saveFile, targetKey, type RunEntry, type RunRecord } from '../../storage'

  const { targetId }: { targetId: string } = $props()
  const desk = useDesk()
  const target = $derived(desk.design.targets[targetId])
  let me = $state(whoIsThis())

  interface Told {
    readonly run: RunRecord
    readonly entries: readonly RunEntry[]
  }
  const load = async (): Promise<Told[]> =>
    Promise.all(
      (await listRuns(targetKey(desk.design.id, targetId))).map(async (run) => ({
        run,
        entries: (await entriesOf(run.id)).filter((entry) => entry.statement !== undefined)
      }))
    )
  const how: Record<NonNullable<RunRecord['how']>, string> = {
    complete: 'all steps done',
    stopped: 'stopped between steps',
    failed: 'a step was refused',
    unknown: 'a step could not be told',
    changed: 'the database was not what the plan was made for',
    'given up': 'cut off, and given up'
  }
  const marks: Partial<Record<RunEntry['state'], string>> = { done: '✓', failed: '✕', 'under way': '…' }
  const tones: Partial<Record<RunEntry['state'], string>> = { done: 'text-success', 'under way': 'text-soft' }

  function toFile(runs: readonly Told[]) {
    const lines = runs.flatMap(({ run, entries }) =>
      entries.map((entry) => [
        run.id,
        run.who,
        new Date(entry.at).toISOString(),
        entry.state,
        entry.time === undefined ? '' : Math.round(entry.time),
        entry.affected,
        entry.message,
        entry.statement
      ])
    )
    const head = ['run', 'who', 'at', 'result', 'milliseconds', 'rows', 'message', 'statement']
    saveFile(`${target?.name ?? 'target'}-runs.csv`, csvLines([head, ...lines]).join(''), 'text/csv')
  }
</script>

{#if target}
  <TargetHead {target} />
  <div class="min-h-0 flex-1 overflow-y-auto px-6 py-4">
    {#await load()}
      <p class="text-soft" role="status">Reading …</p>
    {:then runs}
      <div class="mb-3 flex max-w-4xl items-center gap-3">
        <label class="flex items-center gap-2 text-[13px]"
          >Written down as run by
          <input
            class="w-52 rounded border border-line bg-base-100 px-2 py-1"
            bind:value={me}
            onchange={() => callMyself(me.trim() || 'somebody in this browser')}
          />
        </label>
        {#if runs.length > 0}
          <button
            class="ml-auto rounded-md border border-line bg-base-100 px-3 py-1 font-semibold hover:bg-base-300"
            onclick={() => toFile(runs)}>Save as CSV</button
          >
        {/if}
      </div>
      <ul class="grid max-w-4xl gap-3">
        {#each runs as { run, entries }, newest (run.id)}
          <li class="rounded-md border border-line bg-base-100 px-4 py-3">
            <details open={newest === 0}>
              <summary>
                <b>{new Date(run.startedAt).toLocaleString()}</b>
                <span class="text-soft"
                  >by {run.who}, {count(run.migration.steps.length, 'step', 'steps')} planned:</span
                >
                <span
                  class={run.how === 'complete'
                    ? 'text-success'
                    : run.how === 'stopped'
                      ? 'text-secondary'
                      : 'text-error'}>{run.how === undefined ? 'cut off, or still running' : how[run.how]}</span
                >
              </summary>
              <ol class="mt-1.5 space-y-1">
                {#each entries as entry, i (i)}
                  <li class="flex gap-2 text-[13px]">
                    <span class="w-4 shrink-0 {tones[entry.state] ?? 'text-error'}">{marks[entry.state] ?? '?'}</span>
                    <code class="min-w-0 flex-1 font-mono text-xs whitespace-pre-wrap">{entry.statement}</code>
                    <span class="w-44 shrink-0 text-right text-soft"
                      >{entry.found
                        ? 'found done'
                        : entry.state === 'done'
                          ? duration(entry.time ?? 0)
                          : entry.state === 'under way'
                            ? `${count(entry.affected ?? 0, 'document', 'documents')} so far`
                            : (entry.message ?? entry.state)}</span
                    >
                  </li>
                {/each}
              </ol>
            </details>
          </li>
        {:else}
          <li class="text-soft">Nothing has been run on {target.name} from this browser yet.</li>
        {/each}
      </ul>
    {/await}
  </div>
{/if}
