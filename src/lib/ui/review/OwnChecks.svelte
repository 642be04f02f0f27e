<!-- Checks that a team has of its own: expressions over the design, which travel in its file. -->
<script lang="ts">
  import { newId, type OwnCheck } from '../../core/design'
  import { whyNoCheck } from '../../core/review'
  import { useDesk } from '../desk/desk.svelte'
  import { GRADE_CHOICES } from './grades'

  const desk = useDesk()
  const checks = $derived(Object.values(desk.design.checks))
  let open = $state<string>()
  let draft = $state<OwnCheck>({ id: '', name: '', expression: '', grade: 'warning' })
  let wrong = $state('')
  const field = 'rounded border border-line bg-base-100 px-2 py-1'

  function begin(check: OwnCheck) {
    draft = { ...check }
    open = check.id
    wrong = ''
  }
  function keep() {
    const name = draft.name.trim()
    wrong = name === '' ? 'A check needs a name.' : (whyNoCheck(draft.expression) ?? '')
    if (wrong !== '') return
    const why = draft.why?.trim()
    const { id, expression, grade } = draft
    desk.edit({
      kind: 'object.set',
      collection: 'checks',
      object: { id, name, expression, grade, ...(why ? { why } : {}) }
    })
    open = undefined
  }
</script>

<section aria-label="Checks of your own" class="grid gap-2">
  <h2 class="text-xs tracking-[0.2em] text-soft uppercase">Checks of your own</h2>
  {#if checks.length > 0}
    <ul class="divide-y divide-line rounded-md border border-line">
      {#each checks as check (check.id)}
        <li class="flex items-center gap-2 px-3 py-1.5 text-[13px]">
          <b>{check.name}</b>
          <code class="mr-auto min-w-0 truncate text-soft" title={check.expression}>{check.expression}</code>
          <button class="px-1 text-xs underline" aria-label="Change the check {check.name}" onclick={() => begin(check)}
            >Change</button
          >
          <button
            class="px-1 text-xs underline"
            aria-label="Remove the check {check.name}"
            onclick={() => desk.edit({ kind: 'object.remove', collection: 'checks', id: check.id })}>Remove</button
          >
        </li>
      {/each}
    </ul>
  {/if}
  {#if open === undefined}
    <p class="text-[13px] text-soft">
      <button
        class="mr-2 rounded border border-line bg-base-100 px-2 py-0.5 text-base-content hover:bg-base-300"
        onclick={() => begin({ id: newId('chk'), name: '', expression: '', grade: 'warning' })}>Add a check</button
      >
      An expression over the design, in JSONata; what it gives is what is wrong. It travels in the design’s file.
    </p>
  {:else}
    <form
      class="grid gap-2 rounded-md border border-line p-3 text-[13px]"
      aria-label="A check of your own"
      onsubmit={(event) => {
        event.preventDefault()
        keep()
      }}
    >
      <div class="flex flex-wrap gap-2">
        <label class="grid flex-1 gap-0.5"
          >Name<input class={field} placeholder="Every text has a length" bind:value={draft.name} /></label
        >
        <label class="grid gap-0.5"
          >Counts as<select class={field} bind:value={draft.grade}>
            {#each GRADE_CHOICES as { grade, words } (grade)}{#if grade !== 'off'}<option value={grade}>{words}</option
                >{/if}{/each}
          </select></label
        >
      </div>
      <label class="grid gap-0.5"
        >What is wrong<textarea
          class="{field} h-20 font-mono"
          spellcheck="false"
          placeholder={'entities.columns[type = "text"].{ "id": id, "says": name & " has no length" }'}
          bind:value={draft.expression}></textarea></label
      >
      <p class="text-xs text-soft">
        There are <code>entities</code> (with <code>columns</code>, <code>area</code>, <code>means</code>),
        <code>links</code> (<code>from</code>, <code>to</code>, <code>required</code>), <code>domains</code>,
        <code>views</code>
        and
        <code>targets</code>. A result with an <code>id</code> leads to its place; <code>says</code> is what is told of it.
      </p>
      <label class="grid gap-0.5">Why it matters<input class={field} bind:value={draft.why} /></label>
      {#if wrong}<p role="alert" class="text-error">{wrong}</p>{/if}
      <div class="flex gap-2">
        <button class="rounded bg-primary px-2.5 py-1 font-semibold text-primary-content">Keep</button>
        <button type="button" class="px-1 text-soft underline" onclick={() => (open = undefined)}>Leave it</button>
      </div>
    </form>
  {/if}
</section>
