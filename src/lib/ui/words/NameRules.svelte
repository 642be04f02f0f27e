<!-- How database names follow from what people say, for the whole design or for one target; what would change is shown before it does. -->
<script lang="ts">
  import type { Edit, Settings, Target } from '../../core/design'
  import type { Renamed } from '../../core/derive'
  import { USUAL_PATTERNS, whyNoPattern, type PatternOf } from '../../core/naming'
  import { coreWorker } from '../../workers'
  import { useDesk } from '../desk/desk.svelte'
  import { count, engineLabel } from '../desk/words'

  type Naming = NonNullable<Target['naming']>
  /** A rule that is set, or set to nothing. */
  type Said = { readonly [K in keyof Settings]?: Settings[K] | undefined }
  const desk = useDesk()
  const PATTERNS: readonly (readonly [PatternOf, string])[] = [
    ['table', 'tables'],
    ['view', 'views'],
    ['column', 'columns'],
    ['bridge', 'bridge tables'],
    ['pk', 'keys'],
    ['fk', 'foreign keys'],
    ['uq', 'unique columns'],
    ['ck', 'checks'],
    ['ix', 'indexes']
  ]
  const LETTERS = [
    { value: '', says: 'as the engine has them' },
    { value: 'lower', says: 'small: cargo_line' },
    { value: 'upper', says: 'large: CARGO_LINE' },
    { value: 'camel', says: 'humps: cargoLine' },
    { value: 'pascal', says: 'humps: CargoLine' }
  ] as const
  const MOST = 40

  /** The target that departs from the design's rules; the design when none. */
  let scope = $state('')
  /** What is said so far and does not hold yet. */
  let draft = $state.raw<Said>()
  let wrong = $state.raw<Partial<Record<PatternOf, string>>>({})
  let renamed = $state.raw<readonly Renamed[]>([])
  const here = $derived(desk.design.targets[scope])
  const base = $derived<Said>(here ? (here.naming ?? {}) : desk.design.settings)
  const said = $derived(draft ?? base)
  /** What holds where a target says nothing. */
  const usual = $derived<Said>(here ? desk.design.settings : {})
  const isOtherwise = $derived(draft !== undefined && JSON.stringify(draft) !== JSON.stringify(base))

  function set(values: Said) {
    draft = Object.fromEntries(Object.entries({ ...said, ...values }).filter(([, value]) => value !== undefined))
  }
  function setPattern(of: PatternOf, typed: string) {
    const text = typed.trim()
    const why = text === '' ? undefined : whyNoPattern(of, text)
    wrong = { ...wrong, [of]: why }
    if (why !== undefined) return
    const patterns = {
      ...said.patterns,
      [of]: text === '' || (text === USUAL_PATTERNS[of] && !here) ? undefined : text
    }
    const kept = Object.entries(patterns).filter(([, value]) => value !== undefined)
    set({ patterns: kept.length > 0 ? Object.fromEntries(kept) : undefined })
  }
  function editOf(rules: Said): Edit {
    if (!here) return { kind: 'design.set', set: { settings: rules as Settings } }
    const { naming: _naming, ...target } = here
    return {
      kind: 'object.set',
      collection: 'targets',
      object: Object.keys(rules).length > 0 ? { ...target, naming: rules as Naming } : target
    }
  }
  $effect(() => {
    const [design, target, wanted] = [desk.design, here?.id ?? desk.shownId, draft]
    if (!wanted) return void (renamed = [])
    void coreWorker()
      .renamed(design, target, editOf(wanted))
      .then((list) => {
        if (draft === wanted) renamed = list
      })
  })
  function keep() {
    if (draft) desk.edit(editOf(draft))
    draft = undefined
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
</script>

<section class="mt-6" aria-label="Names by rule">
  <h2 class="text-[15px] font-semibold">Names by rule</h2>
  <p class="text-soft">How names in databases follow from what people say. Names that are set by hand stay.</p>
  <div class="mt-2 grid max-w-2xl grid-cols-[130px_1fr] items-center gap-x-3 gap-y-1.5">
    <span class="text-soft">rules of</span>
    <select
      class="{field} w-fit"
      aria-label="Whose rules for names"
      bind:value={scope}
      onchange={() => ([draft, wrong] = [undefined, {}])}
    >
      <option value="">the design</option>
      {#each Object.values(desk.design.targets) as target (target.id)}
        <option value={target.id}>{target.name} only{target.naming ? ', which has its own' : ''}</option>
      {/each}
    </select>
    <span class="text-soft">tables begin with</span>
    <input
      class="{field} w-36 font-mono"
      aria-label="What tables begin with"
      placeholder={usual.tablePrefix || 'nothing'}
      value={said.tablePrefix ?? ''}
      oninput={(event) => {
        const text = event.currentTarget.value.trim()
        set({ tablePrefix: text === '' && here ? undefined : text })
      }}
    />
    <span class="text-soft">tables are called</span>
    <select
      class="{field} w-fit"
      aria-label="How tables are called"
      value={said.tables ?? ''}
      onchange={(event) => set({ tables: (event.currentTarget.value || undefined) as Settings['tables'] })}
    >
      <option value="">{here ? 'as in the design' : 'as people say it'}</option><option value="singular"
        >by one: vessel</option
      ><option value="plural">by many: vessels</option>
    </select>
    <span class="text-soft">letters</span>
    <span class="flex flex-wrap items-center gap-x-4 gap-y-1">
      <select
        class="{field} w-fit"
        aria-label="The letters of names"
        value={said.letters ?? ''}
        onchange={(event) => set({ letters: (event.currentTarget.value || undefined) as Settings['letters'] })}
      >
        {#each LETTERS as { value, says } (value)}
          <option {value}>{here && value === '' ? 'as in the design' : says}</option>
        {/each}
      </select>
      <label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          class="size-4 accent-primary"
          checked={(said.separator ?? usual.separator) === ''}
          onchange={(event) => set({ separator: event.currentTarget.checked ? '' : here ? '_' : undefined })}
        />nothing between words</label
      >
    </span>
    {#if !here}
      <span class="text-soft">added keys are</span>
      <select
        class="{field} w-fit"
        aria-label="What added keys are"
        value={said.identifier}
        onchange={(event) => set({ identifier: event.currentTarget.value as Settings['identifier'] })}
      >
        <option>integer</option><option>big</option><option>uuid</option>
      </select>
    {/if}
    {#each PATTERNS as [of, what] (of)}
      <span class="text-soft">{what}</span>
      <span class="grid gap-0.5">
        <input
          class="{field} w-72 max-w-full font-mono {wrong[of] ? 'border-error' : ''}"
          aria-label="Names of {what}"
          aria-invalid={wrong[of] !== undefined}
          placeholder={usual.patterns?.[of] ?? USUAL_PATTERNS[of]}
          value={said.patterns?.[of] ?? ''}
          oninput={(event) => setPattern(of, event.currentTarget.value)}
        />
        {#if wrong[of]}<span role="alert" class="text-xs text-error">{wrong[of]}</span>{/if}
      </span>
    {/each}
  </div>
  {#if isOtherwise}
    <div class="mt-3 rounded-md border border-line">
      <div class="flex flex-wrap items-center gap-2 border-b border-line bg-base-200 px-3 py-1.5">
        <span class="mr-auto" role="status"
          >{count(renamed.length, 'name would change', 'names would change')} in {here
            ? here.name
            : engineLabel(desk.shown)}</span
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
