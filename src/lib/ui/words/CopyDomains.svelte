<!-- Domains of another design, from the shelf or from a file: those that are chosen are copied. -->
<script lang="ts">
  import { copyDomains } from '../../core/cells'
  import { readDesign } from '../../core/derive'
  import type { Domain } from '../../core/design'
  import { printType } from '../../core/types'
  import { listDesigns, loadDesign, openFile } from '../../storage'
  import { useDesk } from '../desk/desk.svelte'
  import { count } from '../desk/words'

  const desk = useDesk()
  let open = $state(false)
  let others = $state.raw<readonly { readonly id: string; readonly name: string }[]>([])
  let from = $state.raw<{ name: string; domains: readonly Domain[] }>()
  let chosen = $state.raw<ReadonlySet<string>>(new Set())
  let told = $state('')

  async function begin() {
    open = !open
    if (open) others = (await listDesigns()).filter(({ id }) => id !== desk.design.id)
    ;[from, told] = [undefined, '']
  }
  function show(name: string, domains: readonly Domain[]) {
    from = { name, domains: [...domains].sort((a, b) => a.name.localeCompare(b.name)) }
    chosen = new Set(domains.map(({ id }) => id))
    told = domains.length === 0 ? `${name} has no domains.` : ''
  }
  async function ofShelf(id: string) {
    const loaded = await loadDesign(id)
    if (loaded?.design.ok === true) show(loaded.design.value.name, Object.values(loaded.design.value.domains))
    else told = loaded?.design.notices[0]?.message ?? 'It is not there any more.'
  }
  async function ofFile() {
    const file = await openFile('.json,application/json')
    if (!file) return
    const read = readDesign(await file.text())
    if (read.ok) show(read.value.name, Object.values(read.value.domains))
    else told = `${file.name}: ${read.notices[0]?.message ?? 'it cannot be read.'}`
  }
  function copy() {
    const { edit, left } = copyDomains(desk.design, from?.domains.filter(({ id }) => chosen.has(id)) ?? [])
    desk.edit(edit)
    told = left.join(' ')
    from = undefined
    if (left.length === 0) open = false
  }
  function choose(id: string, on: boolean) {
    const next = new Set(chosen)
    if (on) next.add(id)
    else next.delete(id)
    chosen = next
  }
  const button = 'rounded border border-line bg-base-100 px-2 py-0.5 hover:bg-base-300'
</script>

<button type="button" class="px-1 text-soft underline" aria-expanded={open} onclick={() => void begin()}
  >Copy from another design</button
>
{#if open}
  <div role="group" aria-label="Copy domains" class="w-full rounded border border-line bg-base-200 p-2">
    {#if from}
      <p class="text-soft">{from.name} has {count(from.domains.length, 'domain', 'domains')}.</p>
      <ul class="max-h-48 overflow-y-auto py-1">
        {#each from.domains as domain (domain.id)}
          <li>
            <label class="flex items-center gap-2"
              ><input
                type="checkbox"
                class="size-4 accent-primary"
                checked={chosen.has(domain.id)}
                onchange={(event) => choose(domain.id, event.currentTarget.checked)}
              />{domain.name} <span class="font-mono text-soft">{printType(domain.type)}</span></label
            >
          </li>
        {/each}
      </ul>
      <button type="button" class="{button} font-semibold" disabled={chosen.size === 0} onclick={copy}
        >Copy {chosen.size}</button
      >
    {:else}
      <div class="flex flex-wrap gap-1.5">
        {#each others as other (other.id)}<button type="button" class={button} onclick={() => void ofShelf(other.id)}
            >{other.name}</button
          >{/each}
        <button type="button" class={button} onclick={() => void ofFile()}>From a file …</button>
      </div>
    {/if}
    {#if told}<p role="status" class="pt-1 text-soft">{told}</p>{/if}
  </div>
{/if}
