<!-- Columns of one name and type together: a domain for many of them at once, by keyboard. -->
<script lang="ts">
  import { attach, columnGroups, domainFrom, type Changed } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import { linesInSight } from '../desk/in-sight.svelte'
  import { count } from '../desk/words'

  const { tried }: { tried: (changed: Changed) => boolean } = $props()
  const desk = useDesk()
  const ROW = 26
  let text = $state('')
  let without = $state(true)
  let apart = $state(false)
  let chosen = $state.raw<ReadonlySet<string>>(new Set())
  /** The row that keys act on, and the other end of a choice with Shift. */
  let at = $state(0)
  let anchor = $state(0)
  let name = $state('')
  let pane = $state<HTMLElement>()
  let list = $state<HTMLElement>()

  const groups = $derived(columnGroups(desk.design, { text, without, apart }))
  const domains = $derived(Object.values(desk.design.domains).sort((a, b) => a.name.localeCompare(b.name)))
  const marked = $derived(groups.filter(({ key }) => chosen.has(key)))
  const columns = $derived(marked.reduce((sum, group) => sum + group.columns.length, 0))
  const lines = linesInSight(
    ROW,
    () => groups.length,
    () => pane
  )

  function choose(index: number, how: 'only' | 'also' | 'to') {
    const group = groups[index]
    if (!group) return
    at = index
    if (how === 'to') {
      const [from, to] = [Math.min(anchor, index), Math.max(anchor, index)]
      chosen = new Set(groups.slice(from, to + 1).map(({ key }) => key))
      return
    }
    anchor = index
    const next = new Set(how === 'also' ? chosen : [])
    if (how === 'also' && next.has(group.key)) next.delete(group.key)
    else next.add(group.key)
    chosen = next
  }
  function go(index: number, extend: boolean) {
    at = Math.max(0, Math.min(groups.length - 1, index))
    if (extend) choose(at, 'to')
    else anchor = at
    $lines.scrollToIndex(at)
  }
  function onkeydown(event: KeyboardEvent) {
    const page = Math.floor((pane?.clientHeight ?? 200) / ROW)
    const by = { ArrowDown: 1, ArrowUp: -1, PageDown: page, PageUp: -page }[event.key]
    if (by !== undefined) go(at + by, event.shiftKey)
    else if (event.key === 'Home') go(0, event.shiftKey)
    else if (event.key === 'End') go(groups.length - 1, event.shiftKey)
    else if (event.key === ' ') choose(at, 'also')
    else if (event.key.toLowerCase() === 'a' && (event.ctrlKey || event.metaKey))
      chosen = new Set(groups.map(({ key }) => key))
    else if (event.key === 'Enter') document.getElementById('domain-for-columns')?.focus()
    else if (event.key === 'Escape') chosen = new Set()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
  /** The domain of that name for what is chosen; one that there is not yet is made of it. */
  function give() {
    const called = name.trim()
    const domain = domains.find((one) => one.name.toLowerCase() === called.toLowerCase())
    const done = tried(domain ? { edit: attach(marked, domain.id) } : domainFrom(desk.design, marked, called))
    if (!done) return
    name = ''
    chosen = new Set()
    list?.focus()
  }
  function take() {
    desk.edit(attach(marked, undefined))
    chosen = new Set()
  }
  const field = 'min-w-0 rounded border border-line bg-base-100 px-1.5 py-0.5'
  const GRID = 'grid grid-cols-[1.2fr_8rem_5.5rem_1.6fr_1fr] items-center gap-2 px-2'
</script>

<section class="mt-6" aria-label="Domains for columns">
  <h2 class="text-[15px] font-semibold">Domains for columns</h2>
  <p class="text-soft">
    Choose with <kbd>↑</kbd> <kbd>↓</kbd> and <kbd>Space</kbd>, a run of them with <kbd>Shift</kbd>, all with
    <kbd>Ctrl A</kbd>; then <kbd>Enter</kbd> and the domain’s name.
  </p>
  <div class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-1">
    <input
      class="{field} w-44"
      aria-label="Narrow the columns"
      placeholder="name of a column or entity"
      bind:value={text}
    />
    <label class="flex items-center gap-1.5"
      ><input type="checkbox" class="size-4 accent-primary" bind:checked={without} />only those of no domain</label
    >
    <label class="flex items-center gap-1.5"
      ><input type="checkbox" class="size-4 accent-primary" bind:checked={apart} />each by itself</label
    >
    <span class="ml-auto text-soft"
      >{apart ? count(groups.length, 'column', 'columns') : count(groups.length, 'sort', 'sorts')}</span
    >
  </div>
  {#if groups.length === 0}
    <p class="mt-2 text-soft">{without && text === '' ? 'Every column is of a domain.' : 'No column has that.'}</p>
  {:else}
    <div class="mt-1.5 rounded border border-line">
      <div class="border-b border-line bg-base-200 py-0.5 text-xs text-soft {GRID}" aria-hidden="true">
        <span>Column</span><span>Type</span><span>{apart ? '' : 'How often'}</span><span>In</span><span>Domain</span>
      </div>
      <div bind:this={pane} class="h-56 overflow-y-auto">
        <div
          bind:this={list}
          role="listbox"
          aria-label="Columns to choose"
          aria-multiselectable="true"
          aria-activedescendant={groups[at] ? `sort-${at}` : undefined}
          tabindex="0"
          class="relative"
          style:height="{$lines.getTotalSize()}px"
          {onkeydown}
        >
          {#each $lines.getVirtualItems() as item (item.index)}
            {@const group = groups[item.index]}
            {#if group}
              <!-- svelte-ignore a11y_click_events_have_key_events (the list around it has the keys) -->
              <div
                id="sort-{item.index}"
                role="option"
                tabindex="-1"
                aria-selected={chosen.has(group.key)}
                class="absolute inset-x-0 cursor-default {GRID} {chosen.has(group.key)
                  ? 'bg-sea-tint'
                  : ''} {item.index === at ? 'outline outline-1 -outline-offset-1 outline-primary' : ''}"
                style:transform="translateY({item.start}px)"
                style:height="{ROW}px"
                onclick={(event) =>
                  choose(item.index, event.shiftKey ? 'to' : event.ctrlKey || event.metaKey ? 'also' : 'only')}
              >
                <span class="truncate font-semibold" title={group.name}>{group.name}</span>
                <span class="truncate font-mono text-secondary" title={group.type}>{group.type}</span>
                <span class="text-soft">{apart ? '' : `${group.columns.length} ×`}</span>
                <span class="truncate text-soft" title={group.columns.map(({ entity }) => entity.name).join(', ')}
                  >{group.columns.map(({ entity }) => entity.name).join(', ')}</span
                >
                <span class="truncate">{group.domains.map((id) => desk.design.domains[id]?.name).join(', ')}</span>
              </div>
            {/if}
          {/each}
        </div>
      </div>
      <form
        class="flex flex-wrap items-center gap-2 border-t border-line bg-base-200 px-2 py-1"
        aria-label="A domain for what is chosen"
        onsubmit={(event) => {
          event.preventDefault()
          give()
        }}
      >
        <span role="status" class="text-soft"
          >{columns === 0 ? 'nothing chosen' : `${count(columns, 'column', 'columns')} chosen`}</span
        >
        <input
          id="domain-for-columns"
          class="{field} w-40"
          aria-label="Domain for the columns"
          placeholder="domain, or a new name"
          list="domain-names"
          disabled={columns === 0}
          bind:value={name}
        />
        <datalist id="domain-names">
          {#each domains as domain (domain.id)}<option value={domain.name}></option>{/each}
        </datalist>
        <button
          class="rounded bg-primary px-2.5 py-0.5 font-semibold text-primary-content disabled:opacity-50"
          disabled={columns === 0 || name.trim() === ''}
          >{domains.some((one) => one.name.toLowerCase() === name.trim().toLowerCase()) || name.trim() === ''
            ? 'Give it'
            : 'Make it of them'}</button
        >
        {#if marked.some((group) => group.domains.length > 0)}
          <button type="button" class="px-1 text-soft underline" onclick={take}>Of no domain</button>
        {/if}
      </form>
    </div>
  {/if}
</section>
