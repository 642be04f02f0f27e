<!-- The query of a view, in the names of the target that is looked at; kept with references in their place. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import Trash from '@lucide/svelte/icons/trash-2'
  import type { Catalog } from '../../core/catalog'
  import { whyNeverWhole } from '../../core/derive'
  import { own, type View } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import { coreWorker } from '../../workers'
  import NameField from '../desk/NameField.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import SqlEditor from '../queries/SqlEditor.svelte'

  const { view }: { view: View } = $props()
  const desk = useDesk()
  const engine = $derived(desk.shown.engine)
  const label = $derived(dialect(engine)?.profile.label ?? engine)
  /** What this engine alone is told. */
  const apart = $derived(own(view.texts, engine))

  let text = $state('')
  let shown = $state('')
  let shownOf = ''
  let catalog = $state.raw<Catalog>()
  let lost = $state.raw<readonly string[]>([])
  let said = $state('')

  // Whatever else has another name now is named so here too; what is being typed stays.
  $effect(() => {
    const [design, target, kept, of] = [desk.design, desk.shownId, apart ?? view.text, `${view.id} ${engine}`]
    untrack(() => {
      if (of === shownOf && text !== shown) return
      void coreWorker()
        .viewText(design, target, kept)
        .then((found) => {
          if (of === shownOf && text !== shown) return
          ;({ catalog, lost } = found)
          shownOf = of
          text = shown = found.sql
          said = ''
        })
    })
  })

  async function keep() {
    if (text === shown) return
    const why = whyNeverWhole(text.trim().replace(/;\s*$/, ''))
    if (why !== undefined) {
      said = why
      return
    }
    said = ''
    const typed = text
    const kept = await coreWorker().viewReferences(desk.design, desk.shownId, typed)
    shown = typed
    desk.edit({
      kind: 'object.set',
      collection: 'views',
      object: apart === undefined ? { ...view, text: kept } : { ...view, texts: { ...view.texts, [engine]: kept } }
    })
  }

  function part() {
    desk.edit({
      kind: 'object.set',
      collection: 'views',
      object: { ...view, texts: { ...view.texts, [engine]: view.text } }
    })
  }
  function join() {
    const { [engine]: _gone, ...texts } = view.texts
    desk.edit({ kind: 'object.set', collection: 'views', object: { ...view, texts } })
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const link = 'rounded px-1.5 py-0.5 text-[13px] underline hover:bg-base-300'
</script>

<div
  role="group"
  aria-label="The view {view.name}"
  class="flex shrink-0 flex-col gap-1.5 border-t border-line bg-base-200 px-3 py-2 text-[13px]"
  onfocusout={(event) => {
    if (!event.currentTarget.contains(event.relatedTarget as Node | null)) void keep()
  }}
>
  <div class="flex flex-wrap items-center gap-x-3 gap-y-1.5">
    <NameField label="View" name={view.name} rename={(name) => desk.renameView(view, name)} />
    <label class="flex flex-1 items-center gap-1.5">
      means
      <input
        class="{field} min-w-32 flex-1"
        value={view.means ?? ''}
        onchange={(event) => {
          const { means: _means, ...rest } = view
          const means = event.currentTarget.value.trim()
          desk.edit({ kind: 'object.set', collection: 'views', object: means === '' ? rest : { ...rest, means } })
        }}
      />
    </label>
    <button
      class="rounded p-1 text-soft hover:bg-base-300 hover:text-error"
      aria-label="Remove the view {view.name}"
      onclick={() => desk.edit({ kind: 'object.remove', collection: 'views', id: view.id })}
      ><Trash size={14} aria-hidden="true" /></button
    >
  </div>
  <SqlEditor bind:text {engine} live={catalog} label="Query of the view {view.name}" onrun={() => void keep()} />
  {#if said}<p role="alert" class="text-error">{said}</p>{/if}
  {#if lost.length > 0}
    <p role="alert" class="text-secondary">
      ▲ It names {lost.join(', ')}, which is not there: the view is left out until it is mended.
    </p>
  {/if}
  <p class="flex flex-wrap items-center gap-x-2 text-soft">
    {#if apart === undefined}
      In the names of {label}. New names of what it reads reach it by themselves.
      <button class={link} onclick={part}>Say it otherwise for {label}</button>
    {:else}
      <span class="text-secondary">For {label} alone.</span>
      <button class={link} onclick={join}>As for the others again</button>
    {/if}
    <button
      class="ml-auto rounded bg-primary px-2.5 py-1 font-semibold text-primary-content disabled:opacity-50"
      disabled={text === shown}
      onclick={() => void keep()}>Keep the query</button
    >
  </p>
</div>
