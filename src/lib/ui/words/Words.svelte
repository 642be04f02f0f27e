<!-- What a design has names for beside its entities: domains, and the short words of database names. -->
<script lang="ts">
  import Trash from '@lucide/svelte/icons/trash-2'
  import { attributesOf, type Domain } from '../../core/design'
  import { printType } from '../../core/types'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'
  import LeftUnsaid from './LeftUnsaid.svelte'
  import NameRules from './NameRules.svelte'
  import { addDomain, addShortWord, changeDomain, removeShortWord, type Changed, type Field } from '../../core/cells'

  const desk = useDesk()
  const inOrder = new Intl.Collator('en', { numeric: true })
  const domains = $derived(Object.values(desk.design.domains).sort((a, b) => inOrder.compare(a.name, b.name)))
  const words = $derived(Object.entries(desk.design.settings.abbreviations ?? {}).sort(([a], [b]) => (a < b ? -1 : 1)))
  const FIELDS: readonly { readonly field: Field; readonly title: string; readonly mono?: true }[] = [
    { field: 'name', title: 'Name' },
    { field: 'type', title: 'Type', mono: true },
    { field: 'default', title: 'Default' },
    { field: 'min', title: 'Min' },
    { field: 'max', title: 'Max' },
    { field: 'means', title: 'Meaning' }
  ]
  const GRID = 'grid grid-cols-[1.1fr_9.2rem_0.8fr_0.55fr_0.55fr_1.6fr_4.5rem_1.75rem] items-center gap-1.5'

  const said = (domain: Domain, field: Field): string =>
    field === 'type' ? printType(domain.type) : String(domain[field] ?? '')
  let wrong = $state('')
  let fresh = $state({ name: '', type: '' })
  let word = $state({ short: '', long: '' })

  /** Makes the edit, or says why not. */
  function tried(changed: Changed): boolean {
    wrong = 'error' in changed ? changed.error : ''
    if ('edit' in changed) desk.edit(changed.edit)
    return 'edit' in changed
  }
  function uses(domain: Domain): string {
    const columns = attributesOf(desk.design, domain.id)
    return columns.length === 0 ? 'no columns' : count(columns.length, 'column', 'columns')
  }
  const field = 'min-w-0 rounded border border-line bg-base-100 px-1.5 py-0.5'
  const button = 'rounded border border-line bg-base-100 px-2.5 py-1 font-semibold hover:bg-base-300'
</script>

{#snippet remover(what: string, remove: () => unknown)}
  <button class="rounded p-1 text-soft hover:text-error" aria-label="Remove {what}" onclick={remove}
    ><Trash size={15} aria-hidden="true" /></button
  >
{/snippet}

<div class="h-full overflow-y-auto px-4 py-3 text-[13px]">
  <section aria-label="Domains">
    <h2 class="text-[15px] font-semibold">Domains</h2>
    <p class="text-soft">
      What columns of one sort have in common. A column is of a domain when that stands as its type; it follows from
      then on.
    </p>
    {#if domains.length > 0}
      <div class="mt-2 text-xs text-soft {GRID}" aria-hidden="true">
        {#each FIELDS as { field, title } (field)}<span class="px-1.5">{title}</span>{/each}<span>Used by</span>
      </div>
      <ul class="grid gap-1">
        {#each domains as domain (domain.id)}
          <li class={GRID} aria-label="Domain {domain.name}">
            {#each FIELDS as { field: name, title, mono } (name)}
              <input
                class="{field} {mono ? 'font-mono' : ''} {name === 'name' ? 'font-semibold' : ''}"
                aria-label="{title} of {domain.name}"
                value={said(domain, name)}
                onchange={(event) => {
                  const { value } = event.currentTarget
                  if (!tried(changeDomain(desk.design, domain, name, value)))
                    event.currentTarget.value = said(domain, name)
                }}
              />
            {/each}
            <span class="truncate text-soft">{uses(domain)}</span>
            {@render remover(`the domain ${domain.name}`, () => desk.edit({ kind: 'domain.remove', id: domain.id }))}
          </li>
        {/each}
      </ul>
    {:else}
      <p class="mt-2 text-soft">
        None yet: a code, an amount or a remark that stands in many tables is a good first one.
      </p>
    {/if}
    <form
      class="mt-2 flex flex-wrap items-center gap-1.5"
      aria-label="Add a domain"
      onsubmit={(event) => {
        event.preventDefault()
        if (tried(addDomain(desk.design, fresh.name, fresh.type))) fresh = { name: '', type: '' }
      }}
    >
      <input class="{field} w-36" aria-label="Name of the new domain" placeholder="Amount" bind:value={fresh.name} />
      <input
        class="{field} w-36 font-mono"
        aria-label="Type of the new domain"
        placeholder="decimal(9,2)"
        bind:value={fresh.type}
      />
      <button class={button}>Add a domain</button>
    </form>
  </section>

  <section class="mt-6" aria-label="Short words">
    <h2 class="text-[15px] font-semibold">Short words</h2>
    <p class="text-soft">
      How database names write what people say, word by word. Names that follow the rules change with the list; those
      set by hand do not.
    </p>
    <ul class="mt-2 grid max-w-md gap-1">
      {#each words as [short, long] (short)}
        <li class="flex items-center gap-2">
          <span class="w-24 font-mono">{short}</span>
          <span class="text-soft" aria-hidden="true">is</span>
          <input
            class="{field} w-44"
            aria-label="What {short} is short for"
            value={long}
            onchange={(event) => {
              if (!tried(addShortWord(desk.design, short, event.currentTarget.value))) event.currentTarget.value = long
            }}
          />
          {@render remover(short, () => tried(removeShortWord(desk.design, short)))}
        </li>
      {/each}
    </ul>
    <form
      class="mt-2 flex flex-wrap items-center gap-1.5"
      aria-label="Add a short word"
      onsubmit={(event) => {
        event.preventDefault()
        if (tried(addShortWord(desk.design, word.short, word.long))) word = { short: '', long: '' }
      }}
    >
      <input class="{field} w-24 font-mono" aria-label="Short word" placeholder="qty" bind:value={word.short} />
      <input class="{field} w-44" aria-label="What it is short for" placeholder="quantity" bind:value={word.long} />
      <button class={button}>Add a short word</button>
    </form>
  </section>
  {#if wrong}<p role="alert" class="mt-3 text-error">{wrong}</p>{/if}
  <NameRules />
  <LeftUnsaid />
</div>
