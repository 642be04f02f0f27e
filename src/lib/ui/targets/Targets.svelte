<!-- The places this design is deployed to. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import Trash from '@lucide/svelte/icons/trash-2'
  import { newTarget, SUBTYPE_TABLES, type Target } from '../../core/design'
  import { dialect, ENGINES } from '../../core/dialects'
  import Disc from '../desk/Disc.svelte'
  import { useDesk } from '../desk/desk.svelte'
  import { distance } from '../desk/words'
  import Nested from './Nested.svelte'
  import Scope from './Scope.svelte'
  import ServerFields from './ServerFields.svelte'

  const desk = useDesk()
  const targets = $derived(Object.values(desk.design.targets))
  const groups = $derived(Object.values(desk.design.subtypes))
  const environments = ['development', 'test', 'staging', 'production'] as const

  let name = $state('')
  let engineId = $state(ENGINES[0]?.id ?? '')
  const engine = $derived(ENGINES.find((e) => e.id === engineId))
  let version = $state(ENGINES[0]?.versions.at(-1) ?? '')
  let environment = $state<Target['environment']>('development')
  let connection = $state<Target['connection']>('embedded')
  let problem = $state('')

  function add() {
    const wanted = name.trim()
    if (wanted === '') problem = 'Give the target a name, such as test or staging.'
    else if (targets.some((t) => t.name.toLowerCase() === wanted.toLowerCase()))
      problem = `There is a target “${wanted}” already.`
    else {
      const target = newTarget(wanted, { engine: engineId, version, environment, connection })
      desk.edit({ kind: 'object.set', collection: 'targets', object: target })
      problem = ''
      name = ''
      desk.show(target.id)
    }
  }
  const set = (target: Target, values: Partial<Target>) =>
    desk.edit({ kind: 'object.set', collection: 'targets', object: { ...target, ...values } })
  /** Where a database of an engine can be. */
  const connectionsOf = (id: string): (readonly [Target['connection'], string])[] => [
    ...ENGINES.filter((e) => e.id === id).flatMap(({ here, served }) => [
      ...(here ? ([['embedded', `${here === 'embedded' ? here : 'a stand-in'}, in this browser`]] as const) : []),
      ...(served ? ([['server', 'on a server']] as const) : [])
    ]),
    ['none', 'none, scripts only']
  ]
  // An engine that does not run in the browser has its database elsewhere.
  $effect(() => {
    const ways = connectionsOf(engineId)
    if (!ways.some(([way]) => way === connection)) connection = ways[0]?.[0] ?? 'none'
    if (!engine?.versions.includes(version)) version = engine?.versions.at(-1) ?? ''
  })
  const field = 'rounded border border-line bg-base-100 px-2 py-1'
</script>

<div class="min-h-0 flex-1 overflow-y-auto px-6 py-5">
  <h1 class="text-xl font-semibold">Targets</h1>
  <p class="mt-1 text-soft">
    Each place this design is deployed to: an engine, a version, and the database that is kept in step.
  </p>

  <ul class="mt-4 grid max-w-6xl gap-3">
    {#each targets as target (target.id)}
      {@const { words, disc } = distance(desk.status.get(target.id))}
      {@const known = ENGINES.find((e) => e.id === target.engine)}
      <li class="rounded-md border border-line bg-base-100 px-4 py-3" aria-label="Target {target.name}">
        <div class="flex flex-wrap items-center gap-3">
          <Disc {disc} />
          <input
            class="{field} w-36 font-semibold"
            aria-label="Name of {target.name}"
            value={target.name}
            onchange={(event) => {
              const next = event.currentTarget.value.trim()
              if (next && !targets.some((t) => t.id !== target.id && t.name.toLowerCase() === next.toLowerCase()))
                set(target, { name: next })
              else event.currentTarget.value = target.name
            }}
          />
          <span>{known?.label ?? target.engine}</span>
          <label class="flex items-center gap-1.5 text-[13px]">
            version
            <select
              class={field}
              value={target.version}
              onchange={(event) => set(target, { version: event.currentTarget.value })}
            >
              {#each known?.versions ?? [] as v (v)}<option>{v}</option>{/each}
            </select>
          </label>
          <label class="flex items-center gap-1.5 text-[13px]">
            for
            <select
              class={field}
              value={target.environment}
              onchange={(event) => set(target, { environment: event.currentTarget.value as Target['environment'] })}
            >
              {#each environments as e (e)}<option>{e}</option>{/each}
            </select>
          </label>
          <label class="flex items-center gap-1.5 text-[13px]">
            database
            <select
              class={field}
              value={target.connection}
              onchange={(event) => set(target, { connection: event.currentTarget.value as Target['connection'] })}
            >
              {#each connectionsOf(target.engine) as [way, words] (way)}<option value={way}>{words}</option>{/each}
            </select>
          </label>
          <label class="flex items-center gap-1.5 text-[13px]">
            <input
              type="checkbox"
              class="size-4 accent-primary"
              checked={target.locked === true}
              onchange={(event) => set(target, { locked: event.currentTarget.checked })}
            /> locked
          </label>
          {#if !dialect(target.engine)?.profile.features.commands}<label
              class="flex items-center gap-1.5 text-[13px]"
              title="Runs are written into a table of the database too, and one at a time holds its lock"
            >
              <input
                type="checkbox"
                class="size-4 accent-primary"
                checked={target.ledger === true}
                onchange={(event) => set(target, { ledger: event.currentTarget.checked })}
              /> ledger in the database
            </label>{/if}
          <a
            class="ml-auto rounded bg-sea-tint px-2.5 py-1 font-semibold text-primary"
            href={resolve('/design/[id]/compare/[target]', { id: desk.design.id, target: target.id })}
            >{words}: compare</a
          >
          <button
            class="rounded p-1 text-soft hover:text-error"
            aria-label="Remove {target.name}"
            onclick={() => desk.edit({ kind: 'object.remove', collection: 'targets', id: target.id })}
            ><Trash size={15} aria-hidden="true" /></button
          >
        </div>
        {#if target.connection === 'server'}
          <ServerFields {target} onset={(server) => set(target, { server })} />
        {/if}
        <Scope {target} {set} />
        {#each groups as group (group.id)}
          <label class="mt-2 flex items-center gap-2 text-[13px]">
            <span>{desk.design.entities[group.supertype]?.name} and its subtypes:</span>
            <select
              class={field}
              value={target.subtypeTables[group.id] ?? 'joined'}
              onchange={(event) =>
                set(target, {
                  subtypeTables: {
                    ...target.subtypeTables,
                    [group.id]: event.currentTarget.value as (typeof SUBTYPE_TABLES)[number]
                  }
                })}
            >
              {#each SUBTYPE_TABLES as way (way)}<option value={way}>{way === 'joined' ? 'joined tables' : way}</option
                >{/each}
            </select>
          </label>
        {/each}
        <Nested {target} {set} />
      </li>
    {:else}
      <li class="text-soft">None yet. Add the first one below: the script and the comparison follow it.</li>
    {/each}
  </ul>

  <form
    class="mt-6 max-w-6xl rounded-md border border-dashed border-line px-4 py-3"
    aria-label="Add a target"
    onsubmit={(event) => {
      event.preventDefault()
      add()
    }}
  >
    <h2 class="font-semibold">Add a target</h2>
    <div class="mt-2 flex flex-wrap items-end gap-3">
      <label class="grid gap-0.5 text-[13px]"
        >Name<input class="{field} w-32" bind:value={name} placeholder="staging" aria-invalid={problem !== ''} /></label
      >
      <label class="grid gap-0.5 text-[13px]">
        Engine<select class={field} bind:value={engineId}
          >{#each ENGINES as e (e.id)}<option value={e.id}>{e.label}</option>{/each}</select
        >
      </label>
      <label class="grid gap-0.5 text-[13px]">
        Version<select class={field} bind:value={version}
          >{#each engine?.versions ?? [] as v (v)}<option>{v}</option>{/each}</select
        >
      </label>
      <label class="grid gap-0.5 text-[13px]">
        Environment<select class={field} bind:value={environment}
          >{#each environments as e (e)}<option>{e}</option>{/each}</select
        >
      </label>
      <label class="grid gap-0.5 text-[13px]">
        Database<select class={field} bind:value={connection}
          >{#each connectionsOf(engineId) as [way, words] (way)}<option value={way}>{words}</option>{/each}</select
        >
      </label>
      <button class="rounded bg-primary px-3 py-1.5 font-semibold text-primary-content">Add</button>
    </div>
    {#if problem}<p role="alert" class="mt-2 text-error">{problem}</p>{/if}
    {#if connection === 'embedded' && engine?.here === 'stand-in'}
      <p class="mt-2 text-[13px] text-secondary">
        {engine.label} itself does not run here: a stand-in answers in its place, by the rules of the manual.
        {engine.standIn}, and refuses by name what it does not know.
      </p>
    {/if}
    {#if connection === 'embedded' && engineId === 'postgres' && version !== '18'}
      <p class="mt-2 text-[13px] text-secondary">
        The embedded database is PostgreSQL 18; scripts are written for version {version}.
      </p>
    {/if}
  </form>
  <p class="mt-4">
    <a class="underline" href={resolve('/design/[id]/bring', { id: desk.design.id })}
      >Bring in a database, scripts or rows that exist</a
    >
    <span class="text-soft">What they have joins this design, and they are a target of it.</span>
  </p>
  <button class="mt-5 text-soft underline" onclick={() => goto(resolve('/design/[id]', { id: desk.design.id }))}
    >Back to the draft</button
  >
</div>
