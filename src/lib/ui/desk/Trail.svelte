<!-- The steps of the job in the order people do them; the one you are on is inked in. -->
<script lang="ts">
  import CircleQuestionMark from '@lucide/svelte/icons/circle-question-mark'
  import Download from '@lucide/svelte/icons/download'
  import Flag from '@lucide/svelte/icons/flag'
  import ListTree from '@lucide/svelte/icons/list-tree'
  import Moon from '@lucide/svelte/icons/moon'
  import Redo from '@lucide/svelte/icons/redo-2'
  import Search from '@lucide/svelte/icons/search'
  import Sun from '@lucide/svelte/icons/sun'
  import Undo from '@lucide/svelte/icons/undo-2'
  import { theme } from './theme.svelte'

  interface Step {
    readonly name: string
    readonly href: string
    readonly count?: number | undefined
    readonly current: boolean
  }
  interface Props {
    readonly title?: string
    readonly steps?: readonly Step[]
    readonly onfind?: () => void
    /** Opens and closes the outline; absent where there is none. */
    readonly onoutline?: () => void
    readonly outlined?: boolean
    readonly onrename?: (name: string) => void
    /** Absent when there is nothing to undo. */
    readonly onundo?: (() => void) | undefined
    readonly onredo?: (() => void) | undefined
    readonly onsave?: () => void
    /** Where it is told how things are done. */
    readonly help?: string
    /** Where named states of the design are. */
    readonly checkpoints?: string
  }
  const {
    checkpoints,
    help,
    title,
    steps = [],
    onfind,
    onoutline,
    outlined = false,
    onrename,
    onundo,
    onredo,
    onsave
  }: Props = $props()
</script>

<header class="flex h-[45px] shrink-0 items-center gap-3 border-b border-line bg-base-200 px-4">
  <a href="/" class="flex items-center gap-2 font-semibold" aria-label="Ramblet, to the shelf">
    <svg viewBox="0 0 32 32" width="22" height="22" aria-hidden="true">
      <path
        d="M5 24C7 10 12 6 16 12s7 10 11 4"
        fill="none"
        stroke="var(--color-primary)"
        stroke-width="3"
        stroke-dasharray="4 3.4"
        stroke-linecap="round"
      />
      <circle cx="5" cy="25" r="3" fill="var(--color-primary)" /><rect
        x="23"
        y="18"
        width="7"
        height="7"
        fill="var(--edge-2)"
      />
    </svg>
    <span class="text-[15px]">Ramblet</span>
  </a>
  {#if onoutline}
    <button
      class="grid size-8 place-items-center rounded-md hover:bg-base-300 {outlined ? 'bg-sea-tint text-primary' : ''}"
      aria-label="Outline"
      aria-pressed={outlined}
      title="Outline (Alt O)"
      onclick={onoutline}
    >
      <ListTree size={16} aria-hidden="true" />
    </button>
  {/if}
  {#if title !== undefined}
    {#if onrename}
      <input
        class="w-48 truncate rounded border border-transparent bg-transparent px-1 text-soft hover:border-line focus:border-line"
        aria-label="Name of the design"
        value={title}
        onchange={(event) => onrename(event.currentTarget.value)}
        onkeydown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
    {:else}
      <span class="truncate text-soft">{title}</span>
    {/if}
  {/if}
  <nav class="mx-auto flex items-center" aria-label="Steps">
    {#each steps as step, i (step.name)}
      {#if i > 0}<span class="w-6 border-t-2 border-dotted border-line" aria-hidden="true"></span>{/if}
      <a
        href={step.href}
        class="rounded-full px-3 py-1.5 font-medium {step.current
          ? 'bg-neutral text-neutral-content'
          : 'hover:bg-base-300'}"
        aria-current={step.current ? 'step' : undefined}
      >
        {step.name}
        {#if step.count}
          <span class="ml-1 rounded-full bg-ochre-tint px-1.5 text-xs font-semibold text-secondary">{step.count}</span>
        {/if}
      </a>
    {/each}
  </nav>
  {#if onsave}
    {#snippet tool(label: string, Icon: typeof Undo, run: (() => void) | undefined)}
      <button
        class="grid size-8 place-items-center rounded-md hover:bg-base-300 disabled:opacity-40"
        aria-label={label}
        title={label}
        disabled={!run}
        onclick={run}
      >
        <Icon size={16} aria-hidden="true" />
      </button>
    {/snippet}
    <div class="flex">
      {@render tool('Undo', Undo, onundo)}
      {@render tool('Redo', Redo, onredo)}
      {@render tool('Save to a file', Download, onsave)}
      {#if checkpoints}
        <a
          class="grid size-8 place-items-center rounded-md hover:bg-base-300"
          href={checkpoints}
          aria-label="Checkpoints"
          title="Checkpoints"><Flag size={16} aria-hidden="true" /></a
        >
      {/if}
    </div>
  {/if}
  {#if onfind}
    <button
      class="flex h-8 w-52 items-center gap-2 rounded-md border border-line bg-base-100 px-2.5 text-left text-soft"
      onclick={onfind}
    >
      <Search size={14} aria-hidden="true" />
      <span class="flex-1 whitespace-nowrap">Find anything</span>
      <kbd class="rounded border border-line px-1 text-[11px]">Ctrl K</kbd>
    </button>
  {/if}
  {#if help}
    <a
      class="grid size-8 place-items-center rounded-md hover:bg-base-300"
      href={help}
      aria-label="Help"
      title="Help (the keys: ?)"><CircleQuestionMark size={16} aria-hidden="true" /></a
    >
  {/if}
  <button
    class="grid size-8 place-items-center rounded-md hover:bg-base-300"
    title={theme.dark ? 'Light theme' : 'Dark theme'}
    aria-label={theme.dark ? 'Light theme' : 'Dark theme'}
    onclick={() => theme.toggle()}
  >
    {#if theme.dark}<Sun size={16} aria-hidden="true" />{:else}<Moon size={16} aria-hidden="true" />{/if}
  </button>
</header>
