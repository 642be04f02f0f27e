<!-- What a thing of the design became in a target's database, and what a table came from: a click goes there and back. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import { ownerOf } from '../../core/design'
  import { coreWorker } from '../../workers'
  import { useDesk } from '../desk/desk.svelte'
  import type { Board } from './board.svelte'

  const { board, id }: { board: Board; id: string } = $props()
  const desk = useDesk()
  const target = $derived(board.whole.level === 'physical' ? board.whole.target : desk.shownId)
  let became = $state.raw<readonly string[]>([])
  $effect(() => {
    const [design, wanted, own] = [desk.design, target, id]
    void coreWorker()
      .became(design, wanted, own)
      .then((found) => {
        if (own === untrack(() => id)) became = found
      })
  })
  const name = $derived(desk.design.targets[target ?? '']?.name)
  const isPhysical = $derived(!board.isOfEntities)
  const thing = $derived.by(() => {
    const { entity, attribute } = ownerOf(desk.design, id)
    if (attribute) return `${entity?.name ?? ''}.${attribute.name}`
    return entity && !desk.design.links[id] ? `the entity ${entity.name}` : 'a link'
  })

  function go() {
    board.set(isPhysical ? { level: undefined, target: undefined } : { level: 'physical', target })
    board.own = undefined
    const owner = ownerOf(desk.design, id).entity?.id
    const card = board.picture.cards.find((one) => [id, owner].includes(one.id) || one.of === id)
    if (card) board.plane.show(card, true)
  }
</script>

{#if isPhysical}
  <span class="text-soft">came from <button class="underline" onclick={go}>{thing}</button></span>
{:else if became.length > 0}
  <span class="text-soft"
    >{name === undefined ? 'becomes' : `on ${name}:`}
    <button class="underline" onclick={go}>{became.slice(0, 2).join(', ')}{became.length > 2 ? ' …' : ''}</button></span
  >
{:else}
  <span class="text-soft">{name === undefined ? 'becomes' : `on ${name}:`} no table of its own</span>
{/if}
