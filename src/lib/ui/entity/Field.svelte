<!-- A text that may be refused: what was typed stays, with the reason beside it. Words of a list are completed. -->
<script lang="ts">
  interface Props {
    readonly label: string
    readonly value: string
    /** Takes what was typed; or the sentence that says why not. */
    readonly onkeep: (text: string) => string | undefined
    readonly placeholder?: string
    readonly mono?: boolean
    /** What the word one is typing may become. */
    readonly words?: readonly string[]
    /** The word that is being typed, at the end of the text before the cursor. */
    readonly word?: RegExp
    /** It is emptied once it is kept: the next one is typed here. */
    readonly fresh?: boolean
    readonly class?: string
  }
  const {
    label,
    value,
    onkeep,
    placeholder = '',
    mono = false,
    words = [],
    word = /[^,]*$/,
    fresh = false,
    class: own = ''
  }: Props = $props()
  const id = $props.id()
  let refused = $state('')
  let typed = $state<string>()
  let marked = $state(0)
  let input = $state<HTMLInputElement>()

  const before = $derived((typed ?? '').slice(0, input?.selectionStart ?? undefined))
  const begun = $derived((typed === undefined ? '' : (word.exec(before)?.[0] ?? '')).trim().toLowerCase())
  const offered = $derived(
    begun === ''
      ? []
      : words.filter((one) => one.toLowerCase().startsWith(begun) && one.toLowerCase() !== begun).slice(0, 8)
  )

  function complete(choice: string) {
    if (!input) return
    const at = before.length - begun.length
    const text = before.slice(0, at) + choice + (typed ?? '').slice(before.length)
    input.value = typed = text
    input.setSelectionRange(at + choice.length, at + choice.length)
    marked = 0
  }

  function keep(node: HTMLInputElement) {
    if (node.value === value && !refused) return void (typed = undefined)
    refused = onkeep(node.value) ?? ''
    if (refused !== '') return
    typed = undefined
    node.value = fresh ? '' : value
  }

  function onkeydown(event: KeyboardEvent & { currentTarget: HTMLInputElement }) {
    if (!event.ctrlKey && !event.metaKey && !event.altKey) event.stopPropagation()
    const choice = offered[marked]
    if (choice !== undefined && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
      marked = (marked + (event.key === 'ArrowDown' ? 1 : -1) + offered.length) % offered.length
      event.preventDefault()
    } else if (choice !== undefined && (event.key === 'Tab' || event.key === 'Enter')) {
      complete(choice)
      event.preventDefault()
    } else if (event.key === 'Enter') keep(event.currentTarget)
    else if (event.key === 'Escape') {
      event.currentTarget.value = value
      typed = undefined
      refused = ''
    }
  }
</script>

<span class="relative grid min-w-0 {own}">
  <input
    bind:this={input}
    class="min-w-0 rounded border bg-base-100 px-1.5 py-0.5 {mono ? 'font-mono text-[13px]' : ''} {refused
      ? 'border-error'
      : 'border-line'}"
    aria-label={label}
    aria-invalid={refused !== ''}
    aria-describedby={refused ? `${id}-why` : undefined}
    role={words.length > 0 ? 'combobox' : undefined}
    aria-expanded={words.length > 0 ? offered.length > 0 : undefined}
    aria-controls={words.length > 0 ? `${id}-words` : undefined}
    title={value}
    {placeholder}
    {value}
    oninput={(event) => {
      typed = event.currentTarget.value
      marked = 0
    }}
    onblur={(event) => keep(event.currentTarget)}
    {onkeydown}
  />
  {#if offered.length > 0}
    <ul
      id="{id}-words"
      role="listbox"
      aria-label="Columns"
      class="absolute top-full left-0 z-30 mt-0.5 min-w-32 rounded border border-line bg-base-100 py-0.5 shadow"
    >
      {#each offered as choice, i (choice)}
        <li
          role="option"
          aria-selected={i === marked}
          class="cursor-pointer px-2 py-0.5 {mono ? 'font-mono text-[13px]' : ''} {i === marked ? 'bg-sea-tint' : ''}"
          onpointerdown={(event) => {
            event.preventDefault()
            complete(choice)
          }}
        >
          {choice}
        </li>
      {/each}
    </ul>
  {/if}
  {#if refused}<span role="alert" id="{id}-why" class="text-xs text-error">{refused}</span>{/if}
</span>
