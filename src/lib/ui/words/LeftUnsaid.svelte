<!-- What the design leaves unsaid: each with its reason, and said with a click. -->
<script lang="ts">
  import type { Suggestion } from '../../core/infer'
  import { coreWorker } from '../../workers'
  import { useDesk } from '../desk/desk.svelte'

  const desk = useDesk()
  const SORTS = [
    { kind: 'link', name: 'Links' },
    { kind: 'key', name: 'Keys' },
    { kind: 'index', name: 'Indexes' },
    { kind: 'between', name: 'Bridge tables, as many-to-many links' },
    { kind: 'special', name: 'Subtypes' },
    { kind: 'domain', name: 'Domains' }
  ] as const
  let found = $state.raw<readonly Suggestion[]>()
  let wrong = $state('')
  let turn = 0

  // Looked for anew once the design has been left alone for a moment.
  $effect(() => {
    const [design, target] = [desk.design, desk.target?.id]
    const mine = ++turn
    const timer = setTimeout(async () => {
      const list = await coreWorker()
        .unsaid(design, target)
        .catch(() => [])
      if (mine === turn) found = list
    }, 300)
    return () => clearTimeout(timer)
  })
  const groups = $derived(
    SORTS.flatMap((sort) => {
      const list = (found ?? []).filter(({ kind }) => kind === sort.kind).sort((a, b) => b.sure - a.sure)
      return list.length > 0 ? [{ ...sort, list }] : []
    })
  )

  async function say(suggestion: Suggestion) {
    const answer = await coreWorker().say(desk.design, desk.target?.id, suggestion)
    wrong = 'conflict' in answer ? `${suggestion.says}: ${answer.conflict}` : ''
    if ('edit' in answer) desk.edit(answer.edit)
  }
</script>

<section class="mt-6" aria-label="Left unsaid">
  <h2 class="text-[15px] font-semibold">Left unsaid</h2>
  <p class="text-soft">What names, types and keys suggest, and the design does not say. Nothing of it is needed.</p>
  {#if found === undefined}
    <p class="mt-2 text-soft" role="status">Looking …</p>
  {:else if groups.length === 0}
    <p class="mt-2 text-soft">Nothing is missing that could be told from here.</p>
  {/if}
  {#each groups as { kind, name, list } (kind)}
    <h3 class="mt-2 font-semibold">{name} <span class="font-normal text-soft">{list.length}</span></h3>
    <ul class="max-h-72 overflow-y-auto border-t border-line">
      {#each list as suggestion (suggestion.says)}
        <li class="flex items-start gap-2 border-b border-line py-1">
          <span class="min-w-0 flex-1">
            <span class="font-mono break-words">{suggestion.says}</span>
            <span class="block text-soft">{suggestion.why}</span>
          </span>
          <button
            class="shrink-0 rounded border border-line bg-base-100 px-2 py-0.5 font-semibold hover:bg-base-300"
            aria-label="Say {suggestion.says}"
            onclick={() => void say(suggestion)}>Say it</button
          >
        </li>
      {/each}
    </ul>
  {/each}
  {#if wrong}<p role="alert" class="mt-2 text-error">{wrong}</p>{/if}
</section>
