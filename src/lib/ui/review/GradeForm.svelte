<!-- How much a check counts, in the whole design or for one thing of it, and why. -->
<script lang="ts">
  import { newId, type Grading } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import { GRADE_CHOICES } from './grades'

  const { check, at, ondone }: { check: string; at?: string; ondone: () => void } = $props()
  const desk = useDesk()
  let grade = $state<Grading['grade']>('off')
  let reason = $state('')
  const focused = (node: HTMLElement) => node.focus()

  function apply() {
    if (reason.trim() === '') return
    const before = Object.values(desk.design.grades).find((one) => one.check === check && one.at === at)
    const object = {
      id: before?.id ?? newId('grd'),
      check,
      grade,
      reason: reason.trim(),
      ...(at === undefined ? {} : { at })
    }
    desk.edit({ kind: 'object.set', collection: 'grades', object })
    ondone()
  }
</script>

<form
  class="flex flex-wrap items-center gap-2 px-3 py-2 text-[13px]"
  aria-label="Count it otherwise"
  onsubmit={(event) => {
    event.preventDefault()
    apply()
  }}
>
  {at === undefined ? 'In this design it' : 'Here it'}
  <select
    class="rounded border border-line bg-base-100 px-1.5 py-0.5"
    aria-label="How much it counts"
    bind:value={grade}
  >
    {#each GRADE_CHOICES as choice (choice.grade)}<option value={choice.grade}>{choice.words}</option>{/each}
  </select>
  because
  <input
    class="h-7 min-w-48 flex-1 rounded border border-line bg-base-100 px-2"
    aria-label="The reason"
    placeholder="a reason, for those who come after"
    required
    bind:value={reason}
    onkeydown={(event) => event.key === 'Escape' && ondone()}
    {@attach focused}
  />
  <button
    class="rounded bg-primary px-2.5 py-1 font-semibold text-primary-content disabled:opacity-50"
    disabled={reason.trim() === ''}>Keep</button
  >
  <button type="button" class="px-1 text-soft underline" onclick={ondone}>Leave it</button>
</form>
