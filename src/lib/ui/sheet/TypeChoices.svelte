<!-- Types and entities to choose from, with what each holds at the target in view. -->
<script lang="ts">
  import { typeText } from '../../core/catalog'
  import type { Design } from '../../core/design'
  import { typedType } from '../../core/cells'
  import { dialect } from '../../core/dialects'
  import { printType, TYPE_CHOICES } from '../../core/types'
  import { useDesk } from '../desk/desk.svelte'

  interface Props {
    readonly id: string
    readonly design: Design
    readonly text: string
    /** Which choice is marked; -1 for the one that the text begins. */
    readonly marked: number
    readonly onchoose: (text: string) => void
    /** What is offered, and what the text is the beginning of. */
    readonly onlist: (choices: { readonly list: readonly string[]; readonly first: string | undefined }) => void
    readonly above: boolean
  }
  const { id, design, text, marked, onchoose, onlist, above }: Props = $props()
  const desk = useDesk()

  const engine = $derived(dialect(desk.shown.engine, desk.shown.version))
  const all = $derived.by(() => {
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
    return [...domains, ...types, ...entities]
  })
  const wanted = $derived(text.trim().toLowerCase())
  const isWhole = $derived(all.some((choice) => choice.text.toLowerCase() === wanted))
  const understood = $derived.by(() => {
    const read = isWhole || wanted === '' ? undefined : typedType(text)
    return read && 'value' in read ? read.value : undefined
  })
  const begun = $derived(all.filter((choice) => choice.text.toLowerCase().startsWith(wanted)))
  // A text that is a whole choice already is being replaced: everything is shown.
  const choices = $derived(wanted === '' || begun.length === 0 || isWhole ? all : begun)
  const first = $derived(wanted === '' || isWhole || understood ? undefined : begun[0]?.text)
  const at = $derived(marked < 0 && first !== undefined ? 0 : marked)
  $effect(() => onlist({ list: choices.map((choice) => choice.text), first }))
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
  {#if understood?.instead !== undefined}
    <li role="presentation" class="border-b border-line px-2.5 pb-1 text-xs text-soft">
      Enter takes it as <span class="font-mono text-base-content">{understood.instead}</span>
    </li>
  {/if}
  {#each choices as choice, i (choice.text)}
    <li
      role="option"
      id="{id}-{i}"
      aria-selected={i === at}
      class="grid cursor-pointer grid-cols-[130px_1fr] gap-x-2 px-2.5 py-1 {i === at
        ? 'bg-sea-tint'
        : 'hover:bg-base-200'}"
      onpointerdown={(event) => {
        event.preventDefault()
        onchoose(choice.text)
      }}
      {@attach (node) => scrolled(node, i === at)}
    >
      <span class="font-mono text-[13px]">{choice.text}</span>
      <span class="truncate text-xs text-soft">
        {choice.use}{#if choice.range}<br /><span class="text-base-content">{choice.range}</span> · bytes: {choice.bytes}{/if}
      </span>
    </li>
  {/each}
</ul>
