<!-- States of the design that were given a name: what has changed between any two, and the way back to one. -->
<script lang="ts">
  import { onMount } from 'svelte'
  import { newId, told, type Design } from '../../core/design'
  import {
    designOf,
    listCheckpoints,
    removeCheckpoint,
    saveCheckpoint,
    storageError,
    type Checkpoint
  } from '../../storage'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'

  const desk = useDesk()
  const NOW = 'now'
  let checkpoints = $state.raw<readonly Checkpoint[]>()
  let name = $state('')
  let wrong = $state('')
  let from = $state('')
  let to = $state(NOW)

  const list = async () => {
    checkpoints = await listCheckpoints(desk.design.id)
    from = checkpoints.some(({ id }) => id === from) ? from : (checkpoints[0]?.id ?? '')
  }
  const trying = (work: Promise<unknown>) =>
    work.then(
      () => (wrong = ''),
      (error: unknown) => (wrong = storageError(error).message)
    )
  onMount(() => void trying(list()))

  const stateOf = (id: string): Design | string | undefined => {
    if (id === NOW) return desk.design
    const checkpoint = checkpoints?.find((one) => one.id === id)
    return checkpoint && designOf(checkpoint)
  }
  const [before, after] = $derived([stateOf(from), stateOf(to)])
  const unread = $derived([before, after].find((state) => typeof state === 'string'))
  const changes = $derived(
    before && after && typeof before !== 'string' && typeof after !== 'string' ? told(before, after) : undefined
  )

  async function save() {
    await trying(saveCheckpoint(newId('chp'), name.trim(), desk.design).then(list))
    name = ''
  }
  function goBack(checkpoint: Checkpoint) {
    const design = designOf(checkpoint)
    if (typeof design === 'string') wrong = design
    else desk.replace(design)
  }
  const when = (at: number) => new Date(at).toLocaleString('en', { dateStyle: 'medium', timeStyle: 'short' })
  const button = 'rounded border border-line bg-base-100 px-2 py-0.5 text-xs hover:bg-base-300'
  const field = 'rounded border border-line bg-base-100 px-2 py-1'
</script>

<div class="h-full overflow-y-auto bg-base-100 px-6 py-4">
  <div class="mx-auto grid max-w-5xl gap-5">
    <header>
      <h1 class="text-lg font-semibold">Checkpoints</h1>
      <p class="text-soft">
        States of this design under a name, kept in this browser. Going back is an edit like any other: it can be
        undone.
      </p>
    </header>
    <form
      class="flex flex-wrap items-center gap-2"
      aria-label="Save a checkpoint"
      onsubmit={(event) => {
        event.preventDefault()
        if (name.trim() !== '') void save()
      }}
    >
      <input
        class="{field} w-72"
        aria-label="Name of the checkpoint"
        placeholder="before the tariffs are taken apart"
        bind:value={name}
      />
      <button
        class="rounded bg-primary px-2.5 py-1 font-semibold text-primary-content disabled:opacity-50"
        disabled={name.trim() === ''}>Save how it is now</button
      >
      {#if wrong}<span role="alert" class="text-error">{wrong}</span>{/if}
    </form>
    {#if checkpoints?.length === 0}
      <p class="text-soft">None yet. One before a larger change makes it easy to see what that was, and to leave it.</p>
    {:else if checkpoints}
      <ul class="divide-y divide-line rounded-md border border-line" aria-label="Checkpoints">
        {#each checkpoints as checkpoint (checkpoint.id)}
          <li class="flex items-center gap-3 px-3 py-1.5">
            <b>{checkpoint.name}</b>
            <span class="mr-auto text-xs text-soft">{when(checkpoint.at)}</span>
            <button
              class={button}
              aria-label="What has changed since {checkpoint.name}"
              aria-pressed={from === checkpoint.id && to === NOW}
              onclick={() => ([from, to] = [checkpoint.id, NOW])}>Changed since</button
            >
            <button class={button} aria-label="Go back to {checkpoint.name}" onclick={() => goBack(checkpoint)}
              >Go back to it</button
            >
            <button
              class="px-1 text-xs text-soft underline"
              aria-label="Remove the checkpoint {checkpoint.name}"
              onclick={() => void trying(removeCheckpoint(checkpoint.id).then(list))}>Remove</button
            >
          </li>
        {/each}
      </ul>
      <section aria-label="What has changed" class="grid gap-2">
        <div class="flex flex-wrap items-center gap-2">
          <span>From</span>
          <select class={field} aria-label="From" bind:value={from}>
            {#each checkpoints as { id, name: called } (id)}<option value={id}>{called}</option>{/each}
          </select>
          <span>to</span>
          <select class={field} aria-label="To" bind:value={to}>
            <option value={NOW}>how it is now</option>
            {#each checkpoints as { id, name: called } (id)}<option value={id}>{called}</option>{/each}
          </select>
          {#if changes}<span class="text-soft" role="status"
              >{changes.length === 0
                ? 'nothing is otherwise'
                : count(changes.length, 'thing is otherwise', 'things are otherwise')}</span
            >{/if}
        </div>
        {#if unread}<p role="alert" class="text-error">{unread}</p>{/if}
        {#if changes && changes.length > 0}
          <ul class="divide-y divide-line rounded-md border border-line text-[13px]">
            {#each changes as change (change.kind + change.id)}
              <li class="grid grid-cols-[110px_1fr] gap-2 px-3 py-1.5">
                <span class="text-soft">{change.how === 'changed' ? '' : `${change.how} `}{change.kind}</span>
                <span>
                  <b>{change.name}</b>
                  {#each change.parts as part (part)}<span class="block">{part}</span>{/each}
                </span>
              </li>
            {/each}
          </ul>
        {/if}
      </section>
    {/if}
  </div>
</div>
