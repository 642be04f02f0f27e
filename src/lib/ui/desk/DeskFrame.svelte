<!-- The desk of one design: trail above, targets below, and between them the step one is on. -->
<script lang="ts">
  import type { Snippet } from 'svelte'
  import { onMount } from 'svelte'
  import { resolve } from '$app/paths'
  import { Desk } from './desk.svelte'
  import OpenDesk from './OpenDesk.svelte'
  import Trail from './Trail.svelte'

  const { id, children }: { id: string; children: Snippet } = $props()
  let desk = $state.raw<Desk>()
  let failure = $state('')

  onMount(async () => {
    const opened = await Desk.open(id)
    if (opened instanceof Desk) desk = opened
    else failure = opened.error
  })
</script>

{#if desk}
  <OpenDesk {desk} {children} />
{:else}
  <div class="flex h-dvh flex-col">
    <Trail />
    <main class="p-8">
      {#if failure}
        <h1 class="text-xl font-semibold">This design cannot be opened</h1>
        <p class="mt-2" role="alert">{failure}</p>
        <a class="mt-4 inline-block underline" href={resolve('/')}>Back to the shelf</a>
      {:else}
        <p class="text-soft" role="status">Opening …</p>
      {/if}
    </main>
  </div>
{/if}
