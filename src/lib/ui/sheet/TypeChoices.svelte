<!-- Types and entities to choose from, with what each holds at the target in view. -->
<script lang="ts">
  import { typeText } from '../../core/catalog'
  import type { Design } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import { printType, TYPE_CHOICES } from '../../core/types'
  import { useDesk } from '../desk/desk.svelte'

  interface Props {
    readonly id: string
    readonly design: Design
    readonly text: string
    /** Which choice is marked; -1 for none. */
    readonly marked: number
    readonly onchoose: (text: string) => void
    readonly onlist: (choices: readonly string[]) => void
    readonly above: boolean
  }
  const { id, design, text, marked, onchoose, onlist, above }: Props = $props()
  const desk = useDesk()

  const engine = $derived(desk.target ? dialect(desk.target.engine, desk.target.version) : dialect('postgres'))
  const choices = $derived.by(() => {
    const wanted = text.trim().toLowerCase()
    const types = TYPE_CHOICES.map(({ type, use }) => {
      const own = engine?.types.fromNeutral(type).type
      const engineType = own ? typeText(own) : ''
      const { range = '', bytes = '' } = (own && engine?.types.describe(own)) ?? {}
      return { text: printType(type), use, engineType, range, bytes }
    })
    const entities = Object.values(design.entities).map((entity) => ({
      text: entity.name,
      use: 'a link to it',
      engineType: '',
      range: '',
      bytes: ''
    }))
    const domains = Object.values(design.domains).map((domain) => ({
      text: domain.name,
      use: `a domain: ${printType(domain.type)}`,
      engineType: '',
      range: '',
      bytes: ''
    }))
    const all = [...domains, ...types, ...entities]
    const begins = all.filter((choice) => choice.text.toLowerCase().startsWith(wanted))
    // A text that is a whole choice already is being replaced: show everything.
    return wanted === '' || begins.length === 0 || all.some((c) => c.text.toLowerCase() === wanted) ? all : begins
  })
  $effect(() => onlist(choices.map((choice) => choice.text)))
  const scrolled = (node: HTMLElement, on: boolean) => {
    if (on) node.scrollIntoView({ block: 'nearest' })
  }
</script>

<ul
  {id}
  role="listbox"
  aria-label="Types"
  class="absolute left-0 z-30 max-h-64 w-[440px] overflow-y-auto rounded-md border border-line bg-base-100 py-1 shadow-lg {above
    ? 'bottom-full mb-1'
    : 'top-full mt-1'}"
>
  {#each choices as choice, i (choice.text)}
    <li
      role="option"
      id="{id}-{i}"
      aria-selected={i === marked}
      class="grid cursor-pointer grid-cols-[130px_1fr] gap-x-2 px-2.5 py-1 {i === marked
        ? 'bg-sea-tint'
        : 'hover:bg-base-200'}"
      onpointerdown={(event) => {
        event.preventDefault()
        onchoose(choice.text)
      }}
      {@attach (node) => scrolled(node, i === marked)}
    >
      <span class="font-mono text-[13px]">{choice.text}</span>
      <span class="truncate text-xs text-soft">
        {choice.use}{#if choice.range}<br /><span class="text-base-content">{choice.range}</span> · bytes: {choice.bytes}{/if}
      </span>
    </li>
  {/each}
</ul>
