<!-- Databases that a design can be made of: on a server, and those that are kept in this browser. -->
<script lang="ts">
  import { onMount } from 'svelte'
  import type { ServerAddress } from '../../core/design'
  import { commandByHand, dialect, ENGINES } from '../../core/dialects'
  import { saveFile } from '../../storage'
  import { coreWorker } from '../../workers'
  import AddressForm from '../databases/AddressForm.svelte'
  import { newAddress, signIn, signOut } from '../databases/remote'
  import { keptDatabases, SIGNED_IN, type Source } from './sources'

  const { onlook }: { onlook: (source: Source) => Promise<void> } = $props()
  const onServers = ENGINES.filter(({ served }) => served)
  let engine = $state(onServers[0]?.id ?? '')
  let server = $state.raw<ServerAddress>(newAddress(onServers[0]?.id ?? ''))
  let kept = $state.raw<Awaited<ReturnType<typeof keptDatabases>>>([])
  onMount(async () => {
    // What cannot be listed is not offered: the shelf says what is wrong there.
    kept = await keptDatabases().catch(() => [])
  })
  const askable = ENGINES.flatMap(({ id, label, versions, make }) =>
    make(versions.at(-1) ?? '').introspect?.byHand
      ? [...versions].reverse().map((version) => ({ id, label, version }))
      : []
  )
  let asked = $state(`${askable[0]?.id} ${askable[0]?.version}`)
  const command = $derived.by(() => {
    const byHand = dialect(asked.split(' ')[0] ?? '')?.introspect?.byHand
    return byHand ? commandByHand(byHand) : ''
  })
  async function saveQuestions() {
    const [id = '', version = ''] = asked.split(' ')
    const script = await coreWorker().questions(id, version)
    if (script !== undefined) saveFile('questions.sql', script, 'text/plain')
  }
  const labelOf = (id: string) => ENGINES.find((known) => known.id === id)?.label ?? id
</script>

<section class="flex flex-col gap-4" aria-label="Databases">
  <div class="rounded-md border border-line bg-base-100 px-4 py-3">
    <h2 class="font-semibold">A database on a server</h2>
    <label class="mt-2 flex items-center gap-2 text-[13px]"
      >Engine
      <select
        class="rounded border border-line bg-base-100 px-2 py-1"
        value={engine}
        onchange={(event) => {
          engine = event.currentTarget.value
          server = { ...server, port: newAddress(engine).port }
        }}
      >
        {#each onServers as { id, label } (id)}<option value={id}>{label}</option>{/each}
      </select>
    </label>
    <AddressForm
      label="Server"
      {engine}
      {server}
      onset={(address) => (server = address)}
      action="Sign in and look"
      onopen={async (access) => {
        await signOut(SIGNED_IN)
        const { version } = await signIn(SIGNED_IN, access)
        await onlook({ kind: 'server', engine, server })
        return `It answers: version ${version}.`
      }}
    />
    <p class="mt-2 text-[13px] text-soft">
      It is only read. The password is held in the memory of this app’s server while the session lasts, and nowhere
      else.
    </p>
  </div>
  <details class="rounded-md border border-line bg-base-100 px-4 py-3">
    <summary class="font-semibold">One that this app may not reach</summary>
    <div class="mt-2 flex items-center gap-2 text-[13px]">
      <select
        class="rounded border border-line bg-base-100 px-2 py-1"
        aria-label="Engine of the questions"
        bind:value={asked}
      >
        {#each askable as { id, label, version } (`${id} ${version}`)}<option value="{id} {version}"
            >{label} {version}</option
          >{/each}
      </select>
      <button
        class="rounded border border-line px-2 py-0.5 font-semibold hover:bg-base-300"
        onclick={() => void saveQuestions()}>Save the questions</button
      >
    </div>
    <p class="mt-2 text-[13px] text-soft">
      Who may reach it runs them there with the engine’s own client; they only read. What it prints is a file to choose
      here, or to compare a target with.
    </p>
    <pre
      class="mt-1 rounded border border-line p-2 font-mono text-[12px] break-words whitespace-pre-wrap">{command}</pre>
  </details>
  {#if kept.length > 0}
    <div class="rounded-md border border-line bg-base-100 px-4 py-3">
      <h2 class="font-semibold">One that is kept in this browser</h2>
      <ul class="mt-1 max-h-56 overflow-y-auto text-[13px]">
        {#each kept as source (`${source.design.id} ${source.target.id}`)}
          <li class="flex items-center gap-2 border-b border-line py-1 last:border-0">
            <span class="min-w-0 flex-1 truncate"
              ><b>{source.target.name}</b>
              <span class="text-soft">of {source.design.name}, {labelOf(source.target.engine)}</span></span
            >
            <button
              class="rounded border border-line px-2 py-0.5 font-semibold hover:bg-base-300"
              aria-label="Look at {source.target.name} of {source.design.name}"
              onclick={() => onlook(source)}>Look</button
            >
          </li>
        {/each}
      </ul>
    </div>
  {/if}
</section>
