<!-- Columns that every entity has: said once, filled by themselves where one wants it, and left out where an entity does without. -->
<script lang="ts">
  import ArrowDown from '@lucide/svelte/icons/arrow-down'
  import ArrowUp from '@lucide/svelte/icons/arrow-up'
  import { commonsOf, KEPT, type Common } from '../../core/design'
  import { printType } from '../../core/types'
  import { addCommon, changeCommon, moveCommon, type Changed, type CommonField } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'
  import RemoveWord from './RemoveWord.svelte'
  import WordField from './WordField.svelte'

  const { tried }: { tried: (changed: Changed) => boolean } = $props()
  const desk = useDesk()
  const commons = $derived(Object.values(desk.design.commons).sort((a, b) => a.rank - b.rank))
  const all = $derived(Object.values(desk.design.entities))
  const FIELDS: readonly { readonly field: CommonField; readonly title: string; readonly mono?: true }[] = [
    { field: 'name', title: 'Name' },
    { field: 'type', title: 'Type', mono: true },
    { field: 'kept', title: 'Filled by itself' },
    { field: 'required', title: 'Required' }
  ]
  const MORE: typeof FIELDS = [
    { field: 'default', title: 'Default' },
    { field: 'means', title: 'Meaning' }
  ]
  const SAYS: Readonly<Record<NonNullable<Common['kept']>, string>> = {
    'made at': 'when made',
    'changed at': 'when changed',
    'made by': 'who made it',
    'changed by': 'who changed it'
  }
  const GRID = 'grid grid-cols-[1fr_7.5rem_8.5rem_4rem_4.5rem_5.2rem] items-center gap-1'
  const said = (common: Common, field: CommonField): string => {
    if (field === 'type') return printType(common.type)
    return String(common[field] ?? '')
  }
  let fresh = $state<{ name: string; type: string; kept: '' | NonNullable<Common['kept']> }>({
    name: '',
    type: '',
    kept: ''
  })
  const having = $derived(
    new Map(commons.map(({ id }) => [id, all.filter((e) => commonsOf(desk.design, e).some((c) => c.id === id)).length]))
  )
  const field = 'min-w-0 rounded border border-line bg-base-100 px-1.5 py-0.5'
  const button = 'rounded border border-line bg-base-100 px-2.5 py-1 font-semibold hover:bg-base-300'
  const mover = 'rounded p-1 text-soft hover:text-base-content disabled:opacity-30'
</script>

{#snippet input(common: Common, { field: name, title, mono }: (typeof FIELDS)[number])}
  <WordField
    class="{mono ? 'font-mono' : ''} {name === 'name' ? 'font-semibold' : ''}"
    label="{title} of {common.name}"
    placeholder={{ default: common.kept ? 'filled by itself' : 'default', means: 'what it means' }[name as 'means']}
    disabled={name === 'default' && common.kept !== undefined}
    value={said(common, name)}
    onkeep={(typed) => tried(changeCommon(desk.design, common, name, typed))}
  />
{/snippet}

<section class="mt-6" aria-label="Columns of every entity">
  <h2 class="text-[15px] font-semibold">Columns of every entity</h2>
  <p class="text-soft">
    Said once, in every table: who and when, whose. An entity does without one where its own page says so; a subtype has
    those of what it is a kind of.
  </p>
  {#if commons.length > 0}
    <div class="mt-2 text-xs text-soft {GRID}" aria-hidden="true">
      {#each FIELDS as { field, title } (field)}<span class="px-1.5">{title}</span>{/each}<span>Stands in</span>
    </div>
    <ul class="grid gap-2">
      {#each commons as common, i (common.id)}
        <li class="grid gap-1" aria-label="Column {common.name}" data-word={common.id}>
          <div class={GRID}>
            {#each FIELDS as one (one.field)}
              {#if one.field === 'kept'}
                <select
                  class={field}
                  aria-label="What fills {common.name}"
                  value={common.kept ?? ''}
                  onchange={(event) => tried(changeCommon(desk.design, common, 'kept', event.currentTarget.value))}
                >
                  <option value="">no</option>
                  {#each KEPT as kept (kept)}<option value={kept}>{SAYS[kept]}</option>{/each}
                </select>
              {:else if one.field === 'required'}
                <input
                  type="checkbox"
                  class="ml-1.5 size-4 accent-primary"
                  aria-label="{common.name} is required"
                  checked={common.required}
                  onchange={(event) =>
                    tried(changeCommon(desk.design, common, 'required', event.currentTarget.checked ? 'required' : ''))}
                />
              {:else}
                {@render input(common, one)}
              {/if}
            {/each}
            <span class="truncate text-soft">{having.get(common.id)} of {all.length}</span>
            <span class="flex">
              <button
                class={mover}
                aria-label="{common.name} before the one above"
                disabled={i === 0}
                onclick={() => tried(moveCommon(desk.design, common, -1))}
                ><ArrowUp size={14} aria-hidden="true" /></button
              >
              <button
                class={mover}
                aria-label="{common.name} behind the one below"
                disabled={i === commons.length - 1}
                onclick={() => tried(moveCommon(desk.design, common, 1))}
                ><ArrowDown size={14} aria-hidden="true" /></button
              >
              <RemoveWord
                what="{common.name} from every entity"
                onremove={() => desk.edit({ kind: 'object.remove', collection: 'commons', id: common.id })}
              />
            </span>
          </div>
          <div class="grid grid-cols-[1fr_2.2fr_5.2rem] gap-1 pl-4">
            {#each MORE as one (one.field)}{@render input(common, one)}{/each}
          </div>
        </li>
      {/each}
    </ul>
  {:else}
    <p class="mt-2 text-soft">
      None yet. {count(all.length, 'entity', 'entities')} would get what you add here.
    </p>
  {/if}
  <form
    class="mt-2 flex flex-wrap items-center gap-1.5"
    aria-label="Add a column to every entity"
    onsubmit={(event) => {
      event.preventDefault()
      if (tried(addCommon(desk.design, fresh.name, fresh.type, fresh.kept || undefined)))
        fresh = { name: '', type: '', kept: '' }
    }}
  >
    <input
      class="{field} w-36"
      aria-label="Name of the column of every entity"
      placeholder={fresh.kept || 'changed at'}
      bind:value={fresh.name}
    />
    <select class={field} aria-label="What fills the column of every entity" bind:value={fresh.kept}>
      <option value="">filled by people</option>
      {#each KEPT as kept (kept)}<option value={kept}>{SAYS[kept]}</option>{/each}
    </select>
    <input
      class="{field} w-32 font-mono"
      aria-label="Type of the column of every entity"
      placeholder={fresh.kept === '' ? 'integer' : 'as usual'}
      bind:value={fresh.type}
    />
    <button class={button}>Add to every entity</button>
  </form>
</section>
