<!-- What a design says once for all of its entities: domains, columns that each has, short words, and rules for names. -->
<script lang="ts">
  import type { Changed } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import Commons from './Commons.svelte'
  import DomainGrid from './DomainGrid.svelte'
  import Domains from './Domains.svelte'
  import LeftUnsaid from './LeftUnsaid.svelte'
  import NameRules from './NameRules.svelte'
  import ShortWords from './ShortWords.svelte'

  const desk = useDesk()
  let wrong = $state('')
  let page = $state<HTMLElement>()
  const PARTS = [
    'Domains',
    'Domains for columns',
    'Columns of every entity',
    'Short words',
    'Names by rule',
    'Left unsaid'
  ] as const

  /** Makes the edit, or says why not. */
  function tried(changed: Changed): boolean {
    wrong = 'error' in changed ? changed.error : ''
    if ('edit' in changed) desk.edit(changed.edit)
    return 'edit' in changed
  }
  // What was looked for elsewhere is brought into sight here.
  $effect(() => {
    const chosen = desk.selection
    if (chosen?.kind !== 'word') return
    const line = page?.querySelector<HTMLElement>(`[data-word="${chosen.word}"]`)
    line?.scrollIntoView({ block: 'center' })
    line?.querySelector<HTMLElement>('input')?.focus({ preventScroll: true })
  })
  function show(part: string) {
    const section = page?.querySelector<HTMLElement>(`section[aria-label="${part}"]`)
    section?.scrollIntoView({ block: 'start' })
    section?.querySelector<HTMLElement>('input, select, button, [tabindex="0"]')?.focus({ preventScroll: true })
  }
</script>

<div class="flex h-full flex-col text-[13px]">
  <nav
    class="flex shrink-0 flex-wrap gap-x-3 border-b border-line bg-base-200 px-4 py-1"
    aria-label="Parts of this page"
  >
    {#each PARTS as part (part)}
      <button class="text-soft underline hover:text-base-content" onclick={() => show(part)}>{part}</button>
    {/each}
  </nav>
  {#if wrong}<p role="alert" class="shrink-0 border-b border-line bg-brick-tint px-4 py-1 text-error">{wrong}</p>{/if}
  <div bind:this={page} class="min-h-0 flex-1 overflow-y-auto px-4 py-3">
    <Domains {tried} />
    <DomainGrid {tried} />
    <Commons {tried} />
    <ShortWords {tried} />
    <NameRules />
    <LeftUnsaid />
  </div>
</div>
