<!-- Where a target's server is. -->
<script lang="ts">
  import type { ServerAddress, Target } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import { count } from '../desk/words'
  import AddressForm from '../databases/AddressForm.svelte'
  import { newAddress, signIn, signOut, type SignIn } from '../databases/remote'
  import { useDesk } from '../desk/desk.svelte'
  import { targetKey } from '../../storage'

  const { target, onset }: { target: Target; onset: (server: ServerAddress) => void } = $props()
  const desk = useDesk()
  const server = $derived<ServerAddress>(target.server ?? newAddress(target.engine))

  async function open(access: SignIn) {
    const key = targetKey(desk.design.id, target.id)
    await signOut(key)
    const { version } = await signIn(key, access)
    await desk.look(target.id)
    return `It answers: version ${version}.${schemasSaid()}`
  }
  /** The schemas that hold tables, where the engine has several. */
  function schemasSaid(): string {
    const tables = desk.status.get(target.id)?.live?.tables ?? []
    const schemas = [...new Set(tables.map((table) => table.schema))].sort()
    if (!dialect(target.engine)?.profile.features.schemas || schemas.length === 0) return ''
    const many = (schema: string) => count(tables.filter((table) => table.schema === schema).length, 'table', 'tables')
    return ` It has ${schemas.map((schema) => `${schema} (${many(schema)})`).join(', ')}.`
  }
</script>

<AddressForm
  label="Server of {target.name}"
  engine={target.engine}
  version={target.version}
  {server}
  {onset}
  action="Sign in and look"
  onopen={open}
/>
