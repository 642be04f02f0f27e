<!-- Two texts side by side, line by line, with what differs marked; long stretches that are alike are folded. -->
<script lang="ts">
  import { MergeView } from '@codemirror/merge'
  import { EditorState } from '@codemirror/state'
  import { EditorView } from '@codemirror/view'
  import { onMount } from 'svelte'
  import { sqlLook } from '../script/sqlLook'

  interface Side {
    readonly title: string
    readonly text: string
  }
  const { left, right }: { readonly left: Side; readonly right: Side } = $props()
  let host = $state<HTMLDivElement>()

  const side = ({ title, text }: Side) => ({
    doc: text,
    extensions: [
      sqlLook(),
      EditorView.lineWrapping,
      EditorState.readOnly.of(true),
      EditorView.contentAttributes.of({ 'aria-label': title, 'aria-readonly': 'true', tabindex: '0' })
    ]
  })
  onMount(() => {
    const view = new MergeView({
      a: side(left),
      b: side(right),
      parent: host ?? document.body,
      collapseUnchanged: { margin: 3, minSize: 6 }
    })
    return () => view.destroy()
  })
</script>

<div class="grid grid-cols-2 text-[13px] text-soft">
  <span class="px-2">{left.title}</span><span class="px-2">{right.title}</span>
</div>
<div bind:this={host} class="lines max-h-80 overflow-auto rounded border border-line"></div>

<style>
  .lines :global(.cm-changedLine) {
    background-color: var(--ochre-tint);
  }
  .lines :global(.cm-changedText),
  .lines :global(.cm-deletedText) {
    background: none;
    text-decoration: underline;
    text-decoration-thickness: 2px;
    text-underline-offset: 3px;
  }
  .lines :global(.cm-changedLineGutter) {
    background: var(--color-secondary);
  }
  .lines :global(.cm-collapsedLines) {
    background: var(--color-base-200);
    color: var(--soft);
  }
</style>
