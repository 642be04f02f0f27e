<!-- Start from what exists: where from, and a look over it before anything is made. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { untrack } from 'svelte'
  import { resolve } from '$app/paths'
  import type { DiagramsBy } from '../../core/adopt'
  import { dialect, ENGINES } from '../../core/dialects'
  import { openFiles } from '../../storage'
  import type { Desk } from '../desk/desk.svelte'
  import Trail from '../desk/Trail.svelte'
  import Databases from './Databases.svelte'
  import { Bringing } from './bringing.svelte'
  import Lines from './Lines.svelte'
  import Unsaid from './Unsaid.svelte'
  import type { Source } from './sources'
  import WhatWasRead from './WhatWasRead.svelte'

  /** With `into`, what is brought joins the design of a desk that is open. */
  const { into }: { into?: Desk } = $props()
  const bringing = new Bringing(untrack(() => into))
  let name = $state('')
  let over = $state(false)
  let making = $state(false)
  const found = $derived(bringing.found)
  const DIAGRAMS: readonly (readonly [DiagramsBy, string])[] = [
    ['schema', 'one a schema'],
    ['links', 'around the most linked'],
    ['keys', 'keys only']
  ]
  const readable = ENGINES.filter(({ id }) => dialect(id)?.readScript)
  const severalSchemas = $derived(new Set(found?.catalog.tables.map(({ schema }) => schema)).size > 1)
  const none = $derived(found?.catalog.tables.every((table) => !bringing.isChosen(table)) ?? true)

  let pasted = $state('')
  /** What was pasted, as the file that it could be. */
  function pastedFile(text: string): File {
    const statements = /^\s*(--|\/\*|create|alter|set|begin|insert|pragma|drop)\b/i.test(text) || /;\s*$/.test(text)
    const rows = /[\t,;|]/.test(text.split('\n', 1)[0] ?? '')
    return new File([text], statements ? 'Pasted.sql' : rows ? 'Pasted.csv' : 'Pasted.txt')
  }

  async function look(source: Source) {
    await bringing.look(source)
    name = bringing.found?.design.name ?? ''
  }
  async function lookAt(files: readonly File[]) {
    if (files.length > 0) await look({ kind: 'files', files })
  }
  const choose = async () =>
    lookAt(await openFiles('.db,.sqlite,.sqlite3,.db3,.sql,.csv,.tsv,.txt,.xlsx,.mdb,.accdb,.jsonl,.ndjson,.json'))

  async function make() {
    making = true
    const id = await bringing.make(name.trim())
    making = false
    if (id !== undefined) await goto(resolve('/design/[id]', { id }))
  }
  const back = () => goto(into ? resolve('/design/[id]/targets', { id: into.design.id }) : resolve('/'))
</script>

<svelte:window
  onkeydown={(event) => {
    if (event.key !== 'Escape') return
    if (found || bringing.looking) bringing.leaveAll()
    else void back()
  }}
/>
<div class="flex {into ? 'min-h-0 flex-1' : 'h-dvh'} flex-col">
  {#if !into}<Trail title="Start from what exists" />{/if}
  <svelte:element this={into ? 'div' : 'main'} class="min-h-0 flex-1 overflow-y-auto px-6 py-5">
    <div class="mx-auto flex h-full max-w-6xl flex-col gap-4">
      <ol class="flex items-center gap-3 text-[13px] font-semibold" aria-label="Steps">
        <li aria-current={found ? undefined : 'step'} class={found ? 'text-soft' : 'step'}>Where from</li>
        <li aria-hidden="true" class="text-soft">···</li>
        <li aria-current={found ? 'step' : undefined} class={found ? 'step' : 'text-soft'}>Look it over</li>
      </ol>
      {#if !found}
        <h1 class="text-xl font-semibold">Where is it?</h1>
        {#if bringing.looking}
          <div role="status" class="rounded-md border border-line bg-base-100 px-6 py-10 text-center">
            <p>Looking at {bringing.looking} …</p>
            <button
              class="mt-3 rounded-md border border-line bg-base-100 px-4 py-2 font-semibold"
              onclick={() => bringing.leaveAll()}>Stop</button
            >
          </div>
        {/if}
        {#if bringing.trouble}
          <p role="alert" class="rounded-md border border-error bg-brick-tint px-4 py-3 text-error">
            {bringing.trouble}
          </p>
        {/if}
        <div class="grid grid-cols-2 gap-4 {bringing.looking ? 'hidden' : ''}">
          <section class="flex flex-col gap-4" aria-label="Files and text">
            <div
              role="group"
              aria-label="Files"
              class="rounded-md border border-dashed px-6 py-10 text-center {over
                ? 'border-primary bg-base-100'
                : 'border-line'}"
              ondragover={(event) => {
                event.preventDefault()
                over = true
              }}
              ondragleave={() => (over = false)}
              ondrop={(event) => {
                event.preventDefault()
                over = false
                void lookAt([...(event.dataTransfer?.files ?? [])])
              }}
            >
              <p>
                An SQLite database; scripts of PostgreSQL or SQLite (.sql), several together in any order; an office
                database (.mdb, .accdb); rows of tables (.csv, .xlsx) or documents (.json, .ndjson), whose columns are
                told by their values. What is chosen is read here, not changed, and sent nowhere.
              </p>
              <button class="mt-3 rounded-md bg-primary px-4 py-2 font-semibold text-primary-content" onclick={choose}
                >Choose files</button
              >
              <p class="mt-2 text-[13px] text-soft">or drop them here</p>
            </div>
            <form
              class="flex flex-col gap-2"
              onsubmit={(event) => {
                event.preventDefault()
                void lookAt([pastedFile(pasted)])
              }}
            >
              <label class="text-[13px] font-semibold" for="bring-paste"
                >Or paste it: statements, rows of a spreadsheet with the columns’ names first, or a name a line</label
              >
              <textarea
                id="bring-paste"
                class="h-24 rounded-md border border-line bg-base-100 px-3 py-2 font-mono text-[13px]"
                bind:value={pasted}></textarea>
              <button
                class="self-start rounded-md border border-line bg-base-100 px-3 py-1.5 font-semibold disabled:opacity-60"
                disabled={pasted.trim() === '' || bringing.looking !== ''}>Look at it</button
              >
            </form>
          </section>
          <Databases onlook={look} />
        </div>
      {:else}
        <div class="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_24rem] gap-4">
          <section class="flex min-h-0 flex-col rounded-md border border-line bg-base-100" aria-label="What would come">
            <h1 class="flex items-baseline gap-2 border-b border-line px-4 py-2.5 font-semibold">
              What would come
              <span class="text-[13px] font-normal text-soft">from {found.name}</span>
            </h1>
            <Lines {bringing} {found} />
          </section>
          <div class="flex min-h-0 flex-col gap-4">
            <div class="flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto">
              <WhatWasRead {bringing} {found} engines={readable} />
              <Unsaid {bringing} />
            </div>
            <form
              class="shrink-0 rounded-md border border-line bg-base-100 px-4 py-3"
              onsubmit={(event) => {
                event.preventDefault()
                void make()
              }}
            >
              {#if !into}
                <label class="text-[13px] font-semibold" for="bring-name">Name of the design</label>
                <input
                  id="bring-name"
                  class="mt-1 w-full rounded border border-line bg-base-100 px-2 py-1"
                  bind:value={name}
                  required
                />
              {/if}
              <fieldset class="mt-2 text-[13px]">
                <legend class="font-semibold">Diagrams, beside the one of everything</legend>
                <div class="mt-1 flex flex-wrap gap-x-3 gap-y-1">
                  {#each DIAGRAMS.filter(([sort]) => sort !== 'schema' || severalSchemas) as [sort, label] (sort)}
                    <label class="flex items-center gap-1.5 whitespace-nowrap">
                      <input
                        type="checkbox"
                        class="size-4 accent-primary"
                        checked={bringing.diagrams.has(sort)}
                        onchange={({ currentTarget }) =>
                          currentTarget.checked ? bringing.diagrams.add(sort) : bringing.diagrams.delete(sort)}
                      />{label}</label
                    >
                  {/each}
                </div>
              </fieldset>
              <p class="mt-2 text-[13px] text-soft">
                {!found.database
                  ? 'It has no target yet: that is added where it is to be deployed.'
                  : found.script !== undefined
                    ? 'Its target writes scripts, and says all that they say.'
                    : found.database.connection === 'server'
                      ? 'Its target is that database: nothing is changed there until you run a plan.'
                      : 'Its target is a copy, kept in this browser with its rows and in step with the design.'}
              </p>
              {#if bringing.trouble}<p role="alert" class="mt-2 text-[13px] text-error">{bringing.trouble}</p>{/if}
              <div class="mt-3 flex gap-2">
                <button
                  type="button"
                  class="rounded-md border border-line px-3 py-1.5 font-semibold"
                  onclick={() => bringing.leaveAll()}>Back</button
                >
                <button
                  class="rounded-md bg-primary px-3 py-1.5 font-semibold text-primary-content disabled:opacity-60"
                  disabled={making || none || name.trim() === ''}
                  >{into ? 'Add to the design' : 'Make the design'}</button
                >
              </div>
            </form>
          </div>
        </div>
      {/if}
    </div>
  </svelte:element>
</div>

<style>
  .step {
    border-radius: 1rem;
    background: var(--color-neutral);
    color: var(--color-neutral-content);
    padding: 0.25rem 0.75rem;
  }
</style>
