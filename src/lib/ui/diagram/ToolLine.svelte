<!-- What the tool that was taken asks for, over the plane, which stays where it is. -->
<script lang="ts">
  import { LINK_KINDS, type LinkKind } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import type { Board, Tool } from './board.svelte'

  const { board }: { board: Board } = $props()
  const desk = useDesk()
  const KINDS: Readonly<Record<LinkKind, string>> = {
    'one-to-many': 'one to many',
    'one-to-one': 'one to one',
    'many-to-many': 'many to many',
    'part of': 'one to many, part of it',
    'kind of': 'a kind of it'
  }
  const asked: Readonly<Record<Tool, string>> = {
    entity: 'Click where it is to stand',
    link: 'Drag from the entity that is referred to, or click it',
    note: 'Click where it is to stand, or draw it as large as you want it',
    frame: 'Draw it around what is in it',
    choose: 'Draw a frame around cards'
  }
</script>

{#if board.tool || board.problem}
  <div
    class="pointer-events-none absolute top-2 left-2 flex max-w-[calc(100%-16px)] flex-wrap items-center gap-2 rounded-md border border-line bg-base-100 px-2.5 py-1 text-[13px]"
  >
    {#if board.tool === 'link'}
      <select
        class="pointer-events-auto rounded border border-line bg-base-100 px-1 py-0.5"
        aria-label="Kind of link"
        bind:value={board.linkKind}
      >
        {#each LINK_KINDS as kind (kind)}<option value={kind}>{KINDS[kind]}</option>{/each}
      </select>
    {/if}
    {#if board.tool}
      <span class="text-secondary" role="status">
        {board.linkFrom === undefined
          ? asked[board.tool]
          : `Now the one that refers to ${desk.design.entities[board.linkFrom]?.name ?? ''}`}
      </span>
      <span class="text-soft">Esc</span>
    {/if}
    {#if board.problem}
      <span class="text-error" role="alert">{board.problem}</span>
      <button class="pointer-events-auto text-soft underline" onclick={() => (board.problem = '')}>Close</button>
    {/if}
  </div>
{/if}
