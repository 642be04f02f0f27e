<!-- What a picture of the diagram is saved as. -->
<script lang="ts">
  import { onMount } from 'svelte'
  import type { Diagram } from '../../core/design'
  import { DAYLIGHT, LAMPLIGHT, lettersOf, sheet, type Picture, type Sheet } from '../../core/picture'
  import type { Paper } from '../../core/picture/pdf'
  import { askedPlace, canAsk, listCheckpoints, saveBlob } from '../../storage'
  import { useDesk } from '../desk/desk.svelte'
  import { theme } from '../desk/theme.svelte'
  import { today } from '../desk/words'
  import type { Board } from './board.svelte'
  import { pictureFile, printed, type PictureKind } from './pictures'

  const { board, onclose }: { board: Board; onclose: () => void } = $props()
  const desk = useDesk()
  const { design } = $derived(desk)
  const { diagram, picture } = $derived(board)
  let kind = $state<PictureKind>('svg')
  let scale = $state(1)
  let paper = $state<Paper | ''>('')
  let legend = $state(true)
  let title = $state(true)
  let dark = $state(theme.dark)
  /** The checkpoint that the design comes after. */
  let version = $state.raw<readonly string[]>([])
  onMount(async () => {
    const [latest] = await listCheckpoints(design.id)
    if (latest) version = [`after ${latest.name}`]
  })
  let every = $state(false)
  let some = $state(false)
  const chosen = $derived(board.chosen)
  let working = $state(false)
  let problem = $state('')

  const sheetOf = (of: Diagram, drawn: Picture): Sheet =>
    sheet(drawn, {
      legend,
      title: title ? [design.name, of.name, drawn.notation.label, ...version, today()] : [],
      tintOf: (area) => design.areas[area]?.tint
    })
  async function sheets(): Promise<Sheet[]> {
    if (kind === 'pdf' && every) {
      const all = await Promise.all(board.diagrams.map(async (one) => [one, await board.drawn(one)] as const))
      return all.filter(([, drawn]) => drawn.cards.length > 0).map(([one, drawn]) => sheetOf(one, drawn))
    }
    const ids = new Set(chosen.map(({ id }) => id))
    return [sheetOf(diagram, some && ids.size > 0 ? await board.drawn(diagram, ids) : picture)]
  }
  const file = async (as: PictureKind) => {
    const drawn = await sheets()
    const { lacking } = lettersOf(drawn)
    if (lacking !== '' && as !== 'svg')
      problem = `No font that ships has the letters ${lacking}: they are boxes in this file. SVG shows them where its reader has a font.`
    return pictureFile(drawn, {
      kind: as,
      palette: dark ? LAMPLIGHT : DAYLIGHT,
      scale,
      title: `${design.name}: ${diagram.name}`,
      ...(paper === '' ? {} : { paper })
    })
  }

  const name = $derived(`${design.name}, ${diagram.name}.${kind}`)
  const save = () => doing(async () => saveBlob(name, await file(kind)))
  /** Where to is asked first, as long as the click is one; what is cancelled there is not made. */
  const saveAs = () =>
    doing(async () => {
      const place = await askedPlace(name)
      if (place) await place(await file(kind))
    })
  const print = () => doing(async () => printed(await file('svg')))
  async function doing(what: () => Promise<void>) {
    working = true
    problem = ''
    try {
      await what()
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error)
    } finally {
      working = false
    }
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
</script>

<form
  class="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-line bg-base-200 px-3 py-1.5 text-[13px]"
  aria-label="Picture of the diagram"
  onsubmit={(event) => {
    event.preventDefault()
    void save()
  }}
>
  <label class="flex items-center gap-1.5"
    >Save as
    <!-- svelte-ignore a11y_autofocus -->
    <select class={field} bind:value={kind} autofocus>
      <option value="svg">SVG</option>
      <option value="png">PNG</option>
      <option value="pdf">PDF</option>
    </select></label
  >
  {#if kind === 'png'}
    <label class="flex items-center gap-1.5"
      >Size
      <select class={field} bind:value={scale}>
        <option value={1}>as it is</option>
        <option value={2}>twice</option>
        <option value={4}>four times</option>
      </select></label
    >
  {:else if kind === 'pdf'}
    <label class="flex items-center gap-1.5"
      >On
      <select class={field} aria-label="Paper" bind:value={paper}>
        <option value="">one page</option>
        <option value="A4">sheets of A4</option>
        <option value="A3">sheets of A3</option>
        <option value="LETTER">sheets of Letter</option>
      </select></label
    >
    <label class="flex items-center gap-1"
      ><input type="checkbox" class="accent-primary" bind:checked={every} />all diagrams</label
    >
  {/if}
  {#if chosen.length > 0}
    <label class="flex items-center gap-1"
      ><input type="checkbox" class="accent-primary" bind:checked={some} />only what is chosen</label
    >
  {/if}
  <label class="flex items-center gap-1"
    ><input type="checkbox" class="accent-primary" bind:checked={legend} />legend</label
  >
  <label class="flex items-center gap-1"
    ><input type="checkbox" class="accent-primary" bind:checked={title} />what it is</label
  >
  <label class="flex items-center gap-1"
    ><input type="checkbox" class="accent-primary" bind:checked={dark} />dark ground</label
  >
  <button
    class="rounded bg-primary px-2.5 py-0.5 font-semibold text-primary-content disabled:opacity-50"
    disabled={working || picture.cards.length === 0}>{working ? 'Drawing …' : 'Save'}</button
  >
  {#if canAsk}
    <button type="button" class={field} disabled={working || picture.cards.length === 0} onclick={saveAs}
      >Save to …</button
    >
  {/if}
  <button type="button" class={field} disabled={working || picture.cards.length === 0} onclick={print}>Print …</button>
  <button type="button" class="text-soft underline" onclick={onclose}>Close</button>
  {#if problem}<span role="alert" class="text-error">{problem}</span>{/if}
</form>
