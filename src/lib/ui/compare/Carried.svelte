<!-- What the database has beside the design, of kinds that no design says: it stays as it is, or the target holds it. -->
<script lang="ts">
  import { SvelteSet } from 'svelte/reactivity'
  import { addressKey, KINDS, type Kind, type Placed } from '../../core/catalog'
  import { printStatement, type Dialect } from '../../core/dialects'
  import { count } from '../desk/words'
  import SqlView from '../script/SqlView.svelte'

  interface Props {
    readonly carried: readonly Placed[]
    readonly engine: Dialect
    readonly onhold: (list: readonly Placed[]) => void
  }
  const { carried, engine, onhold }: Props = $props()
  const groups = $derived.by(() => {
    const byKind = new Map<Kind, Placed[]>()
    for (const object of carried) {
      const list = byKind.get(object.kind)
      if (list) list.push(object)
      else byKind.set(object.kind, [object])
    }
    for (const list of byKind.values()) list.sort((a, b) => inOrder.compare(said(a), said(b)))
    return [...byKind]
  })
  const inOrder = new Intl.Collator('en', { numeric: true })
  /** More than these are folded at first, so that the next kind is in sight. */
  const FEW = 20
  /** Kinds that a person has folded, or unfolded. */
  const turned = new SvelteSet<Kind>()
  const isOpen = (kind: Kind, list: readonly Placed[]) => list.length > FEW === turned.has(kind)
  let opened = $state('')
  const textOf = (object: Placed) =>
    engine.carry
      .create(object)
      .map(({ statement }) => printStatement(statement, engine))
      .join('\n')
  const said = ({ address: { path } }: Placed) => (path.length > 2 ? path.slice(1).join('.') : (path.at(-1) ?? ''))
</script>

<section class="border-t border-line" aria-label="Beside the design">
  <h2 class="px-5 pt-3 font-semibold">Beside the design</h2>
  <p class="px-5 text-[13px] text-soft">
    {count(carried.length, 'thing', 'things')} that a design does not say. Plans work around them and give them back as they
    were. Held here, they are compared from then on.
    <button class="underline" onclick={() => onhold(carried)}>Hold all of them here</button>
  </p>
  {#each groups as [kind, list] (kind)}
    <h3 class="mt-2 flex items-baseline gap-2 bg-base-200 px-5 py-1 text-[13px] font-semibold">
      <button
        class="flex items-baseline gap-2"
        aria-expanded={isOpen(kind, list)}
        onclick={() => (turned.has(kind) ? turned.delete(kind) : turned.add(kind))}
      >
        <span aria-hidden="true" class="text-soft">{isOpen(kind, list) ? '▾' : '▸'}</span>
        <span class="inline-block first-letter:uppercase">{KINDS[kind].many}</span>
        <span class="font-normal text-soft">{list.length}</span>
      </button>
      <button class="ml-auto font-normal underline" onclick={() => onhold(list)}>Hold these</button>
    </h3>
    <ul class="pb-1" hidden={!isOpen(kind, list)}>
      {#each isOpen(kind, list) ? list : [] as object (addressKey(object.address))}
        {@const key = addressKey(object.address)}
        <li class="px-5 py-0.5 text-[13px]">
          <button
            class="font-mono hover:underline"
            aria-expanded={opened === key}
            onclick={() => (opened = opened === key ? '' : key)}>{said(object)}</button
          >
          {#if object.value.comment}<span class="text-soft">{object.value.comment}</span>{/if}
          {#if opened === key}
            <div class="my-1 max-h-64 overflow-auto rounded border border-line">
              <SqlView text={textOf(object)} label={said(object)} />
            </div>
          {/if}
        </li>
      {/each}
    </ul>
  {/each}
</section>
