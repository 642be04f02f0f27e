<!-- The whole design in words: what is typed is the design after a pause; what is changed elsewhere is written here. -->
<script lang="ts">
  import { autocompletion, completionKeymap } from '@codemirror/autocomplete'
  import { defaultKeymap, indentLess, indentMore } from '@codemirror/commands'
  import { codeFolding, foldGutter, foldKeymap, HighlightStyle, syntaxHighlighting } from '@codemirror/language'
  import { lintKeymap, setDiagnostics } from '@codemirror/lint'
  import { Annotation, Compartment, EditorState, Prec, StateEffect, StateField } from '@codemirror/state'
  import { Decoration, EditorView, keymap, lineNumbers, type DecorationSet } from '@codemirror/view'
  import { tags } from '@lezer/highlight'
  import { onMount, tick, untrack } from 'svelte'
  import { edit, ownerOf, type Design } from '../../core/design'
  import type { Notice } from '../../core/notice'
  import { coreWorker } from '../../workers'
  import { useDesk, type Selection } from '../desk/desk.svelte'
  import { changeBetween } from '../../core/jot'
  import { count } from '../desk/words'
  import { openFile, saveFile } from '../../storage'
  import { completionsOf, takeWord } from './complete'
  import { aboutNames, acceptGhost, diagnosticsOf, ghostTypes } from './hints'
  import { jot } from './jot-language'
  import NewName from './NewName.svelte'
  import Offered from './Offered.svelte'
  import { renamed, symbolAt, usesOf, type Symbol } from './symbols'
  import TextBar from './TextBar.svelte'
  import TryOut from './TryOut.svelte'

  /** In milliseconds. */
  const PAUSE = 120
  const desk = useDesk()
  const key = `ramblet.text.${untrack(() => desk.design.id)}`
  let host: HTMLDivElement
  let view: EditorView | undefined
  /** The design that the text says. */
  let said: Design | undefined
  let lines: ReadonlyMap<string, number> = new Map()
  let notices = $state.raw<readonly Notice[]>([])
  let ready = $state(false)
  let typed = false
  let timer: ReturnType<typeof setTimeout> | undefined
  let work = Promise.resolve()
  /** What the cursor has selected: it is not brought into sight here. */
  let own: Selection | undefined

  const writable = new Compartment()
  const FromElsewhere = Annotation.define<true>()
  const show = StateEffect.define<number | undefined>()
  const chosen = Decoration.line({ class: 'cm-chosen' })
  const marks = StateField.define<DecorationSet>({
    create: () => Decoration.none,
    update(set, tr) {
      let next = set.map(tr.changes)
      for (const effect of tr.effects)
        if (effect.is(show)) {
          const at = effect.value
          next =
            at === undefined || at > tr.state.doc.lines
              ? Decoration.none
              : Decoration.set(chosen.range(tr.state.doc.line(at).from))
        }
      return next
    },
    provide: (field) => EditorView.decorations.from(field)
  })
  const colours = HighlightStyle.define([
    { tag: tags.keyword, color: 'var(--color-primary)' },
    { tag: tags.typeName, color: 'var(--color-secondary)' },
    { tag: tags.string, color: 'var(--color-accent)' },
    { tag: tags.number, color: 'var(--color-secondary)' },
    { tag: tags.comment, color: 'var(--soft)', fontStyle: 'italic' }
  ])

  /** One after the other: each begins with what the one before has left. */
  const next = (task: () => Promise<void>) => (work = work.then(task, task))

  /** What was typed becomes the design. */
  async function take() {
    if (!view || !said || !typed) return
    typed = false
    const [text, base] = [view.state.doc.toString(), said]
    const read = await coreWorker().readJot(text, base)
    // Something was typed since: that is read soon.
    if (typed || !view || view.state.doc.toString() !== text) return void (typed = true)
    ;[lines, notices] = [read.lines, read.notices]
    // Lines that had the old name of something have the new one.
    replace(read.text)
    const before = desk.design
    if (read.edit.kind !== 'all' || read.edit.edits.length > 0) desk.edit(read.edit)
    // What was changed elsewhere in between is not in the text yet.
    said = before === base ? desk.design : edit(base, read.edit)
    mark()
    keep(read.text)
    if (said !== desk.design) await follow()
    // What the cursor is on now may be something new.
    select()
  }
  /** What was changed elsewhere is written here. */
  async function follow() {
    if (!view || typed || said === desk.design) return
    const [text, design] = [view.state.doc.toString(), desk.design]
    const { text: now, lines: where, notices: told } = await coreWorker().followJot(text, design)
    if (typed || !view || view.state.doc.toString() !== text) return
    said = design
    ;[lines, notices] = [where, told]
    replace(now)
    mark()
    keep(now)
  }
  function replace(now: string) {
    if (!view) return
    const changes = changeBetween(view.state.doc.toString(), now)
    if (changes) view.dispatch({ changes, annotations: FromElsewhere.of(true) })
  }
  function mark() {
    if (!view) return
    view.dispatch(setDiagnostics(view.state, diagnosticsOf(view, notices, desk.design)))
    // What is told below takes room: the line that one is on stays in sight.
    void tick().then(() => {
      if (view?.hasFocus)
        view.dispatch({ effects: EditorView.scrollIntoView(view.state.selection.main.head, { yMargin: 8 }) })
    })
  }
  function keep(text: string) {
    try {
      localStorage.setItem(key, text)
    } catch {
      // Without room, remarks last as long as the page does.
    }
  }
  function soon() {
    typed = true
    clearTimeout(timer)
    timer = setTimeout(() => void next(take), PAUSE)
  }
  /** Undo and redo are of the design, wherever it was changed. */
  const step = (move: () => void) => () => {
    clearTimeout(timer)
    void next(take).then(move)
    return true
  }
  /** The object of the line that the cursor is on. */
  function select() {
    if (!view?.hasFocus) return
    const { state } = view
    const at = state.doc.lineAt(state.selection.main.head).number
    const top = topOf(state, at)
    let [best, line] = ['', 0]
    for (const [id, number] of lines) if (number <= at && number >= top && number > line) [best, line] = [id, number]
    const { entity, attribute, link } = ownerOf(desk.design, best)
    const found: Selection | undefined = link
      ? { kind: 'link', link: link.id }
      : entity && attribute
        ? { kind: 'row', entity: entity.id, row: attribute.id }
        : entity
          ? { kind: 'entity', entity: entity.id }
          : undefined
    if (!found || JSON.stringify(found) === JSON.stringify(desk.selection)) return
    own = found
    desk.select(found)
  }
  const known = () => ({ design: desk.design, lines, shown: desk.shown })
  /** Something pasted that is a script of SQL. */
  let offered = $state('')
  let trying = $state(false)
  let asked = $state.raw<{ readonly symbol: Symbol; readonly how: 'rename' | 'uses' }>()

  const isScript = (text: string) => /^\s*create\s+(unlogged\s+|temporary\s+|global\s+)*table\b/im.test(text)
  function insert(text: string) {
    view?.dispatch(view.state.replaceSelection(text))
    view?.focus()
  }
  /** The whole text is another one: things of the same names stay what they are. */
  function replaceWith(text: string) {
    view?.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } })
    view?.focus()
  }
  async function open() {
    const file = await openFile('.jot,text/plain')
    if (file) replaceWith(await file.text())
  }
  function dropped(event: DragEvent): boolean {
    const file = [...(event.dataTransfer?.files ?? [])].find(({ name }) => /\.(jot|txt)$/i.test(name))
    if (!file || !desk.pen.here) return false
    event.preventDefault()
    void file.text().then(replaceWith)
    return true
  }
  const here = () => view && symbolAt(view.state, view.state.selection.main.head, desk.design, lines)
  /** What the cursor is on is asked for, once all that was typed is the design. */
  const withSymbol = (then: (symbol: Symbol) => void) => () => {
    clearTimeout(timer)
    void next(take).then(() => {
      const symbol = here()
      if (symbol) then(symbol)
    })
    return true
  }
  function goToLine(number: number | undefined) {
    if (number !== undefined) goTo(`${number}:1`)
  }
  const uses = $derived.by(() => {
    const doc = asked && view?.state.doc
    return doc && asked
      ? usesOf(doc, asked.symbol, desk.design, lines).map((line) => ({ line, text: doc.line(line).text }))
      : []
  })
  function rename(name: string): string | undefined {
    const found = asked && renamed(asked.symbol, name, desk.design)
    if (!found) return undefined
    if ('error' in found) return found.error
    asked = undefined
    desk.edit(found.edit)
    view?.focus()
    return undefined
  }
  function topOf(state: EditorState, at: number): number {
    let n = at
    while (n > 1 && !/^\S/.test(state.doc.line(n).text)) n--
    return n
  }

  onMount(() => {
    view = new EditorView({
      parent: host,
      state: EditorState.create({
        doc: '',
        extensions: [
          lineNumbers(),
          foldGutter(),
          // What was typed before the design is there would be lost.
          writable.of(EditorState.readOnly.of(true)),
          codeFolding(),
          marks,
          jot(),
          syntaxHighlighting(colours),
          ghostTypes(known),
          aboutNames(known),
          EditorView.domEventHandlers({
            drop: dropped,
            paste: (event) => {
              const text = event.clipboardData?.getData('text/plain') ?? ''
              if (!desk.pen.here || !isScript(text)) return false
              event.preventDefault()
              offered = text
              return true
            }
          }),
          // A line ends where Enter is pressed: a word of the list is taken by Tab, or once it is chosen.
          autocompletion({ override: [(context) => completionsOf(desk.design, context)], selectOnOpen: false }),
          Prec.high(
            keymap.of([
              { key: 'Tab', run: (at) => takeWord(at) || acceptGhost(at, known()) },
              { key: 'F2', run: withSymbol((symbol) => (asked = { symbol, how: 'rename' })) },
              { key: 'F12', run: withSymbol(({ id }) => goToLine(lines.get(id))) },
              { key: 'Shift-F12', run: withSymbol((symbol) => (asked = { symbol, how: 'uses' })) },
              { key: 'Mod-z', run: step(() => desk.undo()) },
              { key: 'Mod-y', run: step(() => desk.redo()) },
              { key: 'Mod-Shift-z', run: step(() => desk.redo()) },
              { key: 'Mod-]', run: indentMore },
              { key: 'Mod-[', run: indentLess }
            ])
          ),
          keymap.of([...completionKeymap, ...lintKeymap, ...foldKeymap, ...defaultKeymap]),
          EditorView.contentAttributes.of({ 'aria-label': 'The design in words', tabindex: '0' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged && !update.transactions.some((tr) => tr.annotation(FromElsewhere))) soon()
            if (update.selectionSet && !update.docChanged) select()
          })
        ]
      })
    })
    let text: string | null = null
    try {
      text = localStorage.getItem(key)
    } catch {
      // Then it is written anew.
    }
    void next(async () => {
      const design = desk.design
      const first = await coreWorker().followJot(text ?? '', design)
      said = design
      ;[lines, notices] = [first.lines, first.notices]
      replace(first.text)
      ready = true
    })
    return () => {
      clearTimeout(timer)
      void next(take).then(() => view?.destroy())
    }
  })
  // Another tab writes: what is typed here would be lost.
  $effect(() => {
    const may = desk.pen.here && ready
    view?.dispatch({ effects: writable.reconfigure(EditorState.readOnly.of(!may)) })
  })
  $effect(() => {
    void desk.design
    if (ready) void next(follow)
  })
  $effect(() => {
    const s = desk.selection
    if (!ready || !view) return
    const id = s?.kind === 'row' ? s.row : s?.kind === 'link' ? s.link : s?.kind === 'entity' ? s.entity : undefined
    const at = id === undefined ? undefined : lines.get(id)
    const isOwn = s === own || JSON.stringify(s) === JSON.stringify(own)
    untrack(() =>
      view?.dispatch({
        effects: [
          show.of(at),
          ...(at !== undefined && !isOwn && at <= (view?.state.doc.lines ?? 0)
            ? [EditorView.scrollIntoView(view?.state.doc.line(at).from ?? 0, { y: 'center' })]
            : [])
        ]
      })
    )
  })
  const wrong = $derived(notices.filter(({ severity }) => severity === 'error'))
  function goTo(where = '1:1') {
    if (!view) return
    const [row = 1, column = 1] = where.split(':').map(Number)
    const line = view.state.doc.line(Math.min(row, view.state.doc.lines))
    view.dispatch({ selection: { anchor: Math.min(line.from + column - 1, line.to) }, scrollIntoView: true })
    view.focus()
  }
</script>

<div class="flex h-full flex-col bg-base-100">
  <TextBar
    writable={desk.pen.here}
    {trying}
    ontry={() => (trying = !trying)}
    onsave={() => saveFile(`${desk.design.name}.jot`, view?.state.doc.toString() ?? '', 'text/plain')}
    onopen={() => void open()}
  />
  {#if offered}
    {#key offered}<Offered
        script={offered}
        onpaste={() => {
          insert(offered)
          offered = ''
        }}
        onend={() => (offered = '')}
      />{/key}
  {/if}
  <div bind:this={host} class="editor min-h-0 flex-1 overflow-hidden"></div>
  {#if wrong.length > 0}
    <div class="flex shrink-0 items-baseline gap-2 border-t border-line bg-brick-tint px-3 py-1 text-[13px]">
      <span role="status" class="font-semibold text-error">{count(wrong.length, 'mistake', 'mistakes')}</span>
      <button
        class="min-w-0 truncate text-left underline"
        title={wrong[0]?.message}
        onclick={() => goTo(wrong[0]?.where)}>Line {wrong[0]?.where?.split(':')[0]}: {wrong[0]?.message}</button
      >
      <span class="ml-auto shrink-0 text-xs text-soft">all else is the design</span>
    </div>
  {/if}
  {#if asked}
    {#key asked}<NewName
        {...asked}
        {uses}
        onname={rename}
        ongo={goToLine}
        onend={() => {
          asked = undefined
          view?.focus()
        }}
      />{/key}
  {/if}
  {#if trying}<TryOut onclose={() => (trying = false)} />{/if}
</div>

<style>
  .editor :global(.cm-editor) {
    height: 100%;
    font-size: 13px;
    background: var(--color-base-100);
    color: var(--color-base-content);
  }
  .editor :global(.cm-scroller) {
    font-family: var(--font-mono);
    line-height: 1.5;
    overflow: auto;
  }
  .editor :global(.cm-gutters) {
    background: var(--color-base-100);
    color: var(--soft);
    border: none;
  }
  .editor :global(.cm-chosen) {
    background: var(--sea-tint);
  }
  .editor :global(.cm-ghost) {
    color: var(--soft);
    font-style: italic;
  }
  .editor :global(.cm-about) {
    max-width: 28rem;
    padding: 4px 8px;
    font-family: var(--font-sans);
  }
  .editor :global(.cm-focused) {
    outline: none;
  }
  .editor :global(.cm-cursor) {
    border-left-color: currentColor;
  }
  .editor :global(.cm-tooltip) {
    background: var(--color-base-100);
    color: inherit;
    border-color: var(--color-line);
  }
  .editor :global(.cm-tooltip-autocomplete ul li[aria-selected]) {
    background: var(--sea-tint);
    color: inherit;
  }
  .editor :global(.cm-foldPlaceholder) {
    background: var(--color-base-200);
    color: var(--soft);
    border-color: var(--color-line);
  }
</style>
