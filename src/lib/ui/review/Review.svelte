<!-- What a look at the design has found: by how grave it is, then by check, each with its reason and what mends it. -->
<script lang="ts">
  import type { Finding } from '../../core/review'
  import { useDesk } from '../desk/desk.svelte'
  import { count, engineLabel } from '../desk/words'
  import CheckBlock from './CheckBlock.svelte'
  import OwnChecks from './OwnChecks.svelte'
  import PassedOver from './PassedOver.svelte'
  import { GRADES } from './grades'

  const desk = useDesk()
  let wanted = $state('')

  const found = $derived(desk.reviewed?.findings ?? [])
  const shown = $derived.by(() => {
    const words = wanted.trim().toLowerCase()
    return words === ''
      ? found
      : found.filter(({ message, title }) => `${message} ${title}`.toLowerCase().includes(words))
  })
  const groups = $derived(
    GRADES.map((grade) => {
      const byCheck = new Map<string, Finding[]>()
      for (const finding of shown) {
        if (finding.grade !== grade.grade) continue
        const list = byCheck.get(finding.check)
        if (list) list.push(finding)
        else byCheck.set(finding.check, [finding])
      }
      return { ...grade, checks: [...byCheck] }
    }).filter(({ checks }) => checks.length > 0)
  )
  const inAll = (grade: Finding['grade']) => found.filter((one) => one.grade === grade).length
</script>

<div class="h-full overflow-y-auto bg-base-100 px-6 py-4">
  <div class="mx-auto grid max-w-5xl gap-5">
    <header class="flex flex-wrap items-center gap-3">
      <div class="mr-auto">
        <h1 class="text-lg font-semibold">Review</h1>
        <p class="text-soft" role="status">
          {#if !desk.reviewed}Looking the design over …{:else if found.length === 0}Nothing to remark.{:else}{GRADES.filter(
              ({ grade }) => inAll(grade) > 0
            )
              .map(({ grade, one, many }) => count(inAll(grade), one, many))
              .join(', ')}, for {desk.plain || !desk.target ? '' : `${desk.target.name}, `}{engineLabel(
              desk.shown
            )}.{/if}
        </p>
      </div>
      {#if found.length > 0}
        <input
          type="search"
          class="h-8 w-64 rounded border border-line bg-base-100 px-2"
          placeholder="Only those that say …"
          aria-label="Filter the findings"
          bind:value={wanted}
        />
      {/if}
    </header>
    {#if found.length > 0 && shown.length === 0}
      <p class="text-soft">None of {count(found.length, 'finding', 'findings')} says “{wanted.trim()}”.</p>
    {/if}
    {#each groups as { grade, title, checks } (grade)}
      <section aria-label={title} class="grid gap-2">
        <h2 class="text-xs tracking-[0.2em] text-soft uppercase">{title}</h2>
        {#each checks as [check, findings] (check)}<CheckBlock {check} {findings} />{/each}
      </section>
    {/each}
    <PassedOver />
    <OwnChecks />
  </div>
</div>
