<!-- Something pasted that is a script, and no text of this kind: it can be brought in. -->
<script lang="ts">
  import { joined } from '../../core/adopt'
  import { ENGINES, engineOf } from '../../core/dialects'
  import { coreWorker } from '../../workers'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'

  interface Props {
    readonly script: string
    /** Puts it into the text as it is. */
    readonly onpaste: () => void
    readonly onend: () => void
  }
  const { script, onpaste, onend }: Props = $props()
  const desk = useDesk()
  const engine = $derived(engineOf(script))
  const label = $derived(ENGINES.find(({ id }) => id === engine)?.label)
  let failure = $state('')
  let busy = $state(false)

  async function bring() {
    busy = true
    try {
      const read = await coreWorker().readScripts([script], engine, undefined)
      if (!read) return void (failure = 'No engine that is known here reads it: nothing was changed.')
      const name = 'pasted'
      const { design } = await coreWorker().bring(read.catalog, { name, target: name })
      const lost = read.statements.filter(({ how }) => how === 'unknown').length
      if (read.catalog.tables.length === 0)
        return void (failure = 'There is no table in it that could be read: nothing was changed.')
      desk.edit(joined(desk.design, { ...design, targets: {} }))
      if (lost > 0)
        failure = `${count(lost, 'statement was', 'statements were')} not understood; the rest is in the design.`
      else onend()
    } catch (error) {
      failure = error instanceof Error ? error.message : String(error)
    } finally {
      busy = false
    }
  }
  const button = 'rounded px-2 py-1 text-[13px] hover:bg-base-300 disabled:opacity-50'
</script>

<div
  class="flex shrink-0 flex-wrap items-center gap-2 border-b border-line bg-sea-tint px-3 py-1 text-[13px]"
  role="status"
>
  <span class="mr-auto">
    {failure || `What was pasted is a script${label ? ` of ${label}` : ''}, not a design in words.`}
  </span>
  <button class="{button} font-semibold" disabled={busy || failure !== ''} onclick={() => void bring()}
    >Bring it in</button
  >
  <button class={button} disabled={busy} onclick={onpaste}>Paste it as it is</button>
  <button class={button} onclick={onend}>Leave it</button>
</div>
