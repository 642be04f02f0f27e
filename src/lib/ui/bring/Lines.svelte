<!-- Tables with the entities that they would be, and what is beside them, one a line, to be chosen from; only those in sight are drawn. -->
<script lang="ts">
  import { addressKey, KINDS, namesOf, tableAddress, type Address, type Table } from '../../core/catalog'
  import { linesInSight } from '../desk/in-sight.svelte'
  import { count } from '../desk/words'
  import { keyOf, type Bringing, type Found } from './bringing.svelte'

  const { bringing, found }: { bringing: Bringing; found: Found } = $props()

  /** A table and the entity that it would be; or something beside tables, which a target keeps as it is. */
  interface Line {
    readonly schema: string
    readonly name: string
    readonly address: Address
    readonly becomes: string
    readonly table?: Table
  }
  let wanted = $state('')
  let schema = $state('')
  const inOrder = new Intl.Collator('en', { numeric: true })
  const sorted = $derived<Line[]>(
    [
      ...found.catalog.tables.map((table, i) => ({
        schema: table.schema,
        name: table.name,
        address: tableAddress(table),
        becomes: found.entities[i] ?? '',
        table
      })),
      ...found.others.map((address) => ({
        schema: namesOf(address).schema,
        name: address.path.at(-1) ?? '',
        address,
        becomes: KINDS[address.kind].word
      }))
    ].sort((a, b) => Number('table' in b) - Number('table' in a) || inOrder.compare(a.name, b.name))
  )
  const schemas = $derived([...new Set(sorted.map((line) => line.schema))].sort(inOrder.compare))
  const shown = $derived.by(() => {
    const text = wanted.trim().toLowerCase()
    const within = schemas.includes(schema) ? sorted.filter((line) => line.schema === schema) : sorted
    if (text === '') return within
    const pattern = new RegExp(
      text
        .split('*')
        .map((part) => part.replace(/[.+?^${}()|[\]\\]/g, '\\$&'))
        .join('.*'),
      'u'
    )
    return within.filter((line) =>
      [line.name, line.becomes, `${line.schema}.${line.name}`].some((name) => pattern.test(name.toLowerCase()))
    )
  })
  const isChosen = ({ table, address }: Line) =>
    table ? bringing.isChosen(table) : bringing.isKept(address) && !bringing.going.has(addressKey(address))
  const tables = $derived(shown.filter(({ table }) => table))
  const others = $derived(shown.filter(({ table }) => !table))
  const chosen = $derived(shown.filter(isChosen).length)
  const status = $derived.by(() => {
    const of = (lines: Line[]) => `${lines.filter(isChosen).length} of ${lines.length.toLocaleString('en')}`
    const told = `${of(tables)} ${tables.length === 1 ? 'table' : 'tables'}`
    return others.length === 0 ? `${told} chosen` : `${told}, ${of(others)} others chosen`
  })
  /** The height of a line, in pixels. */
  const LINE = 34
  let pane = $state<HTMLElement>()
  const lines = linesInSight(
    LINE,
    () => shown.length,
    () => pane
  )
  const told = (table: Table) =>
    [
      count(table.columns.length, 'column', 'columns'),
      table.foreignKeys.length > 0 &&
        `to ${[...new Set(table.foreignKeys.map((fk) => fk.references.table))].join(', ')}`
    ]
      .filter((part) => part)
      .join(' · ')
  /** Why something is left out, where nobody has said so here. */
  const aside = (line: Line) =>
    isChosen(line)
      ? undefined
      : line.table
        ? found.beside.get(keyOf(line.table))
        : bringing.isKept(line.address)
          ? bringing.going.get(addressKey(line.address))
          : undefined
  function choose(lines: readonly Line[], all: boolean) {
    const tables = lines.flatMap(({ table }) => table ?? [])
    if (tables.length > 0) bringing.choose(tables, all)
    const others = lines.flatMap(({ table, address }) => (table ? [] : [address]))
    if (others.length > 0) bringing.keep(others, all)
  }
</script>

<div class="flex items-center gap-3 border-b border-line px-4 py-1.5 text-[13px]">
  <input
    type="checkbox"
    class="size-4 accent-primary"
    aria-label={wanted.trim() === '' ? 'All of it' : 'All that is found'}
    checked={chosen === shown.length && shown.length > 0}
    indeterminate={chosen > 0 && chosen < shown.length}
    disabled={shown.length === 0}
    onchange={(event) => choose(shown, event.currentTarget.checked)}
  />
  <input
    type="search"
    class="w-64 rounded border border-line bg-base-100 px-2 py-1"
    placeholder="Part of a name, * for anything"
    aria-label="Look for names"
    bind:value={wanted}
  />
  {#if schemas.length > 1}
    <select class="rounded border border-line bg-base-100 px-1.5 py-1" aria-label="Schema" bind:value={schema}>
      <option value="">every schema</option>
      {#each schemas as name (name)}<option value={name}>{name}</option>{/each}
    </select>
  {/if}
  <span class="ml-auto text-soft" role="status">{status}</span>
</div>
<div
  class="min-h-0 flex-1 overflow-y-auto"
  bind:this={pane}
  role="list"
  aria-label="Tables and what is beside them"
  tabindex="-1"
>
  {#if shown.length === 0}<p class="px-4 py-6 text-soft">Nothing is called so.</p>{/if}
  <div class="relative w-full" style:height="{$lines.getTotalSize()}px">
    {#each $lines.getVirtualItems() as item (item.key)}
      {@const line = shown[item.index]}
      {#if line}
        {@const { table, becomes } = line}
        {@const comes = isChosen(line)}
        {@const why = aside(line)}
        <label
          role="listitem"
          class="absolute top-0 left-0 grid w-full cursor-pointer grid-cols-[auto_minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)] items-center gap-3 border-b border-line px-4 text-[13px] hover:bg-base-200 {comes
            ? ''
            : 'text-soft'}"
          style:height="{item.size}px"
          style:transform="translateY({item.start}px)"
        >
          <input
            type="checkbox"
            class="size-4 accent-primary"
            aria-label={line.name}
            checked={comes}
            disabled={why !== undefined && !table}
            onchange={(event) => choose([line], event.currentTarget.checked)}
          />
          <span class="truncate font-mono" title={table ? keyOf(table) : `${line.schema}.${line.name}`}
            >{#if line.schema !== found.catalog.defaultSchema}<span class="text-soft">{line.schema}.</span
              >{/if}{line.name}</span
          >
          {#if why}
            <span class="col-span-2 truncate" title={why}>left out: {why.replace(/^It/, 'it')}</span>
          {:else if table}
            <span class="truncate {comes ? 'font-semibold' : ''}" title={becomes}>{comes ? becomes : 'left out'}</span>
            <span class="truncate text-soft" title={told(table)}>{told(table)}</span>
          {:else}
            <span class="truncate">{comes ? becomes : 'left out'}</span>
            <span class="truncate text-soft">{comes ? 'kept as it is' : becomes}</span>
          {/if}
        </label>
      {/if}
    {/each}
  </div>
</div>
