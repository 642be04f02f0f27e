<!-- The head of everything about one target: what it is, how far it is, and the pages about it. -->
<script lang="ts">
  import Lock from '@lucide/svelte/icons/lock'
  import type { Snippet } from 'svelte'
  import { resolve } from '$app/paths'
  import { page } from '$app/state'
  import type { Target } from '../../core/design'
  import Disc from '../desk/Disc.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import { distance, engineLabel, whereabouts } from '../desk/words'

  const { target, children }: { target: Target; children?: Snippet } = $props()
  const desk = useDesk()
  const far = $derived(distance(desk.status.get(target.id)))
  const ids = $derived({ id: desk.design.id, target: target.id })
  const pages = $derived([
    { name: 'Differences', href: resolve('/design/[id]/compare/[target]', ids) },
    { name: 'Queries', href: resolve('/design/[id]/compare/[target]/queries', ids) },
    { name: 'Runs', href: resolve('/design/[id]/compare/[target]/runs', ids) }
  ])
</script>

<div class="flex h-14 shrink-0 items-center gap-3 border-b border-line px-5">
  <Disc disc={far.disc} />
  <h1 class="text-lg font-semibold">{target.name}</h1>
  {#if target.locked}<Lock size={15} aria-label="locked" />{/if}
  <span class="text-[13px] text-soft">{engineLabel(target)} · {whereabouts(target)}</span>
  <span
    class="font-semibold {far.disc === 'half'
      ? 'text-secondary'
      : far.disc === 'crossed'
        ? 'text-error'
        : 'text-primary'}"
    role="status">{far.words}</span
  >
  <nav class="ml-auto flex gap-1" aria-label="About {target.name}">
    {#each pages as item (item.href)}
      <a
        href={item.href}
        aria-current={page.url.pathname === item.href ? 'page' : undefined}
        class="rounded-md px-2.5 py-1 {page.url.pathname === item.href
          ? 'bg-sea-tint font-semibold text-primary'
          : 'hover:bg-base-300'}">{item.name}</a
      >
    {/each}
  </nav>
  {@render children?.()}
</div>
