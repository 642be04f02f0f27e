<!-- Consent to trying a plan on empty tables beside the database, and what came of it as a whole. -->
<script lang="ts">
  import { count } from '../desk/words'
  import type { Rehearsing } from './rehearsing.svelte'

  interface Props {
    readonly rehearsing: Rehearsing
    readonly onclose: () => void
  }
  const { rehearsing, onclose }: Props = $props()
  const tried = $derived([...rehearsing.tried.values()])
  const refused = $derived(tried.filter(({ error }) => error !== undefined).length)
  const button = 'rounded-md border border-line bg-base-100 px-2.5 py-0.5 font-semibold hover:bg-base-300'
</script>

<div class="mx-4 mb-2 rounded border border-line bg-base-100 px-3 py-2 text-[13px]" role="group" aria-label="Rehearsal">
  {#if rehearsing.trying}
    <p class="flex items-center gap-3" role="status">
      <span class="mr-auto">Trying each step on empty tables …</span>
      <button class={button} onclick={rehearsing.stop}>Stop</button>
    </p>
  {:else if tried.length > 0}
    <p class="flex items-baseline gap-3" role="status">
      <span class="mr-auto">
        {count(tried.length - refused, 'step was', 'steps were')} taken{refused > 0 ? ', and one refused' : ''}; each
        says how. The database made for it is gone again.
      </span>
      <button class={button} onclick={onclose}>Close</button>
    </p>
  {:else}
    <p>
      Beside this database, the server gets one of its own with the tables that change, and no rows. Each step is tried
      in it, as gently as the server can do it; then that database goes again. Rows that stand in the way are not met
      there, and views, triggers, programs and statements of your own are left out.
    </p>
    {#if rehearsing.problem}<p role="alert" class="mt-1 text-error">{rehearsing.problem}</p>{/if}
    <p class="mt-1.5 flex gap-2">
      <button
        class="rounded-md bg-primary px-2.5 py-0.5 font-semibold text-primary-content"
        onclick={() => rehearsing.start()}>Make it and try</button
      >
      <button class={button} onclick={onclose}>Leave it</button>
    </p>
  {/if}
</div>
