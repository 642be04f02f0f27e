<!-- Every place the design is deployed to, always in sight, with how far it is. -->
<script lang="ts">
  import Lock from '@lucide/svelte/icons/lock'
  import { resolve } from '$app/paths'
  import Disc from './Disc.svelte'
  import { useDesk } from './desk.svelte'
  import { targetKey } from '../../storage'
  import { runningSession } from '../queries/session.svelte'
  import { count, distance, engineLabel, whereabouts } from './words'

  const desk = useDesk()
  const targets = $derived(Object.values(desk.design.targets))
</script>

<footer class="flex h-[53px] shrink-0 overflow-x-auto border-t border-line bg-base-300" aria-label="Targets">
  {#each targets as target (target.id)}
    {@const { words, disc } = distance(desk.status.get(target.id))}
    {@const busy = runningSession(targetKey(desk.design.id, target.id))}
    <a
      class="flex shrink-0 items-center gap-3 border-r border-line px-4 hover:bg-base-200"
      href={resolve('/design/[id]/compare/[target]', { id: desk.design.id, target: target.id })}
      title="Compare {target.name} with the design"
    >
      <Disc {disc} />
      <span class="leading-tight">
        <span class="flex items-center gap-1 font-semibold"
          >{target.name}{#if target.locked}<Lock size={12} aria-label="locked" />{/if}</span
        >
        <span class="block text-xs text-soft">{engineLabel(target)} · {whereabouts(target)}</span>
      </span>
      <span
        class="rounded px-2 py-0.5 text-[13px] font-semibold {disc === 'half'
          ? 'bg-ochre-tint text-secondary'
          : disc === 'crossed'
            ? 'bg-brick-tint text-error'
            : disc === 'full'
              ? 'text-primary'
              : 'text-soft'}"
        aria-live="polite">{words}</span
      >
    </a>
    {#if busy}
      <span class="flex shrink-0 items-center gap-2 border-r border-line bg-ochre-tint px-3 text-[13px]" role="status">
        <a
          class="underline"
          href={resolve('/design/[id]/compare/[target]/queries', { id: desk.design.id, target: target.id })}
          >{count(busy.waiting, 'statement', 'statements')} to go</a
        >
        <button
          class="rounded border border-line bg-base-100 px-2 py-0.5 font-semibold"
          aria-label="Stop what runs on {target.name}"
          onclick={() => busy.cancel()}>{busy.stoppable ? 'Stop' : 'Stop waiting'}</button
        >
      </span>
    {/if}
  {/each}
  <a
    class="flex shrink-0 items-center px-5 text-soft hover:bg-base-200"
    href={resolve('/design/[id]/targets', { id: desk.design.id })}
  >
    Add a target
  </a>
</footer>
