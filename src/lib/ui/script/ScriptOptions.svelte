<!-- How a script is written: what it makes, of what, in which files and words. -->
<script lang="ts">
  import { SCRIPT_PARTS, type ScriptSettings } from '../../core/design'

  interface Props {
    readonly settings: ScriptSettings
    /** It is of commands, and no SQL. */
    readonly commands: boolean
    /** Whose it is: kept with a target, or for now. */
    readonly whose: string
    readonly onset: (settings: ScriptSettings) => void
  }
  const { settings, commands, whose, onset }: Props = $props()
  const PARTS: Readonly<Record<(typeof SCRIPT_PARTS)[number], string>> = {
    tables: 'tables, with their keys',
    'foreign keys': 'foreign keys',
    indexes: 'indexes',
    views: 'views',
    others: 'all else: types, triggers …',
    comments: 'comments'
  }

  function set(values: { readonly [K in keyof ScriptSettings]?: ScriptSettings[K] | undefined }) {
    const next = Object.entries({ ...settings, ...values }).filter(([, value]) => value !== undefined && value !== '')
    onset(Object.fromEntries(next) as ScriptSettings)
  }
  function part(name: (typeof SCRIPT_PARTS)[number], wanted: boolean) {
    const without = SCRIPT_PARTS.filter((one) => (one === name ? !wanted : settings.without?.includes(one)))
    set({ without: without.length > 0 ? without : undefined })
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const text = 'min-h-14 rounded border border-line bg-base-100 px-1.5 py-0.5 font-mono text-[13px]'
</script>

<section
  aria-label="How it is written"
  class="grid max-h-[50%] shrink-0 grid-cols-[92px_1fr] items-start gap-x-3 gap-y-1.5 overflow-y-auto border-b border-line bg-base-200 px-3 py-2 text-[13px]"
>
  <span class="col-span-2 text-xs text-soft">{whose}</span>
  <span class="text-soft">It</span>
  <select
    class="{field} w-fit"
    aria-label="What the script does"
    value={settings.make ?? ''}
    onchange={(event) => set({ make: (event.currentTarget.value || undefined) as ScriptSettings['make'] })}
  >
    <option value="">makes what there is</option>
    <option value="both">removes what is there first, then makes it</option>
    <option value="drop">removes what is there</option>
  </select>
  <span class="text-soft">Of</span>
  <span class="flex flex-wrap gap-x-4 gap-y-1">
    {#each SCRIPT_PARTS as name (name)}
      <label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          class="size-4 accent-primary"
          checked={!settings.without?.includes(name)}
          onchange={(event) => part(name, event.currentTarget.checked)}
        />{PARTS[name]}</label
      >
    {/each}
  </span>
  {#if commands}
    <span class="text-soft">As</span>
    <select
      class="{field} w-fit"
      aria-label="In which form"
      value={settings.form ?? ''}
      onchange={(event) => set({ form: event.currentTarget.value === 'json' ? 'json' : undefined })}
    >
      <option value="">calls, for the engine’s shell</option>
      <option value="json">commands, as a list in JSON</option>
    </select>
  {/if}
  <span class="text-soft">Files</span>
  <select
    class="{field} w-fit"
    aria-label="How many files"
    value={settings.files ?? ''}
    onchange={(event) => set({ files: event.currentTarget.value === 'each' ? 'each' : undefined })}
  >
    <option value="">one</option>
    <option value="each">one for each object, numbered, in a zip</option>
  </select>
  <span class="text-soft">Names</span>
  <select
    class="{field} w-fit"
    aria-label="Names in quotes"
    value={settings.quoting ?? ''}
    onchange={(event) => set({ quoting: event.currentTarget.value === 'always' ? 'always' : undefined })}
  >
    <option value="">in quotes where they must be</option>
    <option value="always">always in quotes</option>
  </select>
  <span class="text-soft">Statements</span>
  <label class="flex items-center gap-1.5"
    >end with <input
      class="{field} w-20 font-mono"
      aria-label="What ends a statement"
      placeholder=";"
      maxlength="20"
      value={settings.separator ?? ''}
      onchange={(event) => set({ separator: event.currentTarget.value.trim() })}
    />{#if settings.separator}<span class="text-soft">on a line of its own</span>{/if}</label
  >
  <span class="text-soft">Before it</span>
  <textarea
    class={text}
    aria-label="Text before the script"
    placeholder="-- who to ask, what to check"
    value={settings.before ?? ''}
    oninput={(event) => set({ before: event.currentTarget.value })}></textarea>
  <span class="text-soft">After it</span>
  <textarea
    class={text}
    aria-label="Text after the script"
    value={settings.after ?? ''}
    oninput={(event) => set({ after: event.currentTarget.value })}></textarea>
</section>
