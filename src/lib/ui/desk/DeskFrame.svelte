<!-- The desk of one design: trail above, targets below, and between them the step one is on. -->
<script lang="ts">
  import type { Snippet } from 'svelte'
  import { onMount } from 'svelte'
  import { resolve } from '$app/paths'
  import { Desk, type Unread } from './desk.svelte'
  import OpenDesk from './OpenDesk.svelte'
  import Trail from './Trail.svelte'
  import Unreadable from './Unreadable.svelte'

  const { id, children }: { id: string; children: Snippet } = $props()
  let desk = $state.raw<Desk>()
  let unread = $state.raw<Unread>()
  let failure = $state('')

  onMount(async () => {
    const opened = await Desk.open(id)
    if (opened instanceof Desk) desk = opened
    else if (typeof opened === 'string') failure = opened
    else unread = opened
  })
</script>

{#if desk}
  <OpenDesk {desk} {children} />
{:else}
  <div class="flex h-dvh flex-col">
    <Trail />
    <main class="max-w-3xl p-8">
      {#if failure || unread}
        <h1 class="text-xl font-semibold">This design cannot be opened</h1>
        {#if unread}<Unreadable {unread} />{:else}<p class="mt-2" role="alert">{failure}</p>{/if}
        <a class="mt-4 inline-block underline" href={resolve('/')}>Back to the shelf</a>
      {:else}
        <p class="text-soft" role="status">Opening …</p>
      {/if}
    </main>
  </div>
{/if}
