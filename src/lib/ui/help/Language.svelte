<!-- The notation, by examples that can be changed, run and opened. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import { freeName, newDesign } from '../../core/design'
  import { readJot } from '../../core/jot'
  import { listDesigns, saveDesign, storageError } from '../../storage'
  import Trail from '../desk/Trail.svelte'
  import { SAMPLES, WORDS, type Sample } from './notation'
  import SampleBlock from './SampleBlock.svelte'

  let trouble = $state('')

  async function open({ title }: Sample, text: string) {
    try {
      const taken = (await listDesigns()).map(({ name }) => name)
      const { design } = readJot(text, newDesign(freeName(title, taken)))
      await saveDesign(design, undefined, 0)
      await goto(resolve('/design/[id]', { id: design.id }))
    } catch (error) {
      trouble = storageError(error).message
    }
  }
</script>

<svelte:head><title>The notation · Ramblet</title></svelte:head>
<div class="flex h-dvh flex-col">
  <Trail title="The notation" help={resolve('/help')} />
  <main class="min-h-0 flex-1 overflow-y-auto bg-base-100">
    <div class="mx-auto grid max-w-6xl gap-6 px-6 py-8">
      <header>
        <h1 class="text-2xl font-semibold">A design in words</h1>
        <p class="mt-1 max-w-prose text-soft">
          What is typed on the left makes what stands on the right, at every letter. Change it, run it in a database
          that passes again, or open it as a design.
        </p>
        {#if trouble}<p role="alert" class="mt-2 text-error">{trouble}</p>{/if}
      </header>
      {#each SAMPLES as sample (sample.title)}
        <SampleBlock {sample} onopen={(text) => void open(sample, text)} />
      {/each}
      <section aria-label="Words about a column">
        <h2 class="text-base font-semibold">Words about a column or link</h2>
        <dl class="mt-2 grid max-w-3xl grid-cols-[12rem_1fr] gap-x-4 gap-y-1">
          {#each WORDS as [word, says] (word)}<dt class="font-mono text-[13px]">{word}</dt>
            <dd>{says}</dd>{/each}
        </dl>
        <p class="mt-3 max-w-prose text-soft">
          # begins a remark, which stays in the text alone. Names may have several words; quotes are needed where one
          holds a colon, a comma, a parenthesis or a quote, or is a word of the notation where a type stands.
        </p>
      </section>
    </div>
  </main>
</div>
