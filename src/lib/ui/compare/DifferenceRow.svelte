<!-- One difference: what it is and who made it, all three states, and which way it goes. -->
<script lang="ts">
  import { keepDifferent, type Difference } from '../../core/compare'
  import type { EngineProfile } from '../../core/dialects'
  import { judged } from '../desk/words'
  import type { Choices, Direction } from './choices.svelte'
  import { describe, linesOf } from './describe'
  import Lines from './Lines.svelte'

  interface Props {
    readonly difference: Difference
    readonly words: EngineProfile['words']
    readonly choices: Choices
    /** What needs this one, when it comes along with it. */
    readonly along: string | undefined
    readonly onshow: () => void
    readonly onkeep: (reason: string) => void
  }
  const { difference, words, choices, along, onshow, onkeep }: Props = $props()
  const told = $derived(describe(difference, words))
  const direction = $derived(choices.of(difference))
  const who = $derived(judged(difference))
  const keepable = $derived(keepDifferent(difference.change, '') !== undefined)
  const lines = $derived(linesOf(difference))
  let showsLines = $state(false)
  let keeping = $state(false)
  let reason = $state('')

  const whoSays = {
    design: 'changed in the design',
    database: 'changed in the database',
    both: 'changed on both sides',
    'not known': 'never agreed on',
    'cannot tell': 'cannot be told apart'
  } as const
  const directions: readonly { readonly to: Direction; readonly hint: string }[] = [
    { to: 'write', hint: 'Write it to the database' },
    { to: 'take', hint: 'Take it into the design' },
    { to: 'leave', hint: 'Leave it as it is' }
  ]
  const faint = (text: string) => (text === 'none' || text === '' ? 'text-soft' : '')
</script>

<tr class="border-b border-line bg-base-100 align-top">
  <td class="py-1.5 pr-2 pl-5">
    <button class="max-w-full truncate text-left font-medium hover:underline" title={told.what} onclick={onshow}
      >{told.what}</button
    >
    <span class="text-[13px] text-soft">{told.detail}</span>
    <span
      class="block text-[13px] {who === 'design' || who === 'not known'
        ? 'text-soft'
        : who === 'database'
          ? 'text-secondary'
          : 'text-error'}"
      >{who === 'both' || who === 'cannot tell' ? '✕ ' : who === 'database' ? '▲ ' : ''}{whoSays[who]}</span
    >
    {#if along}<span class="block text-[13px] text-primary">comes along: {along} needs it</span>{/if}
    {#if lines}
      <button class="text-[13px] underline" aria-expanded={showsLines} onclick={() => (showsLines = !showsLines)}
        >{showsLines ? 'hide the lines' : 'line by line'}</button
      >
    {/if}
  </td>
  <td
    class="truncate px-2 py-1.5 font-mono text-[13px] {direction === 'write'
      ? 'font-semibold text-primary'
      : faint(told.wanted)}"
    title={told.wanted}>{told.wanted}</td
  >
  <td class="truncate px-2 py-1.5 font-mono text-[13px] {faint(told.agreed)}" title={told.agreed}
    >{told.agreed || 'not known'}</td
  >
  <td
    class="truncate px-2 py-1.5 font-mono text-[13px] {direction === 'take'
      ? 'font-semibold text-primary'
      : faint(told.live)}"
    title={told.live}>{told.live}</td
  >
  <td class="py-1 pr-3 pl-1">
    <div
      class="flex overflow-hidden rounded-md border border-line"
      role="radiogroup"
      aria-label="Which way {told.what} goes"
    >
      {#each directions as { to, hint } (to)}
        <button
          role="radio"
          aria-checked={direction === to}
          title={hint}
          class="flex-1 px-1.5 py-0.5 text-[13px] {direction === to
            ? 'bg-neutral font-semibold text-neutral-content'
            : 'text-soft hover:bg-base-300'}"
          onclick={() => choices.set([difference.key], to)}>{to}</button
        >
      {/each}
    </div>
    {#if direction === 'leave' && keepable && !keeping}
      <button class="text-[13px] text-soft underline" onclick={() => (keeping = true)}>keep different</button>
    {/if}
  </td>
</tr>
{#if lines && showsLines}
  <tr class="bg-base-100">
    <td colspan="5" class="border-b border-line px-5 pb-2">
      <Lines left={{ title: 'Database has', text: lines.live }} right={{ title: 'Design wants', text: lines.wanted }} />
    </td>
  </tr>
{/if}
{#if keeping}
  <tr class="bg-base-100">
    <td colspan="5" class="border-b border-line px-5 pb-2">
      <form
        class="flex items-center gap-2 text-[13px]"
        onsubmit={(event) => {
          event.preventDefault()
          onkeep(reason.trim())
        }}
      >
        <label class="flex flex-1 items-center gap-2"
          >Why {told.what} stays different here
          <!-- svelte-ignore a11y_autofocus -->
          <input class="flex-1 rounded border border-line bg-base-100 px-2 py-1" bind:value={reason} autofocus />
        </label>
        <button
          class="rounded border border-line px-2 py-0.5 font-semibold hover:bg-base-300"
          disabled={reason.trim() === ''}>Keep different for good</button
        >
        <button type="button" class="underline" onclick={() => (keeping = false)}>Never mind</button>
      </form>
    </td>
  </tr>
{/if}
