// Whether a text can stand inside a statement without ending it, or swallowing what comes after it.
import type { Lexis } from './lexis'
import { tokenize } from './tokens'

const closing: Readonly<Record<string, string>> = { '(': ')', '[': ']', '{': '}' }

/** Why a text is no whole expression or type by an engine's own rules, in a sentence with the place; nothing when it is. */
export function whyNotWhole(text: string, lexis: Lexis): string | undefined {
  const open: { readonly mark: string; readonly at: number }[] = []
  const place = (at: number) => `at character ${at + 1}`
  for (const { kind, text: token, at } of tokenize(text, lexis)) {
    const control = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f]/.exec(token)
    if (control) return `There is a control character ${place(at + control.index)}.`
    if (kind === 'executable') return `A comment that the engine carries out stands ${place(at)}.`
    if (kind === 'comment') {
      if (token.startsWith('/*')) {
        if (!isClosed(token, text, at, lexis)) return `The comment ${place(at)} has no end.`
      } else if (at + token.length === text.length) return `The comment ${place(at)} would swallow what comes after it.`
    }
    if ((kind === 'string' || kind === 'quoted') && !isClosed(token, text, at, lexis))
      return `What is quoted ${place(at)} has no end.`
    if (kind !== 'punctuation') continue
    if (token === ';') return `A semicolon stands ${place(at)}: it would end the statement.`
    if (closing[token] !== undefined) open.push({ mark: token, at })
    else if (token in { ')': 1, ']': 1, '}': 1 }) {
      const last = open.pop()
      if (!last || closing[last.mark] !== token) return `The ${token} ${place(at)} closes nothing.`
    }
  }
  const [left] = open
  return left === undefined ? undefined : `The ${left.mark} ${place(left.at)} is never closed.`
}

/** A quoted text that is whole gives one token more when something stands behind it; one that is open takes it in. */
function isClosed(token: string, text: string, at: number, lexis: Lexis): boolean {
  if (at + token.length < text.length) return true
  return tokenize(`${token} x`, lexis)[0]?.text === token
}
