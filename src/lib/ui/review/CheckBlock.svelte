<!-- The findings of one check: why it looks, where it found something, what mends it. -->
<script lang="ts">
  import { resolve } from '$app/paths'
  import type { Finding } from '../../core/review'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'
  import GradeForm from './GradeForm.svelte'
  import { goTo } from './place'

  const { check, findings }: { check: string; findings: readonly Finding[] } = $props()
  const desk = useDesk()
  const FEW = 6
  let whole = $state(false)
  /** What is graded otherwise: the check, or one finding of it. */
  let grading = $state<string>()

  const [first] = $derived(findings)
  const fixes = $derived(findings.flatMap(({ fix }) => (fix ? [fix] : [])))
  const listed = $derived(whole ? findings : findings.slice(0, FEW))
  const draft = $derived(resolve('/design/[id]', { id: desk.design.id }))
  const small = 'rounded border border-line bg-base-100 px-2 py-0.5 text-xs hover:bg-base-300'
</script>

<article class="rounded-md border border-line" aria-label={first?.title}>
  <div class="flex flex-wrap items-start gap-2 bg-base-200 px-3 py-2">
    <div class="mr-auto min-w-0 flex-1">
      <h3 class="font-semibold">{first?.title} <span class="ml-1 font-normal text-soft">{findings.length}</span></h3>
      <p class="text-[13px] text-soft">{first?.why}</p>
    </div>
    {#if fixes.length > 1}
      <button class={small} onclick={() => desk.edit({ kind: 'all', edits: fixes.map(({ edit }) => edit) })}
        >Mend all {fixes.length}</button
      >
    {/if}
    <button class={small} aria-expanded={grading === ''} onclick={() => (grading = grading === '' ? undefined : '')}
      >Count it otherwise</button
    >
  </div>
  {#if grading === ''}<GradeForm {check} ondone={() => (grading = undefined)} />{/if}
  <ul class="divide-y divide-line">
    {#each listed as finding (finding.at + finding.message)}
      <li class="px-3 py-1.5">
        <div class="flex items-center gap-2 text-[13px]">
          <span class="mr-auto min-w-0 break-words">{finding.message}</span>
          {#if finding.fix}
            <button
              class={small}
              aria-label="{finding.fix.label}: {finding.message}"
              onclick={() => finding.fix && desk.edit(finding.fix.edit)}>{finding.fix.label}</button
            >
          {/if}
          {#if finding.at !== ''}
            <a
              class="shrink-0 px-1 text-xs underline"
              href={draft}
              aria-label="Show: {finding.message}"
              onclick={() => goTo(desk, finding.at)}>Show</a
            >
            <button
              class="shrink-0 px-1 text-xs text-soft underline"
              aria-label="Not here: {finding.message}"
              aria-expanded={grading === finding.at}
              onclick={() => (grading = grading === finding.at ? undefined : finding.at)}>Not here</button
            >
          {/if}
        </div>
        {#if grading === finding.at && finding.at !== ''}
          <GradeForm {check} at={finding.at} ondone={() => (grading = undefined)} />
        {/if}
      </li>
    {/each}
  </ul>
  {#if findings.length > FEW}
    <button
      class="w-full border-t border-line px-3 py-1 text-left text-xs text-soft hover:bg-base-200"
      onclick={() => (whole = !whole)}
      >{whole ? 'Show the first few' : `Show ${count(findings.length - FEW, 'more', 'more')}`}</button
    >
  {/if}
</article>
