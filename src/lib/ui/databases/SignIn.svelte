<!-- Signing in to a server's database. The password is sent once and kept nowhere in the browser. -->
<script lang="ts">
  import type { Target } from '../../core/design'
  import { targetKey } from '../../storage'
  import { useDesk } from '../desk/desk.svelte'
  import { signIn } from './remote'

  const { target, onopen }: { target: Target; onopen: () => void } = $props()
  const desk = useDesk()
  let password = $state('')
  let problem = $state('')
  let busy = $state(false)

  async function open() {
    const { server } = target
    if (!server) return
    busy = true
    problem = ''
    try {
      await signIn(targetKey(desk.design.id, target.id), { ...server, engine: target.engine, password })
      password = ''
      onopen()
    } catch (error) {
      problem = error instanceof Error ? error.message : String(error)
    } finally {
      busy = false
    }
  }
</script>

<form
  class="m-5 grid max-w-md gap-2 rounded-md border border-line bg-base-100 px-4 py-3"
  aria-label="Sign in to {target.name}"
  onsubmit={(event) => {
    event.preventDefault()
    void open()
  }}
>
  <h2 class="font-semibold">Sign in to {target.name}</h2>
  {#if target.server}
    <p class="text-[13px] text-soft">
      {target.server.user} at {target.server.host}:{target.server.port}, {target.server.database}. The password is held
      in the memory of this app’s server while the session lasts, and nowhere else.
    </p>
    <label class="grid gap-0.5 text-[13px]"
      >Password
      <input
        type="password"
        class="rounded border border-line bg-base-100 px-2 py-1"
        bind:value={password}
        autocomplete="off"
      />
    </label>
    {#if problem}<p role="alert" class="text-[13px] text-error">{problem}</p>{/if}
    <button class="justify-self-start rounded bg-primary px-3 py-1.5 font-semibold text-primary-content" disabled={busy}
      >{busy ? 'Signing in …' : 'Sign in'}</button
    >
  {:else}
    <p class="text-error">This target does not say where its server is: set it under Targets.</p>
  {/if}
</form>
