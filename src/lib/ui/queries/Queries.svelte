<!-- Statements by hand against one target: answers as grids, messages, what was sent before, and queries kept with the design. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import { newId } from '../../core/design'
  import SignIn from '../databases/SignIn.svelte'
  import { connect } from '../databases/connect'
  import TargetHead from '../compare/TargetHead.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import { count, duration } from '../desk/words'
  import { dialect as dialectOf } from '../../core/dialects'
  import { onlyReads, type QueryResult } from '../../live'
  import AllRows from './AllRows.svelte'
  import Grid from './Grid.svelte'
  import { querySession, QuerySession } from './session.svelte'
  import Tree from './Tree.svelte'
  import SqlEditor from './SqlEditor.svelte'
  import { targetKey } from '../../storage'

  const { targetId }: { targetId: string } = $props()
  const desk = useDesk()
  const target = $derived(desk.design.targets[targetId])
  const dialect = $derived(target && dialectOf(target.engine, target.version))
  const status = $derived(desk.status.get(targetId))
  const live = $derived(target && connect(desk.design, target))
  // One session for the target: its text and answers stay while the design is edited, or another page is looked at.
  const session = untrack(() => {
    const id = targetId
    const key = targetKey(desk.design.id, id)
    return querySession(key, () => {
      const open = () => {
        const found = desk.design.targets[id]
        return found && connect(desk.design, found)
      }
      return new QuerySession(
        open,
        key,
        { onbegin: () => desk.mayHaveChanged(id), onend: () => void desk.look(id) },
        () => desk.design.targets[id]?.locked === true
      )
    })
  })

  /** Documents one beneath the other, or as rows. */
  let shownAs = $state<'tree' | 'grid'>('tree')
  let name = $state('')
  const saved = $derived(target?.queries ?? [])

  function keep() {
    if (!target || name.trim() === '' || session.text.trim() === '') return
    const others = saved.filter((query) => query.name !== name.trim())
    const queries = [...others, { id: newId('qry'), name: name.trim(), sql: session.text }]
    desk.edit({ kind: 'object.set', collection: 'targets', object: { ...target, queries } })
    name = ''
  }
  const forget = (id: string) => {
    if (target)
      desk.edit({
        kind: 'object.set',
        collection: 'targets',
        object: { ...target, queries: saved.filter((query) => query.id !== id) }
      })
  }
  const rowsIn = ({ rows, documents }: QueryResult) =>
    documents ? count(rows.length, 'document', 'documents') : count(rows.length, 'row', 'rows')
  const button =
    'rounded-md border border-line bg-base-100 px-3 py-1 font-semibold hover:bg-base-300 disabled:opacity-50'
</script>

{#if target && live}
  <TargetHead {target} />
  {#if status?.state === 'not signed in'}
    <SignIn {target} onopen={() => desk.look(targetId)} />
  {:else}
    <div class="flex min-h-0 flex-1">
      <section class="flex min-w-0 flex-1 flex-col gap-2 p-4" aria-label="Query">
        <SqlEditor
          bind:text={session.text}
          engine={target.engine}
          live={status?.live}
          onrun={() => session.run(session.text)}
        />
        <div class="flex flex-wrap items-center gap-3">
          {#if session.running}
            <button class={button} onclick={() => session.cancel()}
              >{session.stoppable ? 'Stop' : 'Stop waiting'}</button
            >
            <span class="text-[13px] text-soft" role="status"
              >{count(session.waiting, 'statement', 'statements')} to go …</span
            >
          {:else}
            <button
              class="rounded-md bg-primary px-3 py-1 font-semibold text-primary-content disabled:opacity-50"
              disabled={session.text.trim() === ''}
              onclick={() => session.run(session.text)}>Send</button
            >
            <span class="text-[13px] text-soft">or Ctrl Enter</span>
          {/if}
          <label class="flex items-center gap-1.5 text-[13px]">
            {#if target.locked}
              <input type="checkbox" class="size-4 accent-primary" checked disabled />
              Read only: this target is locked
            {:else}
              <input type="checkbox" class="size-4 accent-primary" bind:checked={session.readOnly} />
              Read only: only what reads is sent
            {/if}
          </label>
          {#if !session.readOnly && !target.locked}
            <span class="text-[13px] font-semibold text-error">▲ Statements may change the database now.</span>
          {/if}
          <form
            class="ml-auto flex gap-1.5"
            onsubmit={(event) => {
              event.preventDefault()
              keep()
            }}
          >
            <input
              class="w-40 rounded border border-line bg-base-100 px-2 py-1"
              placeholder="name to keep it by"
              aria-label="Name to keep this query by"
              bind:value={name}
            />
            <button class={button} disabled={name.trim() === '' || session.text.trim() === ''}>Keep</button>
          </form>
        </div>
        {#if session.open}
          <div class="flex items-center gap-3 rounded bg-brick-tint px-3 py-2" role="status">
            <span>A transaction is open here: what it has done may still be undone.</span>
            <button class={button} disabled={session.running} onclick={() => session.end('COMMIT')}>Commit</button>
            <button class={button} disabled={session.running} onclick={() => session.end('ROLLBACK')}>Roll back</button>
          </div>
        {/if}
        <div class="min-h-0 flex-1 space-y-3 overflow-y-auto" aria-live="polite">
          {#each session.answers as answer, i (i)}
            <article aria-label="Answer {i + 1}">
              {#if answer.sql}
                <p class="truncate font-mono text-xs text-soft" title={answer.sql}>{answer.sql}</p>
              {/if}
              {#if answer.error !== undefined}
                <p role="alert" class="rounded bg-brick-tint px-3 py-2 text-error">{answer.error}</p>
              {:else if answer.result}
                {#if answer.result.columns.length > 0}
                  {#if answer.result.documents}
                    <div class="mb-0.5 flex gap-1 text-[13px]" role="group" aria-label="How answer {i + 1} is shown">
                      {#each ['tree', 'grid'] as const as way (way)}<button
                          class="rounded border border-line px-2 {shownAs === way ? 'bg-base-300 font-semibold' : ''}"
                          aria-pressed={shownAs === way}
                          onclick={() => (shownAs = way)}>{way}</button
                        >{/each}
                    </div>
                  {/if}
                  {#if answer.result.documents && shownAs === 'tree'}
                    <Tree result={answer.result} label="Documents of answer {i + 1}" />
                  {:else}<Grid result={answer.result} label="Rows of answer {i + 1}" />{/if}
                {/if}
                <p class="mt-0.5 text-[13px] text-success">
                  ✓ {answer.result.columns.length > 0
                    ? `${answer.result.more ? 'the first ' : ''}${rowsIn(answer.result)}${answer.result.more ? '; there are more' : ''}`
                    : `${count(answer.result.affected, 'row', 'rows')} changed`}, {duration(
                    answer.time
                  )}{answer.result.messages?.map((message) => `; ${message}`).join('') ?? ''}
                </p>
                {#if answer.result.more && !session.open && dialect && onlyReads(answer.sql, dialect)}
                  <AllRows {live} sql={answer.sql} name="{target.name} rows" />
                {/if}
              {/if}
            </article>
          {:else}
            <p class="text-soft">
              Write one statement or several, each ended by a semicolon. Each has its answer here; the first one refused
              ends it.
            </p>
          {/each}
        </div>
      </section>
      <aside
        class="flex w-72 shrink-0 flex-col overflow-y-auto border-l border-line bg-base-200 p-4"
        aria-label="Kept and sent"
      >
        <h2 class="font-semibold">Kept with the design</h2>
        <ul class="mb-4">
          {#each saved as query (query.id)}
            <li class="flex items-baseline gap-2">
              <button
                class="min-w-0 flex-1 truncate text-left hover:underline"
                title={query.sql}
                onclick={() => (session.text = query.sql)}>{query.name}</button
              >
              <button
                class="text-xs text-soft underline"
                onclick={() => forget(query.id)}
                aria-label="Forget {query.name}">forget</button
              >
            </li>
          {:else}<li class="text-[13px] text-soft">None yet. Give a query a name to keep it.</li>{/each}
        </ul>
        <h2 class="font-semibold">Sent before</h2>
        <ul>
          {#each session.history as query, i (i)}
            <li>
              <button
                class="w-full truncate text-left font-mono text-xs hover:underline"
                title={query.error ?? query.sql}
                onclick={() => (session.text = query.sql)}
                ><span class={query.error === undefined ? 'text-success' : 'text-error'}
                  >{query.error === undefined ? '✓' : '✕'}</span
                >
                {query.sql}</button
              >
            </li>
          {:else}<li class="text-[13px] text-soft">Nothing yet.</li>{/each}
        </ul>
      </aside>
    </div>
  {/if}
{:else if target}
  <TargetHead {target} />
  <p class="p-5 text-soft">This target has no database to ask.</p>
{/if}
