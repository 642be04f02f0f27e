<!-- The domains of a design, each with all that it says; made here, or taken from another design. -->
<script lang="ts">
  import { attributesOf, type Domain } from '../../core/design'
  import { printType } from '../../core/types'
  import { addDomain, changeDomain, type Changed, type Field } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'
  import CopyDomains from './CopyDomains.svelte'
  import RemoveWord from './RemoveWord.svelte'
  import WordField from './WordField.svelte'

  const { tried }: { tried: (changed: Changed) => boolean } = $props()
  const desk = useDesk()
  const inOrder = new Intl.Collator('en', { numeric: true })
  const domains = $derived(Object.values(desk.design.domains).sort((a, b) => inOrder.compare(a.name, b.name)))
  const FIELDS: readonly { readonly field: Field; readonly title: string; readonly mono?: true }[] = [
    { field: 'name', title: 'Name' },
    { field: 'type', title: 'Type', mono: true },
    { field: 'default', title: 'Default' },
    { field: 'min', title: 'Min' },
    { field: 'max', title: 'Max' },
    { field: 'letters', title: 'Letters' }
  ]
  /** On a second line: sentences need room. */
  const MORE: typeof FIELDS = [
    { field: 'rule', title: 'Rule', mono: true },
    { field: 'means', title: 'Meaning' }
  ]
  const GRID = 'grid grid-cols-[1.2fr_8.5rem_1fr_3.4rem_3.4rem_3.8rem_5rem_1.75rem] items-center gap-1'
  const said = (domain: Domain, field: Field): string =>
    field === 'type' ? printType(domain.type) : String(domain[field] ?? '')
  let fresh = $state({ name: '', type: '' })

  function uses(domain: Domain): string {
    const columns = attributesOf(desk.design, domain.id)
    return columns.length === 0 ? 'no columns' : count(columns.length, 'column', 'columns')
  }
  const field = 'min-w-0 rounded border border-line bg-base-100 px-1.5 py-0.5'
  const button = 'rounded border border-line bg-base-100 px-2.5 py-1 font-semibold hover:bg-base-300'
</script>

{#snippet input(domain: Domain, { field: name, title, mono }: (typeof FIELDS)[number])}
  <WordField
    class="{mono ? 'font-mono' : ''} {name === 'name' ? 'font-semibold' : ''}"
    label="{title} of {domain.name}"
    placeholder={{ letters: 'any', rule: 'a rule: value > 0', means: 'what it means' }[name as 'rule']}
    value={said(domain, name)}
    onkeep={(typed) => tried(changeDomain(desk.design, domain, name, typed))}
  />
{/snippet}

<section aria-label="Domains">
  <h2 class="text-[15px] font-semibold">Domains</h2>
  <p class="text-soft">
    What columns of one sort have in common. A column is of a domain when that stands as its type; it follows from then
    on. Allowed values are a type: <code>one of (bulk, tanker)</code>. A rule speaks of <code>value</code>.
  </p>
  {#if domains.length > 0}
    <div class="mt-2 text-xs text-soft {GRID}" aria-hidden="true">
      {#each FIELDS as { field, title } (field)}<span class="px-1.5">{title}</span>{/each}<span>Used by</span>
    </div>
    <ul class="grid gap-2">
      {#each domains as domain (domain.id)}
        <li class="grid gap-1" aria-label="Domain {domain.name}" data-word={domain.id}>
          <div class={GRID}>
            {#each FIELDS as one (one.field)}{@render input(domain, one)}{/each}
            <span class="truncate text-soft" title={uses(domain)}>{uses(domain)}</span>
            <RemoveWord
              what="the domain {domain.name}"
              onremove={() => desk.edit({ kind: 'object.remove', collection: 'domains', id: domain.id })}
            />
          </div>
          <div class="grid grid-cols-[1fr_1.4fr_1.75rem] gap-1 pl-4">
            {#each MORE as one (one.field)}{@render input(domain, one)}{/each}
          </div>
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
    <CopyDomains />
  </form>
</section>
