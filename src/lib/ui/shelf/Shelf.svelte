<!-- All designs in this browser. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import Trash from '@lucide/svelte/icons/trash-2'
  import { onMount } from 'svelte'
  import { freeName, newDesign, newId, type Design } from '../../core/design'
  import { readDesign } from '../../core/derive'
  import { PATTERNS, startFrom, type Pattern } from '../../core/starts'
  import { readJot } from '../../core/jot'
  import type { Notice, Result } from '../../core/notice'
  import {
    listDesigns,
    loadDesign,
    isSqliteFile,
    openFile,
    removeDesign,
    saveDesign,
    storageError,
    type DesignHead
  } from '../../storage'
  import { isOpen, tellRemoved } from '../desk/pen.svelte'
  import Trail from '../desk/Trail.svelte'
  import { count } from '../desk/words'
  import { offerDemo } from './demo'

  let heads = $state<DesignHead[]>()
  let notices = $state<readonly Notice[]>([])
  let fileName = $state('')
  let removing = $state<string>()
  let openElsewhere = $state(false)
  let trouble = $state('')

  /** Reads the shelf again; what the browser refuses is said. */
  const look = () =>
    tried(async () => {
      await offerDemo()
      heads = await listDesigns()
    })

  onMount(look)

  async function tried(work: () => Promise<unknown>) {
    trouble = ''
    try {
      await work()
    } catch (error) {
      trouble = storageError(error).message
    }
  }

  const open = (id: string) => goto(resolve('/design/[id]', { id }))

  const create = (pattern?: Pattern) =>
    tried(async () => {
      const taken = (heads ?? []).map((head) => head.name)
      const design = pattern
        ? startFrom(pattern, freeName(pattern.name, taken))
        : newDesign(freeName('New design', taken))
      await saveDesign(design, undefined, 0)
      await open(design.id)
    })

  const fromFile = () =>
    tried(async () => {
      notices = []
      const file = await openFile('.ramblet,.jot,.json,application/json')
      if (!file) return
      fileName = file.name
      if (await isSqliteFile(file))
        return void (notices = [
          {
            code: 'file-database',
            severity: 'error',
            message: 'It is a database, and no design yet: “Start from what exists” makes one of it.'
          }
        ])
      const text = await file.text()
      const read = file.name.toLowerCase().endsWith('.jot') ? inWords(text, file.name) : readDesign(text)
      if (!read.ok) return void (notices = read.notices)
      const there = await loadDesign(read.value.id)
      // The same design twice on the shelf stays two designs: the file gets an identity of its own.
      const design: Design = there
        ? {
            ...read.value,
            id: newId('des'),
            name: freeName(
              read.value.name,
              (heads ?? []).map((h) => h.name)
            )
          }
        : read.value
      await saveDesign(design, undefined, 0)
      await open(design.id)
    })

  /** A design from a text; one with a mistake is told, and makes none. */
  function inWords(text: string, name: string): Result<Design> {
    const taken = (heads ?? []).map((head) => head.name)
    const { design, notices: told } = readJot(text, newDesign(freeName(name.replace(/\.jot$/i, ''), taken)))
    const wrong = told.filter(({ severity }) => severity === 'error')
    return wrong.length > 0 ? { ok: false, notices: wrong } : { ok: true, value: design }
  }

  async function ask(id: string) {
    openElsewhere = await isOpen(id)
    removing = id
  }

  const remove = (id: string) =>
    tried(async () => {
      await removeDesign(id)
      tellRemoved(id)
      removing = undefined
      heads = await listDesigns()
    })
  const when = (at: number) => new Date(at).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
</script>

<div class="flex h-dvh flex-col">
  <Trail help={resolve('/help')} />
  <main class="min-h-0 flex-1 overflow-y-auto">
    <div class="mx-auto max-w-3xl px-6 py-10">
      <h1 class="text-2xl font-semibold">Your designs</h1>
      <p class="mt-1 text-soft">
        One design, many databases, always known how far apart they are. Everything here stays in this browser until you
        save it to a file.
      </p>
      <div class="mt-5 flex gap-2">
        <button class="rounded-md bg-primary px-4 py-2 font-semibold text-primary-content" onclick={() => create()}
          >New design</button
        >
        <button
          class="rounded-md border border-line bg-base-100 px-4 py-2 font-semibold hover:bg-base-300"
          onclick={fromFile}>Open a file</button
        >
        <a
          class="rounded-md border border-line bg-base-100 px-4 py-2 font-semibold hover:bg-base-300"
          href={resolve('/bring')}>Start from what exists</a
        >
      </div>
      {#if notices.length > 0}
        <div role="alert" class="mt-4 rounded-md border border-error bg-brick-tint px-4 py-3 text-error">
          <p class="font-semibold">{fileName} was not opened, and nothing was changed.</p>
          <ul class="mt-1">
            {#each notices as notice (notice.message)}<li>
                {#if notice.where}<span class="font-mono text-[13px]"
                    >line {notice.where.replace(':', ', column ')}</span
                  >
                {/if}{notice.message}
              </li>{/each}
          </ul>
        </div>
      {/if}
      {#if trouble}
        <div role="alert" class="mt-4 rounded-md border border-error bg-brick-tint px-4 py-3 text-error">
          <p>{trouble}</p>
          <button class="mt-1 font-semibold underline" onclick={look}>Try again</button>
        </div>
      {/if}
      {#if heads === undefined && trouble}
        <p class="mt-8 text-soft">The shelf cannot be seen.</p>
      {:else if heads === undefined}
        <p class="mt-8 text-soft" role="status">Looking …</p>
      {:else}
        <ul class="mt-6 divide-y divide-line rounded-md border border-line bg-base-100">
          {#each heads as head (head.id)}
            <li class="flex items-center gap-4 px-4 py-3">
              <a class="min-w-0 flex-1" href={resolve('/design/[id]', { id: head.id })}>
                <span class="block text-base font-semibold">{head.name}</span>
                <span class="block text-[13px] text-soft"
                  >{count(head.entities, 'entity', 'entities')} · changed {when(head.changedAt)}</span
                >
              </a>
              {#if removing === head.id}
                <span class="text-[13px]"
                  >{openElsewhere ? 'It is open in another tab. ' : ''}Remove it with its embedded databases?</span
                >
                <button
                  class="rounded bg-error px-2.5 py-1 text-[13px] font-semibold text-error-content"
                  onclick={() => remove(head.id)}>Remove</button
                >
                <button
                  class="rounded border border-line px-2.5 py-1 text-[13px]"
                  onclick={() => (removing = undefined)}>Keep</button
                >
              {:else}
                <button
                  class="rounded p-1.5 text-soft hover:bg-base-300 hover:text-error"
                  aria-label="Remove {head.name}"
                  onclick={() => void ask(head.id)}><Trash size={15} aria-hidden="true" /></button
                >
              {/if}
            </li>
          {:else}
            <li class="px-4 py-8 text-center text-soft">
              The shelf is empty. Begin a new design, open a file, or start from what exists.
            </li>
          {/each}
        </ul>
        <section class="mt-8" aria-label="Begin from a pattern">
          <h2 class="text-base font-semibold">Begin from a pattern</h2>
          <p class="text-[13px] text-soft">Small designs of what most applications have. Each becomes one of yours.</p>
          <ul class="mt-2 grid gap-2 sm:grid-cols-2">
            {#each PATTERNS as pattern (pattern.name)}
              <li>
                <button
                  class="h-full w-full rounded-md border border-line bg-base-100 px-3 py-2 text-left hover:bg-base-300"
                  onclick={() => create(pattern)}
                  ><span class="block font-semibold">{pattern.name}</span><span class="block text-[13px] text-soft"
                    >{pattern.about}</span
                  ></button
                >
              </li>
            {/each}
          </ul>
        </section>
      {/if}
    </div>
  </main>
</div>
