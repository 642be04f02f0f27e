<!-- Where a server's database is, and who asks; tried out here. The password typed is sent once, and kept in no design. -->
<script lang="ts">
  import * as v from 'valibot'
  import { ServerSchema, type ServerAddress } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import NewDatabase from './NewDatabase.svelte'
  import { listDatabases, makeDatabase, type SignIn } from './remote'

  interface Props {
    /** What the form is for, to those who hear it. */
    readonly label: string
    readonly engine: string
    /** Of the engine; where it is said, a database may be made. */
    readonly version?: string
    readonly server: ServerAddress
    readonly onset: (server: ServerAddress) => void
    /** What the main button says. */
    readonly action: string
    /** Opens it; gives what there is to say, or rejects with what is wrong. */
    readonly onopen: (access: SignIn) => Promise<string>
  }
  const { label, engine, version, server, onset, action, onopen }: Props = $props()
  const id = $props.id()
  let password = $state('')
  let told = $state('')
  let wrong = $state('')
  let busy = $state(false)
  let databases = $state.raw<readonly string[]>([])
  const how = $derived(version === undefined ? undefined : dialect(engine, version)?.newDatabase)
  let isMaking = $state(false)
  const access = (): SignIn => ({ ...server, engine, password })

  async function attempt(work: () => Promise<string>) {
    told = ''
    wrong = ''
    busy = true
    try {
      told = await work()
    } catch (error) {
      wrong = error instanceof Error ? error.message : String(error)
    } finally {
      busy = false
    }
  }
  const open = () =>
    attempt(async () => {
      const said = await onopen(access())
      password = ''
      return said
    })
  const list = () =>
    attempt(async () => {
      databases = await listDatabases(access())
      return databases.length ? 'Choose a database from the list.' : 'This server has no databases that you may see.'
    })

  const make = (settings: Readonly<Record<string, string>>) =>
    attempt(async () => {
      await makeDatabase(access(), settings)
      isMaking = false
      return `${server.database} is there, and empty: sign in to bring it into step.`
    })

  /** What no address can have is said, and changes nothing. */
  function change(more: Partial<ServerAddress>) {
    const read = v.safeParse(ServerSchema, { ...server, ...more })
    wrong = read.success ? '' : read.issues[0].message
    if (read.success) onset(read.output)
  }
  const field = 'rounded border border-line bg-base-100 px-2 py-1'
  const button = 'rounded border border-line px-2.5 py-1 font-semibold hover:bg-base-300 disabled:opacity-60'
</script>

<form
  class="mt-2 flex flex-wrap items-end gap-3 text-[13px]"
  aria-label={label}
  onsubmit={(event) => {
    event.preventDefault()
    void open()
  }}
>
  {#snippet text(label: string, value: string, set: (value: string) => void, width: string, list?: string)}
    <label class="grid gap-0.5"
      >{label}<input
        class="{field} {width}"
        {value}
        {list}
        onchange={(event) => set(event.currentTarget.value.trim())}
      /></label
    >
  {/snippet}
  {@render text('Host', server.host, (host) => change({ host }), 'w-36')}
  {@render text('Port', String(server.port), (port) => change({ port: /^\d+$/.test(port) ? Number(port) : 0 }), 'w-20')}
  {@render text('Database', server.database, (database) => change({ database }), 'w-32', `${id}-databases`)}
  <datalist id="{id}-databases"
    >{#each databases as name (name)}<option value={name}></option>{/each}</datalist
  >
  {@render text('User', server.user, (user) => change({ user }), 'w-28')}
  <label class="grid gap-0.5"
    >Password<input type="password" class="{field} w-28" bind:value={password} autocomplete="off" /></label
  >
  <label class="flex items-center gap-1.5 pb-1.5"
    ><input
      type="checkbox"
      class="size-4 accent-primary"
      checked={server.tls === true}
      onchange={(event) => change({ tls: event.currentTarget.checked })}
    /> encrypted</label
  >
  <button class={button} disabled={busy}>{action}</button>
  <button type="button" class={button} disabled={busy} onclick={list}>List databases</button>
  {#if how}
    <button
      type="button"
      class={button}
      aria-expanded={isMaking}
      onclick={() => {
        isMaking = !isMaking
        told = wrong = ''
      }}>New database …</button
    >
    {#if isMaking}<NewDatabase {how} name={server.database} {busy} onmake={make} />{/if}
  {/if}
  {#if told}<p class="w-full text-success" role="status">✓ {told}</p>{/if}
  {#if wrong}<p class="w-full text-error" role="alert">{wrong}</p>{/if}
</form>
