<!-- SQL to read, its statements selectable, those of the selected object marked. -->
<script lang="ts">
  import { EditorState, StateEffect, StateField } from '@codemirror/state'
  import { Decoration, EditorView, lineNumbers, type DecorationSet } from '@codemirror/view'
  import { onMount } from 'svelte'
  import { changeBetween } from '../../core/jot'
  import { sqlLook } from './sqlLook'

  interface Props {
    readonly text: string
    /** Character ranges to mark. */
    readonly marked?: readonly { readonly from: number; readonly to: number }[]
    readonly onplace?: (offset: number) => void
    readonly label: string
  }
  const { text, marked = [], onplace, label }: Props = $props()
  let host = $state<HTMLDivElement>()
  let view: EditorView | undefined

  const mark = StateEffect.define<readonly { readonly from: number; readonly to: number }[]>()
  const line = Decoration.line({ class: 'cm-chosen' })
  const marks = StateField.define<DecorationSet>({
    create: () => Decoration.none,
    update(set, tr) {
      let next = set.map(tr.changes)
      for (const effect of tr.effects)
        if (effect.is(mark)) {
          const starts = new Set<number>()
          for (const { from, to } of effect.value) {
            const last = tr.state.doc.lineAt(Math.min(to, tr.state.doc.length)).number
            for (let n = tr.state.doc.lineAt(Math.min(from, tr.state.doc.length)).number; n <= last; n++)
              starts.add(tr.state.doc.line(n).from)
          }
          next = Decoration.set([...starts].sort((a, b) => a - b).map((at) => line.range(at)))
        }
      return next
    },
    provide: (field) => EditorView.decorations.from(field)
  })

  onMount(() => {
    view = new EditorView({
      parent: host ?? document.body,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          sqlLook(),
          marks,
          EditorState.readOnly.of(true),
          EditorView.contentAttributes.of({ 'aria-label': label, 'aria-readonly': 'true', tabindex: '0' }),
          EditorView.updateListener.of((update) => {
            if (update.selectionSet && update.transactions.some((tr) => tr.isUserEvent('select')))
              onplace?.(update.state.selection.main.head)
          })
        ]
      })
    })
    return () => view?.destroy()
  })

  $effect(() => {
    const next = text
    const change = view && changeBetween(view.state.doc.toString(), next)
    if (change) view?.dispatch({ changes: change })
  })
  $effect(() => {
    void text
    const [first] = marked
    view?.dispatch({
      effects: [
        mark.of(marked),
        ...(first
          ? [EditorView.scrollIntoView(Math.min(first.from, view.state.doc.length), { y: 'nearest', yMargin: 60 })]
          : [])
      ]
    })
  })
</script>

<div bind:this={host} class="h-full min-h-0 overflow-hidden"></div>
