<!-- The DDL for one target, or for an engine, as the design stands now. -->
<script lang="ts">
  import { untrack } from 'svelte'
  import { addressKey, namesOf, type Address } from '../../core/catalog'
  import type { ScriptSettings } from '../../core/design'
  import { dialect, ENGINES, printStatement } from '../../core/dialects'
  import { endingOf, printFile, scriptFiles } from '../../core/plan'
  import { saveFile, saveZip } from '../../storage'
  import { coreWorker, type Scripted } from '../../workers'
  import { entityOf, useDesk } from '../desk/desk.svelte'
  import { count, engineLabel, today } from '../desk/words'
  import Saving from './Saving.svelte'
  import ScriptOptions from './ScriptOptions.svelte'
  import SqlView from './SqlView.svelte'

  const desk = useDesk()
  /** Everything; `chosen`; `changes`; or an area's id. */
  let scope = $state('')
  let written = $state(false)
  let saving = $state(false)
  /** How it is written where no target says so. */
  let plainly = $state.raw<ScriptSettings>({})
  let scripted = $state.raw<Scripted>()
  let failure = $state('')
  let showNotices = $state(true)
  let copied = $state(false)
  let latest = 0

  $effect(() => {
    const [design, id, how, of] = [desk.design, desk.shownId, settings, only]
    const live = scope === 'changes' && id !== undefined ? desk.status.get(id)?.live : undefined
    const asked = ++latest
    const made =
      live && id !== undefined
        ? desk.sides(id, live).then((sides) => coreWorker().changes(sides, how))
        : coreWorker().script(design, id, how, of, untrack(() => scripted)?.turn)
    made
      .then((change) => {
        // Each is a change of the one before; the newest one is shown in the end.
        const before = scripted?.statements ?? []
        const statements = [...before.slice(0, change.from), ...change.statements, ...before.slice(change.to)]
        scripted = { turn: change.turn, notices: change.notices, statements }
        if (asked === latest) failure = ''
      })
      .catch((error: unknown) => {
        if (asked === latest) failure = error instanceof Error ? error.message : String(error)
      })
  })

  const kept = $derived(desk.shownId === undefined ? undefined : desk.design.targets[desk.shownId])
  const settings = $derived(kept ? (kept.script ?? {}) : plainly)
  const chosen = $derived(desk.design.entities[entityOf(desk.selection) ?? ''])
  const areas = $derived(Object.values(desk.design.areas).sort((a, b) => a.name.localeCompare(b.name)))
  /** A script of changes needs a database that has been looked at. */
  const looked = $derived(desk.shownId !== undefined && desk.status.get(desk.shownId)?.state === 'looked')
  const only = $derived.by((): ReadonlySet<string> | undefined => {
    if (scope === 'chosen') return new Set(chosen ? [chosen.id] : [])
    if (!desk.design.areas[scope]) return undefined
    return new Set(Object.values(desk.design.entities).flatMap(({ id, area }) => (area === scope ? id : [])))
  })
  $effect(() => {
    if (scope === 'changes' && !looked) scope = ''
  })
  const engine = $derived(dialect(desk.shown.engine, desk.shown.version, settings.quoting))
  const text = $derived(
    scripted && engine && scripted.statements.length > 0 ? printFile(scripted.statements, engine, settings) : ''
  )
  const ranges = $derived.by(() => {
    const before = settings.before?.trimEnd() ?? ''
    const isList = settings.form === 'json' && engine?.profile.features.commands !== undefined
    let at = isList ? 2 : before === '' ? 0 : before.length + 2
    return (scripted?.statements ?? []).map((statement) => {
      const { sql } = statement
      const end = settings.separator
      const printed = !engine || isList ? sql : end === undefined ? printStatement(sql, engine) : `${sql}\n${end}`
      // A command is printed in other words than it is sent in: then all of it is the statement.
      const own = printed.indexOf(sql)
      const from = at + Math.max(0, own)
      at += printed.length + 2
      return { from, to: from + (own < 0 ? printed.length : sql.length), statement }
    })
  })
  const errors = $derived(scripted?.notices.filter((notice) => notice.severity === 'error') ?? [])

  /** The catalogue objects that come from what is selected. */
  let addresses = $state.raw<readonly Address[]>([])
  let placing = 0
  $effect(() => {
    void scripted
    const [s, asked] = [desk.selection, ++placing]
    const ids =
      !s || s.kind === 'word' || s.kind === 'held'
        ? []
        : [s.kind === 'link' ? s.link : s.kind === 'row' ? s.row : s.kind === 'view' ? s.view : s.entity]
    if (ids.length === 0) return void (addresses = [])
    void coreWorker()
      .places(
        untrack(() => desk.design),
        desk.shownId,
        ids
      )
      .then((found) => {
        if (asked === placing) addresses = found
      })
  })
  const marked = $derived.by(() => {
    const s = desk.selection
    if (!s || !scripted || s.kind === 'word') return []
    if (s.kind === 'held')
      return ranges.filter(({ statement: { about } }) => about && addressKey(about) === addressKey(s.at))
    const tables = new Set(addresses.map((a) => a.path.slice(0, 2).join('.')))
    return ranges.flatMap(({ from, to, statement }) => {
      const about = statement.about
      if (!about || !tables.has(about.path.slice(0, 2).join('.'))) return []
      if (s.kind === 'view') return about.kind === 'view' ? [{ from, to }] : []
      if (s.kind === 'entity') return about.kind === 'table' ? [{ from, to }] : []
      if (about.kind !== 'table')
        return addresses.some((a) => addressKey(a) === addressKey(about)) ? [{ from, to }] : []
      // Inside CREATE TABLE, the lines of the column and of what is kept about it.
      return addresses.flatMap((address) => {
        const line = statement.sql
          .split('\n')
          .find((l) => new RegExp(`^ {2}(CONSTRAINT )?"?${escape(namesOf(address).name)}"?[ ,]`).test(l))
        const offset = line === undefined ? -1 : statement.sql.indexOf(line)
        return offset < 0 || line === undefined ? [] : [{ from: from + offset, to: from + offset + line.length }]
      })
    })
  })
  const escape = (name: string) => name.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

  function place(offset: number) {
    const origin = ranges.find(({ from, to }) => offset >= from && offset <= to)?.statement.origin
    if (!origin) return
    if (desk.design.entities[origin.id]) desk.select({ kind: 'entity', entity: origin.id })
    if (desk.design.views[origin.id]) desk.select({ kind: 'view', view: origin.id })
    else if (desk.design.links[origin.id]) desk.select({ kind: 'link', link: origin.id })
  }

  /** A target, or an engine and its version: that one makes no target. */
  function show(chosen: string) {
    const [engine = '', version = ''] = chosen.split(' ')
    const target = desk.design.targets[chosen]
    desk.show(target?.id)
    if (!target && chosen !== `${desk.shown.engine} ${desk.shown.version}`)
      desk.edit({
        kind: 'design.set',
        set: { settings: { ...desk.design.settings, scriptFor: { engine, version } } }
      })
  }

  /** The design, what it is for and of, and the day. */
  const fileName = $derived.by(() => {
    const of = scope === 'changes' ? 'changes' : scope === 'chosen' ? chosen?.name : desk.design.areas[scope]?.name
    const whom = desk.plain || !desk.target ? engineLabel(desk.shown) : desk.target.name
    const parts = [desk.design.name, whom, ...(of === undefined ? [] : [of]), today()]
    return `${parts.join(', ')}.${settings.files === 'each' ? 'zip' : engine ? endingOf(engine, settings) : 'sql'}`
  })
  const files = $derived(
    saving && scripted && engine && settings.files === 'each'
      ? scriptFiles(scripted.statements, engine, settings)
      : undefined
  )
  async function save() {
    const [name, made] = [fileName, files]
    saving = false
    if (made) await saveZip(name, made)
    else saveFile(name, text, 'text/plain')
  }
  /** A target keeps it; else it holds for as long as the page does. */
  function setOptions(next: ScriptSettings) {
    if (!kept) return void (plainly = next)
    const { script: _script, ...target } = kept
    desk.edit({
      kind: 'object.set',
      collection: 'targets',
      object: Object.keys(next).length > 0 ? { ...target, script: next } : target
    })
  }

  async function saveSchema() {
    const of = scope === 'chosen' ? chosen?.name : desk.design.areas[scope]?.name
    const name = [desk.design.name, ...(of === undefined ? [] : [of])].join(', ')
    saveFile(`${name}.schema.json`, await coreWorker().jsonSchema(desk.design, only), 'application/schema+json')
  }

  async function copy() {
    await navigator.clipboard.writeText(text)
    copied = true
    setTimeout(() => (copied = false), 1500)
  }
  const targets = $derived(Object.values(desk.design.targets))
  const button = 'shrink-0 rounded px-2 py-1 text-[13px] whitespace-nowrap hover:bg-base-300 disabled:opacity-50'
</script>

<div class="flex h-full flex-col bg-base-100">
  <div
    class="flex h-9 shrink-0 items-center gap-2 border-b border-line bg-base-200 px-2"
    role="toolbar"
    aria-label="Script"
  >
    <select
      class="max-w-44 min-w-0 rounded border border-line bg-base-100 px-1.5 py-0.5 text-[13px]"
      aria-label="Script for"
      value={desk.shownId ?? `${desk.shown.engine} ${desk.shown.version}`}
      onchange={(event) => show(event.currentTarget.value)}
    >
      {#if targets.length > 0}
        <optgroup label="Targets">
          {#each targets as target (target.id)}<option value={target.id}>{target.name}, {engineLabel(target)}</option
            >{/each}
        </optgroup>
      {/if}
      {#each ENGINES as { id, label, versions } (id)}
        <optgroup {label}>
          {#each versions.toReversed() as version (version)}<option value="{id} {version}">{label} {version}</option
            >{/each}
        </optgroup>
      {/each}
    </select>
    <select
      class="max-w-36 rounded border border-line bg-base-100 px-1.5 py-0.5 text-[13px]"
      aria-label="Of what"
      bind:value={scope}
    >
      <option value="">everything</option>
      <option value="chosen">what is chosen</option>
      {#if desk.shownId !== undefined}
        <option value="changes" disabled={!looked}>what its database lacks</option>
      {/if}
      {#each areas as area (area.id)}<option value={area.id}>{area.name}</option>{/each}
    </select>
    <button
      class="{button} {written ? 'bg-base-300' : ''} {Object.keys(settings).length > 0 ? 'font-semibold' : ''}"
      aria-expanded={written}
      onclick={() => (written = !written)}>Options</button
    >
    <span class="ml-auto min-w-0 truncate text-xs text-soft"
      >{count(scripted?.statements.length ?? 0, 'statement', 'statements')}</span
    >
    <button
      class={button}
      title="What a document of each entity is, as JSON Schema 2020-12"
      disabled={Object.keys(desk.design.entities).length === 0}
      onclick={() => void saveSchema()}>JSON Schema</button
    >
    <button class={button} disabled={text === ''} onclick={copy}>{copied ? 'Copied' : 'Copy'}</button>
    <button
      class={button}
      disabled={text === '' || errors.length > 0 || desk.barred !== undefined}
      title={errors.length > 0 ? 'Mend the errors first' : desk.barred && `Mend first: ${desk.barred.message}`}
      aria-expanded={saving}
      onclick={() => (saving = !saving)}>Save</button
    >
  </div>
  {#if written}
    <ScriptOptions
      {settings}
      commands={engine?.profile.features.commands !== undefined}
      whose={kept ? `Kept with ${kept.name}.` : 'For now: a target keeps its own.'}
      onset={setOptions}
    />
  {/if}
  {#if saving && scripted}
    <Saving
      statements={scripted.statements}
      {fileName}
      files={files?.length ?? 1}
      onsave={() => void save()}
      onleave={() => (saving = false)}
    />
  {/if}
  {#if failure}
    <p role="alert" class="border-b border-line bg-brick-tint px-3 py-2 text-error">{failure}</p>
  {/if}
  {#if (scripted?.notices.length ?? 0) > 0 && scripted}
    <div class="max-h-32 shrink-0 overflow-y-auto border-b border-line px-3 py-1.5 text-[13px]">
      <button class="text-soft" aria-expanded={showNotices} onclick={() => (showNotices = !showNotices)}>
        {count(scripted.notices.length, 'remark', 'remarks')}{errors.length
          ? `, ${count(errors.length, 'error', 'errors')}`
          : ''}
      </button>
      {#if showNotices}
        <ul>
          {#each scripted.notices as notice (notice.code + (notice.where ?? '') + notice.message)}
            <li
              class={notice.severity === 'error' ? 'text-error' : notice.severity === 'warning' ? 'text-secondary' : ''}
            >
              <b>{{ error: 'Error', warning: 'Watch out', info: 'Note' }[notice.severity]}</b>
              {notice.message}
            </li>
          {/each}
        </ul>
      {/if}
    </div>
  {/if}
  <div class="min-h-0 flex-1">
    {#if text === '' && scripted}
      <div class="grid h-full place-content-center text-soft">
        {scope === 'chosen' && !chosen
          ? 'Choose an entity, on any lens: its script stands here.'
          : scope === 'changes'
            ? 'Nothing to write: its database has all of it.'
            : Object.keys(desk.design.entities).length > 0
              ? 'Nothing of that is there to write.'
              : 'Nothing to write yet: design an entity first.'}
      </div>
    {:else}
      <SqlView {text} {marked} onplace={place} label="Script of the design" />
    {/if}
  </div>
</div>
