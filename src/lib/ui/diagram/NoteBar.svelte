<!-- What a note or a frame says, and how it looks. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import { isFront, type PlacedNote } from '../../core/picture'
  import { useDesk } from '../desk/desk.svelte'
  import type { Board } from './board.svelte'

  const { board, note }: { board: Board; note: PlacedNote } = $props()
  const desk = useDesk()
  const things = $derived(board.picture.cards.map(({ id, title }) => ({ id, title })))
  const others = $derived(board.diagrams.filter(({ id }) => id !== board.whole.id))
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const said = (value: string) => (value === '' ? undefined : value)
</script>

<div
  class="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-t border-line bg-base-100 px-3 py-2 text-[13px]"
  role="group"
  aria-label={note.kind === 'note' ? 'The note' : 'The frame'}
>
  {#key note.id}
    {#if note.kind === 'note'}
      <textarea
        class="{field} h-14 w-64 resize-none"
        aria-label="What the note says"
        placeholder="what is to be known here"
        value={note.text}
        oninput={(event) => board.setNote(note.id, { text: event.currentTarget.value }, true)}
        {@attach (node: HTMLTextAreaElement) => {
          if (note.text === '') node.focus()
        }}></textarea>
    {:else}
      <input
        class="{field} w-48"
        aria-label="Label of the frame"
        placeholder="a label"
        value={note.text}
        oninput={(event) => board.setNote(note.id, { text: event.currentTarget.value }, true)}
        {@attach (node: HTMLInputElement) => {
          if (note.text === '') node.focus()
        }}
      />
    {/if}
  {/key}
  <span class="flex items-center gap-1" role="radiogroup" aria-label="Tint">
    {#each [0, 1, 2, 3, 4, 5] as tint (tint)}
      <button
        class="size-5 rounded-full border-2 {note.tint === tint ? 'border-primary' : 'border-line'}"
        style="background: var(--edge-{tint})"
        role="radio"
        aria-checked={note.tint === tint}
        aria-label="Tint {tint + 1}"
        onclick={() => board.setNote(note.id, { tint })}
      ></button>
    {/each}
  </span>
  <label class="flex items-center gap-1"
    ><input
      type="checkbox"
      class="accent-primary"
      checked={isFront(note)}
      onchange={(event) => board.setNote(note.id, { front: event.currentTarget.checked })}
    />in front of cards</label
  >
  {#if note.kind === 'note'}
    <label class="flex items-center gap-1.5"
      >about
      <select
        class="{field} max-w-36"
        value={note.about ?? ''}
        onchange={(event) => board.setNote(note.id, { about: said(event.currentTarget.value) })}
      >
        <option value="">nothing in particular</option>
        {#each things as { id, title } (id)}<option value={id}>{title}</option>{/each}
      </select></label
    >
  {/if}
  {#if others.length > 0}
    <label class="flex items-center gap-1.5"
      >leads to
      <select
        class="{field} max-w-36"
        value={note.leadsTo ?? ''}
        onchange={(event) => board.setNote(note.id, { leadsTo: said(event.currentTarget.value) })}
      >
        <option value="">no diagram</option>
        {#each others as { id, name } (id)}<option value={id}>{name}</option>{/each}
      </select></label
    >
  {/if}
  {#if note.leadsTo !== undefined && desk.design.diagrams[note.leadsTo]}
    <button
      class="rounded border border-line px-2 py-0.5 hover:bg-base-300"
      onclick={() => note.leadsTo && board.choose(note.leadsTo)}>Go there</button
    >
  {/if}
  <button
    class="ml-auto flex items-center gap-1 rounded px-2 py-0.5 text-error hover:bg-brick-tint"
    onclick={() => board.removeNote(note.id)}><Trash size={13} aria-hidden="true" />Remove</button
  >
</div>
