<!-- How things are done, to be searched. -->
<script lang="ts">
  import { resolve } from '$app/paths'
  import Trail from '../desk/Trail.svelte'
  import KeyLists from './KeyLists.svelte'
  import { KEYS } from './keys'
  import { TOPICS } from './topics'

  let wanted = $state('')
  const words = $derived(wanted.trim().toLowerCase().split(/\s+/).filter(Boolean))
  const has = (text: string) => words.every((word) => text.toLowerCase().includes(word))
  const topics = $derived(TOPICS.filter(({ title, text }) => has([title, ...text].join(' '))))
  const keys = $derived(
    words.length === 0 || has(KEYS.flatMap((one) => one.keys.map((key) => key.join(' '))).join(' ') + ' keys')
  )
</script>

<svelte:head><title>Help · Ramblet</title></svelte:head>
<div class="flex h-dvh flex-col">
  <Trail title="Help" />
  <main class="min-h-0 flex-1 overflow-y-auto bg-base-100">
    <div class="mx-auto grid max-w-3xl gap-5 px-6 py-8">
      <header class="flex flex-wrap items-center gap-3">
        <h1 class="mr-auto text-2xl font-semibold">Help</h1>
        <input
          type="search"
          class="h-8 w-64 rounded border border-line bg-base-100 px-2"
          placeholder="What are you looking for?"
          aria-label="Search the help"
          bind:value={wanted}
          {@attach (node: HTMLInputElement) => node.focus()}
        />
      </header>
      {#each topics as { title, text } (title)}
        <section aria-label={title}>
          <h2 class="text-base font-semibold">{title}</h2>
          {#each text as paragraph (paragraph)}<p class="mt-1 max-w-prose">{paragraph}</p>{/each}
        </section>
      {/each}
      {#if keys}
        <section aria-label="Keys" class="grid gap-4">
          <h2 class="text-base font-semibold">Keys</h2>
          <KeyLists />
        </section>
      {/if}
      {#if topics.length === 0 && !keys}
        <p class="text-soft" role="status">
          Nothing tells of “{wanted.trim()}”.
          <button class="underline" onclick={() => (wanted = '')}>Show all of it</button>
        </p>
      {/if}
      <p class="text-[13px]"><a class="underline" href={resolve('/')}>To the shelf</a></p>
    </div>
  </main>
</div>
