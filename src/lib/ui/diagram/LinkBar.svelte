<!-- A link as a sentence whose words can be changed. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import type { Link } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import Became from './Became.svelte'
  import type { Board } from './board.svelte'

  const { link, board }: { link: Link; board: Board } = $props()
  const desk = useDesk()
  const parent = $derived(desk.design.entities[link.parent]?.name ?? '')
  const child = $derived(desk.design.entities[link.child]?.name ?? '')
  const set = (values: Partial<Omit<Link, 'id'>>) => desk.edit({ kind: 'link.set', id: link.id, set: values })
  const actions = ['restrict', 'cascade', 'set null', 'set default', 'no action'] as const
  const said: Record<Link['onDelete'], string> = {
    restrict: 'it may not go',
    cascade: 'these go too',
    'set null': 'these name none',
    'set default': 'these get the default',
    'no action': 'it is checked at the end'
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
</script>

<div
  class="flex flex-wrap items-center gap-x-2 gap-y-1.5 border-t border-line bg-base-100 px-3 py-2 text-[13px]"
  role="group"
  aria-label="The link between {parent} and {child}"
>
  <span>A <b>{child}</b></span>
  {#if link.kind === 'many-to-many'}
    <span>has many <b>{parent}</b> rows, and the other way round</span>
  {:else}
    <select
      class={field}
      aria-label="Whether a {child} needs a {parent}"
      value={link.parentRequired ? 'must' : 'may'}
      disabled={link.identifying}
      onchange={(event) => set({ parentRequired: event.currentTarget.value === 'must' })}
    >
      <option value="must">must have</option><option value="may">may have</option>
    </select>
    <span>one <b>{parent}</b>,</span>
  {/if}
  <span>called</span>
  <input
    class="{field} w-28"
    aria-label="Role of {parent}"
    placeholder={parent.toLowerCase()}
    value={link.role ?? ''}
    onchange={(event) => {
      const role = event.currentTarget.value.trim()
      set({ role: role === '' || role.toLowerCase() === parent.toLowerCase() ? undefined : role })
    }}
  />
  <span>; a {parent}</span>
  <select
    class={field}
    aria-label="Whether a {parent} needs a {child}"
    value={link.childRequired ? 'must' : 'may'}
    onchange={(event) => set({ childRequired: event.currentTarget.value === 'must' })}
  >
    <option value="may">may have</option><option value="must">must have</option>
  </select>
  <select
    class={field}
    aria-label="How many {child} rows"
    value={link.kind}
    onchange={(event) =>
      set({
        kind: event.currentTarget.value as Link['kind'],
        ...(event.currentTarget.value === 'many-to-many' ? { identifying: false } : {})
      })}
  >
    <option value="one-to-many">many of these</option>
    <option value="one-to-one">one of these</option>
    <option value="many-to-many">many, both ways</option>
  </select>
  {#if link.kind !== 'many-to-many'}
    <label class="flex items-center gap-1.5">
      <input
        type="checkbox"
        class="size-4 accent-primary"
        checked={link.identifying}
        onchange={(event) => set({ identifying: event.currentTarget.checked })}
      />
      identifying: its key joins this key
    </label>
  {/if}
  <span>When a {parent} is deleted:</span>
  <select
    class={field}
    aria-label="On delete"
    value={link.onDelete}
    onchange={(event) => set({ onDelete: event.currentTarget.value as Link['onDelete'] })}
  >
    {#each actions as action (action)}<option value={action}>{action}: {said[action]}</option>{/each}
  </select>
  <Became {board} id={link.id} />
  <button
    class="ml-auto flex items-center gap-1 rounded px-2 py-0.5 text-error hover:bg-brick-tint"
    onclick={() => desk.edit({ kind: 'object.remove', collection: 'links', id: link.id })}
  >
    <Trash size={13} aria-hidden="true" />Remove link
  </button>
</div>
