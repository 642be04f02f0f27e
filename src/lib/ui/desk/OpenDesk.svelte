<!-- An open design, with the keys that work everywhere on it. -->
<script lang="ts">
  import type { Snippet } from 'svelte'
  import { onMount } from 'svelte'
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import { page } from '$app/state'
  import { printDesign } from '../../core/design'
  import { saveFile } from '../../storage'
  import Find from '../find/Find.svelte'
  import Outline from '../outline/Outline.svelte'
  import Keys from '../help/Keys.svelte'
  import KeepingLine from './KeepingLine.svelte'
  import { provideDesk, type Desk } from './desk.svelte'
  import TargetLine from './TargetLine.svelte'
  import { theme } from './theme.svelte'
  import Trail from './Trail.svelte'

  const { desk, children }: { desk: Desk; children: Snippet } = $props()
  provideDesk(() => desk)
  let finding = $state(false)
  let keys = $state(false)
  const OUTLINE = 'ramblet.outline'
  let outlined = $state(localStorage.getItem(OUTLINE) === 'open')
  $effect(() => localStorage.setItem(OUTLINE, outlined ? 'open' : 'closed'))

  const id = $derived(desk.design.id)
  const path = $derived(page.url.pathname)
  const behind = $derived(
    desk.targetId === undefined ? 0 : (desk.status.get(desk.targetId)?.compared?.differences.length ?? 0)
  )
  const steps = $derived([
    { name: 'Draft', href: resolve('/design/[id]', { id }), current: path.endsWith(id) },
    {
      name: 'Review',
      href: resolve('/design/[id]/review', { id }),
      current: path.endsWith('/review'),
      count: desk.reviewed?.findings.filter(({ grade }) => grade !== 'info').length
    },
    { name: 'Targets', href: resolve('/design/[id]/targets', { id }), current: path.endsWith('/targets'), count: 0 },
    ...(desk.targetId === undefined
      ? []
      : [
          {
            name: 'Compare',
            href: resolve('/design/[id]/compare/[target]', { id, target: desk.targetId }),
            current: path.includes('/compare/'),
            count: behind
          }
        ])
  ])

  const toFile = () => saveFile(`${desk.design.name}.ramblet`, printDesign(desk.design))
  const commands = $derived([
    { name: 'Save the design to a file', run: toFile },
    { name: 'New view', run: () => void goto(resolve('/design/[id]', { id })).then(() => desk.addView()) },
    { name: outlined ? 'Close the outline' : 'Open the outline', run: () => (outlined = !outlined) },
    { name: 'Undo', run: () => desk.undo() },
    { name: 'Redo', run: () => desk.redo() },
    { name: theme.dark ? 'Light theme' : 'Dark theme', run: () => theme.toggle() },
    { name: 'Help', run: () => void goto(resolve('/help')) },
    { name: 'Keys', run: () => (keys = true) },
    { name: 'Checkpoints', run: () => void goto(resolve('/design/[id]/checkpoints', { id })) },
    { name: 'Review', run: () => void goto(resolve('/design/[id]/review', { id })) },
    { name: 'Targets', run: () => void goto(resolve('/design/[id]/targets', { id })) },
    { name: 'Shelf: all designs', run: () => void goto(resolve('/')) }
  ])

  // Another target in view may refuse something else.
  $effect(() => {
    void desk.shownId
    desk.reviewSoon()
  })

  onMount(() => {
    void desk.lookAtAll()
    // Nothing typed is lost when the tab goes.
    const flush = () => desk.keeper.leave()
    addEventListener('pagehide', flush)
    document.addEventListener('visibilitychange', flush)
    return () => {
      flush()
      desk.pen.close()
      removeEventListener('pagehide', flush)
      document.removeEventListener('visibilitychange', flush)
    }
  })

  function onkeydown(event: KeyboardEvent) {
    if (event.altKey && event.code === 'KeyO') {
      outlined = !outlined
      event.preventDefault()
      return
    }
    const typing =
      event.target instanceof HTMLInputElement ||
      event.target instanceof HTMLTextAreaElement ||
      (event.target instanceof HTMLElement && event.target.isContentEditable)
    if (event.key === '?' && !typing) {
      keys = !keys
      event.preventDefault()
      return
    }
    if (!(event.ctrlKey || event.metaKey)) return
    const key = event.key.toLowerCase()
    if (key === 'k') finding = !finding
    else if (key === 's') toFile()
    else if (key === 'z' && !typing) (event.shiftKey ? desk.redo : desk.undo).call(desk)
    else if (key === 'y' && !typing) desk.redo()
    else return
    event.preventDefault()
  }
</script>

<svelte:window {onkeydown} />
<svelte:head><title>{desk.design.name} · Ramblet</title></svelte:head>

<div class="flex h-dvh flex-col">
  <Trail
    title={desk.design.name}
    {steps}
    onfind={() => (finding = true)}
    onoutline={() => (outlined = !outlined)}
    {outlined}
    onrename={(name) => name.trim() && desk.edit({ kind: 'design.set', set: { name: name.trim() } })}
    onundo={desk.history.past.length > 0 ? () => desk.undo() : undefined}
    onredo={desk.history.future.length > 0 ? () => desk.redo() : undefined}
    onsave={toFile}
    checkpoints={resolve('/design/[id]/checkpoints', { id })}
    help={resolve('/help')}
  />
  <KeepingLine {desk} />
  <div class="flex min-h-0 flex-1">
    {#if outlined}<Outline />{/if}
    <main class="flex min-w-0 flex-1 flex-col">{@render children()}</main>
  </div>
  <TargetLine />
</div>
{#if keys}<Keys onclose={() => (keys = false)} />{/if}
{#if finding}<Find {commands} onclose={() => (finding = false)} />{/if}
