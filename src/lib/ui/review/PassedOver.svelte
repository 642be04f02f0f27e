<!-- What counts otherwise by somebody's word, with the reason; each can be taken back. -->
<script lang="ts">
  import { ownerOf, type Grading } from '../../core/design'
  import { CHECKS } from '../../core/review'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'
  import { GRADE_CHOICES } from './grades'

  const desk = useDesk()
  const gradings = $derived(Object.values(desk.design.grades))
  const silenced = $derived(desk.reviewed?.silenced ?? [])
  const titleOf = (id: string) => CHECKS.find((check) => check.id === id)?.title ?? desk.design.checks[id]?.name ?? id
  function placeOf({ at }: Grading) {
    const { entity, attribute, link } = ownerOf(desk.design, at)
    const part = attribute?.name ?? (link ? (link.role ?? desk.design.entities[link.parent]?.name) : undefined)
    return at === undefined ? '' : ` for ${entity?.name ?? at}${part === undefined ? '' : `: ${part}`}`
  }
  const hidden = (grading: Grading) =>
    silenced.filter(({ check, at }) => check === grading.check && (grading.at === undefined || grading.at === at))
      .length
</script>

{#if gradings.length > 0}
  <section aria-label="Counts otherwise" class="grid gap-1">
    <h2 class="text-xs tracking-[0.2em] text-soft uppercase">Counts otherwise</h2>
    <ul class="divide-y divide-line rounded-md border border-line">
      {#each gradings as grading (grading.id)}
        <li class="flex items-center gap-2 px-3 py-1.5 text-[13px]">
          <span class="mr-auto min-w-0">
            <b>{titleOf(grading.check)}</b>{placeOf(grading)}
            {GRADE_CHOICES.find(({ grade }) => grade === grading.grade)?.words}{hidden(grading) > 0
              ? ` (${count(hidden(grading), 'finding', 'findings')})`
              : ''}: <span class="text-soft">{grading.reason}</span>
          </span>
          <button
            class="rounded border border-line px-2 py-0.5 text-xs hover:bg-base-300"
            aria-label="Take back: {titleOf(grading.check)}{placeOf(grading)}"
            onclick={() => desk.edit({ kind: 'object.remove', collection: 'grades', id: grading.id })}>Take back</button
          >
        </li>
      {/each}
    </ul>
  </section>
{/if}
