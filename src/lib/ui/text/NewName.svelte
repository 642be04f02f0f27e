<!-- Another name for what the cursor is on, or the lines that speak of it. -->
<script lang="ts">
  import type { Symbol } from './symbols'

  interface Props {
    readonly symbol: Symbol
    readonly how: 'rename' | 'uses'
    readonly uses: readonly { readonly line: number; readonly text: string }[]
    /** Why it cannot be called so; nothing where it is called so now. */
    readonly onname: (name: string) => string | undefined
    readonly ongo: (line: number) => void
    readonly onend: () => void
  }
  const { symbol, how, uses, onname, ongo, onend }: Props = $props()
  let error = $state('')
</script>

<div
  class="shrink-0 border-t border-line bg-base-200 px-3 py-1.5 text-[13px]"
  role="presentation"
  onkeydown={(event) => event.key === 'Escape' && onend()}
>
  {#if how === 'rename'}
    <form
      class="flex flex-wrap items-center gap-2"
      onsubmit={(event) => {
        event.preventDefault()
        error = onname(new FormData(event.currentTarget).get('name')?.toString() ?? '') ?? ''
      }}
    >
      <label class="flex items-center gap-2"
        >{symbol.name} is called
        <input
          name="name"
          class="h-7 rounded border border-line bg-base-100 px-2"
          value={symbol.name}
          aria-invalid={error !== ''}
          {@attach (node: HTMLInputElement) => node.select()}
        /></label
      >
      <span class="text-soft">everywhere: Enter; not: Escape</span>
      {#if error}<span role="alert" class="text-error">{error}</span>{/if}
    </form>
  {:else}
    <p class="flex items-center gap-2">
      <b class="mr-auto">{symbol.name} stands in {uses.length} {uses.length === 1 ? 'line' : 'lines'}</b>
      <button class="rounded px-2 hover:bg-base-300" onclick={onend}>Close</button>
    </p>
    <ul class="max-h-40 overflow-y-auto">
      {#each uses as { line, text }, i (line)}
        <li>
          <button
            class="w-full truncate text-left font-mono hover:bg-base-300"
            onclick={() => ongo(line)}
            {@attach (node: HTMLButtonElement) => (i === 0 ? node.focus() : undefined)}
            ><span class="text-soft">{line}</span> {text.trim()}</button
          >
        </li>
      {/each}
    </ul>
  {/if}
</div>
