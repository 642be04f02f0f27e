<!-- How database names follow from what people say, for the whole design; what would change is shown before it does. -->
<script lang="ts">
  import type { Settings } from '../../core/design'
  import type { Renamed } from '../../core/derive'
  import { USUAL_PATTERNS, whyNoPattern, type NamePrefix } from '../../core/naming'
  import { coreWorker } from '../../workers'
  import { useDesk } from '../desk/desk.svelte'
  import { count, engineLabel } from '../desk/words'

  const desk = useDesk()
  const PATTERNS: readonly (readonly [NamePrefix, string])[] = [
    ['pk', 'keys'],
    ['fk', 'foreign keys'],
    ['uq', 'unique columns'],
    ['ck', 'checks'],
    ['ix', 'indexes']
  ]
  /** What is said so far and does not hold yet. */
  let draft = $state.raw<Settings>()
  let wrong = $state.raw<Partial<Record<NamePrefix, string>>>({})
  let renamed = $state.raw<readonly Renamed[]>([])
  const settings = $derived(draft ?? desk.design.settings)
  const isOtherwise = $derived(draft !== undefined && JSON.stringify(draft) !== JSON.stringify(desk.design.settings))
  const MOST = 40

  function set(values: { readonly [K in keyof Settings]?: Settings[K] | undefined }) {
    const next = Object.entries({ ...settings, ...values }).filter(([, value]) => value !== undefined)
    draft = Object.fromEntries(next) as Settings
  }
  function setPattern(prefix: NamePrefix, typed: string) {
    const text = typed.trim()
    const why = text === '' ? undefined : whyNoPattern(text)
    wrong = { ...wrong, [prefix]: why }
    if (why !== undefined) return
    const said = { ...settings.patterns, [prefix]: text === '' || text === USUAL_PATTERNS[prefix] ? undefined : text }
    const kept = Object.entries(said).filter(([, value]) => value !== undefined)
    set({ patterns: kept.length > 0 ? Object.fromEntries(kept) : undefined })
  }
  $effect(() => {
    const [design, target, wanted] = [desk.design, desk.shownId, draft]
    if (!wanted) return void (renamed = [])
    void coreWorker()
      .renamed(design, target, wanted)
      .then((list) => {
        if (draft === wanted) renamed = list
      })
  })
  function keep() {
    if (draft) desk.edit({ kind: 'design.set', set: { settings: draft } })
    draft = undefined
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
</script>

<section class="mt-6" aria-label="Names by rule">
  <h2 class="text-[15px] font-semibold">Names by rule</h2>
  <p class="text-soft">How names in databases follow from what people say. Names that are set by hand stay.</p>
  <div class="mt-2 grid max-w-2xl grid-cols-[130px_1fr] items-center gap-x-3 gap-y-1.5">
    <span class="text-soft">tables begin with</span>
    <input
      class="{field} w-36 font-mono"
      aria-label="What tables begin with"
      placeholder="nothing"
      value={settings.tablePrefix}
      oninput={(event) => set({ tablePrefix: event.currentTarget.value.trim() })}
    />
    <span class="text-soft">tables are called</span>
    <select
      class="{field} w-fit"
      aria-label="How tables are called"
      value={settings.tables ?? ''}
      onchange={(event) => set({ tables: (event.currentTarget.value || undefined) as Settings['tables'] })}
    >
      <option value="">as people say it</option><option value="singular">by one: vessel</option><option value="plural"
        >by many: vessels</option
      >
    </select>
    <span class="text-soft">added keys are</span>
    <select
      class="{field} w-fit"
      aria-label="What added keys are"
      value={settings.identifier}
      onchange={(event) => set({ identifier: event.currentTarget.value as Settings['identifier'] })}
    >
      <option>integer</option><option>big</option><option>uuid</option>
    </select>
    {#each PATTERNS as [prefix, what] (prefix)}
      <span class="text-soft">{what}</span>
      <span class="grid gap-0.5">
        <input
          class="{field} w-72 font-mono {wrong[prefix] ? 'border-error' : ''}"
          aria-label="Names of {what}"
          aria-invalid={wrong[prefix] !== undefined}
          placeholder={USUAL_PATTERNS[prefix]}
          value={settings.patterns?.[prefix] ?? ''}
          oninput={(event) => setPattern(prefix, event.currentTarget.value)}
        />
        {#if wrong[prefix]}<span role="alert" class="text-xs text-error">{wrong[prefix]}</span>{/if}
      </span>
    {/each}
  </div>
  {#if isOtherwise}
    <div class="mt-3 rounded-md border border-line">
      <div class="flex flex-wrap items-center gap-2 border-b border-line bg-base-200 px-3 py-1.5">
        <span class="mr-auto" role="status"
          >{count(renamed.length, 'name would change', 'names would change')} in {engineLabel(desk.shown)}</span
        >
        <button class="rounded bg-primary px-2.5 py-1 font-semibold text-primary-content" onclick={keep}
          >Use these rules</button
        >
        <button class="px-1 text-soft underline" onclick={() => ([draft, wrong] = [undefined, {}])}>Leave it</button>
      </div>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex (it is scrolled by the keys) -->
      <ul class="max-h-56 overflow-y-auto px-3 py-1" aria-label="What would change" tabindex="0">
        {#each renamed.slice(0, MOST) as one (one.kind + one.table + one.from)}
          <li class="grid grid-cols-[90px_1fr_1fr] gap-2 py-0.5">
            <span class="text-soft">{one.kind}</span><span class="truncate font-mono" title={one.from}>{one.from}</span
            ><span class="truncate font-mono text-primary" title={one.to}>{one.to}</span>
          </li>
        {/each}
        {#if renamed.length > MOST}<li class="py-0.5 text-soft">and {renamed.length - MOST} more</li>{/if}
      </ul>
    </div>
  {/if}
</section>
