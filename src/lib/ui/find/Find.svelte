<!-- Any entity, column, view, domain, target, thing that a target holds, or command, by the name people say or the one the engine has. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import { addressKey, isFree, KINDS, namesOf } from '../../core/catalog'
  import { plainName, plainTable } from '../../core/derive'
  import { branches } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'

  interface Found {
    readonly key: string
    readonly name: string
    readonly kind: string
    readonly also: string
    readonly go: () => void
  }
  interface Props {
    readonly commands: readonly { readonly name: string; readonly run: () => void }[]
    readonly onclose: () => void
  }
  const { commands, onclose }: Props = $props()
  const desk = useDesk()
  let wanted = $state('')
  let marked = $state(0)

  const all = $derived.by((): Found[] => {
    const home = () => goto(resolve('/design/[id]', { id: desk.design.id }))
    const entities = Object.values(desk.design.entities).flatMap((entity): Found[] => [
      {
        key: entity.id,
        name: entity.name,
        kind: 'entity',
        also: plainTable(entity, desk.design.settings),
        go: () => void home().then(() => desk.select({ kind: 'entity', entity: entity.id }))
      },
      ...branches(entity).map(({ attribute, path }) => ({
        key: attribute.id,
        name: attribute.name,
        kind: path.length > 0 ? `field of ${entity.name}, ${path.at(-1)?.name}` : `column of ${entity.name}`,
        also: attribute.dbName ?? plainName(attribute.name, desk.design.settings),
        go: () => void home().then(() => desk.select({ kind: 'row', entity: entity.id, row: attribute.id }))
      }))
    ])
    const views = Object.values(desk.design.views).map((view) => ({
      key: view.id,
      name: view.name,
      kind: 'view',
      also: plainTable(view, desk.design.settings),
      go: () => void home().then(() => desk.select({ kind: 'view', view: view.id }))
    }))
    const words = [
      ...Object.values(desk.design.domains).map(({ id, name }) => ({ id, name, kind: 'domain' })),
      ...Object.values(desk.design.commons).map(({ id, name }) => ({ id, name, kind: 'column of every entity' }))
    ].map(({ id, name, kind }) => ({
      key: id,
      name,
      kind,
      also: '',
      go: () => void home().then(() => desk.select({ kind: 'word', word: id }))
    }))
    const targets = Object.values(desk.design.targets).map((target) => ({
      key: target.id,
      name: target.name,
      kind: 'target',
      also: '',
      go: () => void goto(resolve('/design/[id]/compare/[target]', { id: desk.design.id, target: target.id }))
    }))
    const held = Object.values(desk.design.targets).flatMap((target) =>
      (target.extras ?? []).map((extra): Found => {
        const { name, table } = namesOf(extra)
        return {
          key: `${target.id} ${addressKey(extra)}`,
          name,
          kind: `${KINDS[extra.kind].word}${isFree(extra.kind) ? '' : ` of ${table}`}, held by ${target.name}`,
          also: '',
          go: () =>
            void home().then(() => {
              desk.show(target.id)
              desk.select({ kind: 'held', target: target.id, at: extra })
            })
        }
      })
    )
    const known = commands.map(({ name, run }) => ({ key: name, name, kind: 'command', also: '', go: run }))
    return [...entities, ...views, ...words, ...targets, ...held, ...known]
  })
  const found = $derived.by(() => {
    const text = wanted.trim().toLowerCase()
    if (text === '') return all.filter((item) => item.kind === 'target' || item.kind === 'command').slice(0, 12)
    const rank = (item: Found) => {
      const [name, also] = [item.name.toLowerCase(), item.also.toLowerCase()]
      if (name === text || also === text) return 0
      if (name.startsWith(text) || also.startsWith(text)) return 1
      return name.includes(text) || also.includes(text) ? 2 : 9
    }
    return all
      .map((item) => ({ item, rank: rank(item) }))
      .filter(({ rank: r }) => r < 9)
      .sort((a, b) => a.rank - b.rank)
      .slice(0, 12)
      .map(({ item }) => item)
  })

  function choose(item: Found | undefined) {
    if (!item) return
    onclose()
    item.go()
  }
  function onkeydown(event: KeyboardEvent) {
    if (event.key === 'ArrowDown') marked = Math.min(marked + 1, found.length - 1)
    else if (event.key === 'ArrowUp') marked = Math.max(marked - 1, 0)
    else if (event.key === 'Enter') choose(found[marked])
    else if (event.key === 'Escape') onclose()
    else return
    event.preventDefault()
    event.stopPropagation()
  }
</script>

<div
  class="fixed inset-0 z-50 bg-black/25"
  role="presentation"
  onclick={(event) => event.target === event.currentTarget && onclose()}
>
  <div
    class="mx-auto mt-16 w-[520px] overflow-hidden rounded-lg border border-line bg-base-100 shadow-xl"
    role="dialog"
    aria-modal="true"
    aria-label="Find anything"
  >
    <input
      class="w-full bg-base-100 px-4 py-3 text-base outline-none"
      placeholder="An entity, a column, a view, a target, a command"
      role="combobox"
      aria-label="Find anything"
      aria-expanded="true"
      aria-controls="found"
      aria-activedescendant={found[marked] ? `found-${marked}` : undefined}
      bind:value={wanted}
      oninput={() => (marked = 0)}
      {onkeydown}
      {@attach (node: HTMLInputElement) => node.focus()}
    />
    <ul id="found" role="listbox" aria-label="Found" class="max-h-96 overflow-y-auto border-t border-line py-1">
      {#each found as item, i (item.key)}
        <li
          id="found-{i}"
          role="option"
          aria-selected={i === marked}
          class="flex cursor-pointer items-baseline gap-2 px-4 py-1.5 {i === marked ? 'bg-sea-tint' : ''}"
          onpointerdown={() => choose(item)}
        >
          <span class="font-semibold">{item.name}</span>
          <span class="font-mono text-xs text-soft">{item.also}</span>
          <span class="ml-auto text-xs text-soft">{item.kind}</span>
        </li>
      {:else}
        <li class="px-4 py-3 text-soft" role="option" aria-selected="false">Nothing has this name.</li>
      {/each}
    </ul>
  </div>
</div>
