<!-- The short words of database names. -->
<script lang="ts">
  import { addShortWord, removeShortWord, type Changed } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import RemoveWord from './RemoveWord.svelte'

  const { tried }: { tried: (changed: Changed) => boolean } = $props()
  const desk = useDesk()
  const words = $derived(Object.entries(desk.design.settings.abbreviations ?? {}).sort(([a], [b]) => (a < b ? -1 : 1)))
  let word = $state({ short: '', long: '' })
  const field = 'min-w-0 rounded border border-line bg-base-100 px-1.5 py-0.5'
</script>

<section class="mt-6" aria-label="Short words">
  <h2 class="text-[15px] font-semibold">Short words</h2>
  <p class="text-soft">
    How database names write what people say, word by word. Names that follow the rules change with the list; those set
    by hand do not.
  </p>
  <ul class="mt-2 grid max-w-md gap-1">
    {#each words as [short, long] (short)}
      <li class="flex items-center gap-2">
        <span class="w-24 font-mono">{short}</span>
        <span class="text-soft" aria-hidden="true">is</span>
        <input
          class="{field} w-44"
          aria-label="What {short} is short for"
          value={long}
          onchange={(event) => {
            if (!tried(addShortWord(desk.design, short, event.currentTarget.value))) event.currentTarget.value = long
          }}
        />
        <RemoveWord what={short} onremove={() => tried(removeShortWord(desk.design, short))} />
      </li>
    {/each}
  </ul>
  <form
    class="mt-2 flex flex-wrap items-center gap-1.5"
    aria-label="Add a short word"
    onsubmit={(event) => {
      event.preventDefault()
      if (tried(addShortWord(desk.design, word.short, word.long))) word = { short: '', long: '' }
    }}
  >
    <input class="{field} w-24 font-mono" aria-label="Short word" placeholder="qty" bind:value={word.short} />
    <input class="{field} w-44" aria-label="What it is short for" placeholder="quantity" bind:value={word.long} />
    <button class="rounded border border-line bg-base-100 px-2.5 py-1 font-semibold hover:bg-base-300"
      >Add a short word</button
    >
  </form>
</section>
