<!-- One example: its text, and beside it the script that it makes, or what is wrong with it. -->
<script lang="ts">
  import { derive } from '../../core/derive'
  import { newDesign, newTarget } from '../../core/design'
  import { dialect, printScript } from '../../core/dialects'
  import { readJot } from '../../core/jot'
  import { writeScript } from '../../core/plan'
  import { databaseWorker } from '../../workers'
  import { count } from '../desk/words'
  import type { Sample } from './notation'

  interface Props {
    readonly sample: Sample
    readonly onopen: (text: string) => void
  }
  const { sample, onopen }: Props = $props()
  let typed = $state<string>()
  const text = $derived(typed ?? sample.text)
  const engine = dialect('postgres')
  const read = $derived(readJot(text, newDesign(sample.title)))
  const statements = $derived(
    engine ? writeScript(derive(read.design, newTarget('shown'), engine).catalog, engine) : []
  )
  const script = $derived(engine ? printScript(statements, engine) : '')
  let outcome = $state('')
  let refused = $state(false)
  let busy = $state(false)

  async function run() {
    busy = true
    outcome = ''
    try {
      const { catalog, refused: why } = await databaseWorker().tryOut(
        'postgres',
        '',
        statements.map(({ sql }) => sql)
      )
      refused = why !== undefined
      outcome = why
        ? why.message
        : `${count(catalog?.tables.length ?? 0, 'table', 'tables')} made: ${(catalog?.tables ?? []).map(({ name }) => name).join(', ')}.`
    } catch (error) {
      ;[refused, outcome] = [true, error instanceof Error ? error.message : String(error)]
    } finally {
      busy = false
    }
  }
  const button = 'rounded border border-line px-2 py-0.5 text-[13px] hover:bg-base-300 disabled:opacity-50'
</script>

<section aria-label={sample.title} class="grid gap-2">
  <h2 class="text-base font-semibold">{sample.title}</h2>
  <p class="max-w-prose">{sample.says}</p>
  <div class="grid gap-3 md:grid-cols-2">
    <textarea
      class="min-h-56 resize-y rounded border border-line bg-base-200 p-3 font-mono text-[13px] leading-5"
      aria-label="{sample.title}: the text"
      rows={text.split('\n').length}
      spellcheck="false"
      value={text}
      oninput={(event) => ([typed, outcome] = [event.currentTarget.value, ''])}></textarea>
    <!-- svelte-ignore a11y_no_noninteractive_tabindex (what scrolls is reached by keys) -->
    <pre
      class="max-h-[28rem] overflow-auto rounded border border-line p-3 font-mono text-xs leading-5"
      aria-label="{sample.title}: the script"
      tabindex="0">{script}</pre>
  </div>
  {#each read.notices as notice (notice.where + notice.message)}
    <p class="text-[13px] text-error">Line {notice.where?.split(':')[0]}: {notice.message}</p>
  {/each}
  <div class="flex flex-wrap items-center gap-2">
    <button class={button} disabled={busy} onclick={() => void run()}>{busy ? 'Running …' : 'Run it'}</button>
    <button class={button} onclick={() => onopen(text)}>Open it as a design</button>
    {#if typed !== undefined}<button class={button} onclick={() => ([typed, outcome] = [undefined, ''])}
        >As it was</button
      >{/if}
    <span role="status" class="text-[13px] {refused ? 'text-error' : ''}">{outcome}</span>
  </div>
</section>
