<!-- Where a target's server is; tried out here. The password typed is sent once, and kept in no design. -->
<script lang="ts">
  import * as v from 'valibot'
  import { ServerSchema, type ServerAddress, type Target } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import { count } from '../desk/words'
  import { listDatabases, signIn, signOut } from '../databases/remote'
  import { useDesk } from '../desk/desk.svelte'
  import { targetKey } from '../../storage'

  const { target, onset }: { target: Target; onset: (server: ServerAddress) => void } = $props()
  const desk = useDesk()
  const ports: Readonly<Record<string, number>> = { postgres: 5432, mariadb: 3306, firebird: 3050 }
  const server = $derived<ServerAddress>(
    target.server ?? { host: '127.0.0.1', port: ports[target.engine] ?? 5432, database: '', user: '' }
  )
  let password = $state('')
  let told = $state('')
  let wrong = $state('')
  let databases = $state.raw<readonly string[]>([])
  const key = $derived(targetKey(desk.design.id, target.id))
  const access = () => ({ ...server, engine: target.engine, password })

  async function attempt(work: () => Promise<string>) {
    told = ''
    wrong = ''
    try {
      told = await work()
    } catch (error) {
      wrong = error instanceof Error ? error.message : String(error)
    }
  }
  const open = () =>
    attempt(async () => {
      await signOut(key)
      const { version } = await signIn(key, access())
      password = ''
      await desk.look(target.id)
      return `It answers: version ${version}.${schemasSaid()}`
    })
  /** The schemas that hold tables, where the engine has several. */
  function schemasSaid(): string {
    const tables = desk.status.get(target.id)?.live?.tables ?? []
    const schemas = [...new Set(tables.map((table) => table.schema))].sort()
    if (!dialect(target.engine)?.profile.features.schemas || schemas.length === 0) return ''
    const many = (schema: string) => count(tables.filter((table) => table.schema === schema).length, 'table', 'tables')
    return ` It has ${schemas.map((schema) => `${schema} (${many(schema)})`).join(', ')}.`
  }
  const list = () =>
    attempt(async () => {
      databases = await listDatabases(access())
      return databases.length ? 'Choose a database from the list.' : 'This server has no databases that you may see.'
    })
  const field = 'rounded border border-line bg-base-100 px-2 py-1'
  const button = 'rounded border border-line px-2.5 py-1 font-semibold hover:bg-base-300'

  /** What no address can have is said, and changes nothing. */
  function change(more: Partial<ServerAddress>) {
    const read = v.safeParse(ServerSchema, { ...server, ...more })
    wrong = read.success ? '' : read.issues[0].message
    if (read.success) onset(read.output)
  }
</script>

<form
  class="mt-2 flex flex-wrap items-end gap-3 text-[13px]"
  aria-label="Server of {target.name}"
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
  {@render text('Database', server.database, (database) => change({ database }), 'w-32', `databases-${target.id}`)}
  <datalist id="databases-{target.id}"
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
  <button class={button}>Sign in and look</button>
  <button type="button" class={button} onclick={list}>List databases</button>
  {#if told}<p class="w-full text-success" role="status">✓ {told}</p>{/if}
  {#if wrong}<p class="w-full text-error" role="alert">{wrong}</p>{/if}
</form>
