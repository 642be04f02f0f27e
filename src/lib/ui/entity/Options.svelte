<!-- What the engine of the target in view alone has of an entity: said for that target, beside what the design says for all. -->
<script lang="ts">
  import type { Entity } from '../../core/design'
  import { dialect, type DeclaredOption } from '../../core/dialects'
  import { KIND_WORDS } from '../../core/catalog'
  import { whyNoValue, type Optioned, type SaidOption } from '../../core/session'
  import { coreWorker } from '../../workers'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'
  import Part from './Part.svelte'
  import Remove from './Remove.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const engine = $derived(dialect(desk.shown.engine, desk.shown.version))
  let found = $state.raw<readonly Optioned[]>([])
  let wrong = $state('')
  /** Where the next one is said, what of, and by which name where the engine has names of all kinds. */
  let [at, which, called] = $state.raw(['', '', ''])

  let turn = 0
  $effect(() => {
    const { design, shownId } = desk
    const mine = ++turn
    if (shownId === undefined) return void (found = [])
    void coreWorker()
      .options(design, shownId, entity.id)
      .then((list) => {
        if (mine === turn) found = list
      })
  })

  const keyOf = ({ kind, origin, part }: Optioned) => JSON.stringify([kind, origin.id, origin.part, part ?? ''])
  const wordOf = (kind: Optioned['kind']) => engine?.profile.words?.[kind]?.[0] ?? KIND_WORDS[kind]
  const nameOf = ({ kind, name, part }: Optioned) =>
    kind === 'table' ? `the ${wordOf(kind)}` : `${part === undefined ? wordOf(kind) : 'part of the index'} ${name}`
  const said = $derived(found.flatMap((place) => place.said.map((one) => ({ place, one }))))
  const place = $derived(found.find((one) => keyOf(one) === at))
  const option = $derived(place?.offered.find(({ name }) => name === which))
  const name = $derived(option?.every ? called.trim() : (option?.name ?? ''))
  const isNamed = $derived(option !== undefined && (option.every?.test(name) ?? true))

  async function say(where: Optioned, optionName: string, value: string | undefined) {
    const { design, shownId } = desk
    if (shownId === undefined) return
    const { kind, origin, part } = where
    const plain = { kind, origin, ...(part === undefined ? {} : { part }) }
    const answer = await coreWorker().option(design, shownId, plain, optionName, value)
    wrong = typeof answer === 'string' ? answer : ''
    if (typeof answer === 'string') return
    desk.edit(answer)
    // What is said is not there to be said once more.
    if (optionName === name) [which, called] = ['', '']
  }
  function keep(where: Optioned, { name: optionName, option: of }: Pick<SaidOption, 'name' | 'option'>, value: string) {
    const why = whyNoValue(of, value)
    if (why === undefined) void say(where, optionName, value)
    return why
  }
  const listOf = ({ values }: DeclaredOption) => (typeof values === 'string' ? undefined : values)
  const CHANGES: Readonly<Record<DeclaredOption['changes'], string>> = {
    'in place': '',
    again: 'Another value makes it again.',
    never: 'It is said when it is made, and stays.'
  }
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
</script>

{#snippet value(where: Optioned, one: SaidOption, label: string, fresh = false)}
  {@const list = listOf(one.option)}
  {#if list}
    <select
      class={field}
      aria-label={label}
      value={fresh ? '…' : one.value}
      onchange={(event) => {
        void say(where, one.name, event.currentTarget.value)
        if (fresh) event.currentTarget.value = '…'
      }}
    >
      {#if fresh}<option value="…" disabled>say it…</option>{/if}
      {#if !one.option.at}<option value=""
          >as usual{one.option.usual === undefined ? '' : `: ${one.option.usual}`}</option
        >{/if}
      {#each list as choice (choice)}{#if choice !== one.option.usual}<option value={choice}>{choice}</option
          >{/if}{/each}
    </select>
  {:else}
    <Field
      class="min-w-32 flex-1"
      {label}
      mono
      {fresh}
      value={one.value}
      placeholder={one.value === '' && !fresh
        ? 'as usual'
        : one.option.values === 'json'
          ? '{ … }'
          : (one.option.values as string)}
      onkeep={(typed) => (fresh && typed.trim() === '' ? undefined : keep(where, one, typed.trim()))}
    />
  {/if}
{/snippet}

{#if desk.shownId !== undefined && engine && found.length > 0}
  <Part title="Only in {desk.shown.name}" hint="what {engine.profile.label} alone has">
    {#each said as { place: where, one } (`${keyOf(where)} ${one.name}`)}
      {@const label = `${one.name} of ${nameOf(where)}`}
      <div class="flex flex-wrap items-start gap-1.5">
        <span class="min-w-0 py-0.5 break-words"><span class="text-soft">{nameOf(where)}:</span> {one.name}</span>
        {@render value(where, one, label)}
        <Remove what={label} onremove={() => void say(where, one.name, undefined)} />
        <span class="basis-full text-xs text-soft">{one.option.meaning} {CHANGES[one.option.changes]}</span>
      </div>
    {/each}
    <div class="flex flex-wrap items-start gap-1.5">
      <select
        class="{field} max-w-56"
        aria-label="What an option is said of"
        value={at}
        onchange={(event) => ([at, which, called] = [event.currentTarget.value, '', ''])}
      >
        <option value="">add: of what…</option>
        {#each found as one (keyOf(one))}<option value={keyOf(one)}>{nameOf(one)}</option>{/each}
      </select>
      {#if place}
        <select
          class={field}
          aria-label="Which option"
          value={which}
          onchange={(event) => ([which, called] = [event.currentTarget.value, ''])}
        >
          <option value="">which…</option>
          {#each place.offered as one (one.name)}<option>{one.name}</option>{/each}
        </select>
        {#if option?.every}
          <Field
            class="w-36"
            label="Name of {option.name}"
            mono
            value={called}
            placeholder="its name"
            onkeep={(typed) => {
              called = typed
              return typed.trim() === '' || option.every?.test(typed.trim())
                ? undefined
                : 'The engine has no such name.'
            }}
          />
        {/if}
        {#if option && isNamed}
          {@render value(place, { option, name, value: '' }, `${name} of ${nameOf(place)}, to be said`, true)}
          <span class="basis-full text-xs text-soft">{option.meaning} {CHANGES[option.changes]}</span>
        {/if}
      {/if}
    </div>
    {#if wrong}<span role="alert" class="text-xs text-error">{wrong}</span>{/if}
  </Part>
{/if}
