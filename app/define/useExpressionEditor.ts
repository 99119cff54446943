import type { Narrowing } from '#core/expression/bind'
import {
  autocompletion,
  closeBrackets,
  type Completion,
  type CompletionContext,
  type CompletionResult,
} from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { linter, type Diagnostic } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap } from '@codemirror/view'
import { compile } from '#core/expression/compile'
import { complete } from '#core/expression/complete'
import type { Span } from '#core/expression/syntax'
import type { ValueType, Vocabulary } from '#core/expression/vocabulary'
import { wordsIn } from '#core/report/edition'
import type { Problem } from '#core/result'

export interface ExpressionEditorOptions {
  vocabulary: () => Vocabulary
  /** What completion offers of it. */
  offered: () => Vocabulary
  wanted: () => ValueType | undefined
  narrowing: () => Narrowing | undefined
  language: () => string
  says: (problem: Problem) => string
  onChange: (text: string) => void
  /** Attributes of the field itself, for those who hear it. */
  attributes: Record<string, string>
}

/** Signs that lead from one name to the next: completion opens by itself after them. */
const OPENS = /[\w.[("]$/

const spanOf = (at: unknown, length: number): Span => {
  const span =
    typeof at === 'object' && at !== null && 'start' in at ? (at as Span) : { start: 0, end: length }
  return { start: Math.min(span.start, length), end: Math.min(Math.max(span.end, span.start + 1), length) }
}

/**
 * The editor of one expression: completion of codes, bands, functions and choices, and mistakes underlined
 * where they are. Both are core's; the editor only shows them.
 */
export function useExpressionEditor(options: ExpressionEditorOptions) {
  let view: EditorView | null = null

  function completions(context: CompletionContext): CompletionResult | null {
    const text = context.state.doc.toString()
    const before = text.slice(0, context.pos)
    if (!context.explicit && !OPENS.test(before)) return null
    const found = complete(text, context.pos, options.offered(), options.language())
    if (!found.length) return null
    return {
      from: found[0]!.replaces.start,
      filter: false,
      options: found.map(({ insert, label, kind }): Completion => ({
        label: insert,
        detail: wordsIn(label, options.language()),
        type: kind,
      })),
    }
  }

  function mistakes(of: EditorView): Diagnostic[] {
    const text = of.state.doc.toString()
    if (!text.trim()) return []
    const compiled = compile(text, options.vocabulary(), options.wanted(), options.narrowing())
    return compiled.ok
      ? []
      : compiled.problems.map(problem => {
          const { start, end } = spanOf(problem.at, text.length)
          return { from: start, to: end, severity: 'error', message: options.says(problem) }
        })
  }

  function mount(parent: HTMLElement, text: string) {
    view = new EditorView({
      parent,
      state: EditorState.create({
        doc: text,
        extensions: [
          history(),
          closeBrackets(),
          autocompletion({ override: [completions], icons: false, aboveCursor: false }),
          linter(mistakes, { delay: 250 }),
          // Tab leaves the field, as everywhere else in the application.
          keymap.of([...defaultKeymap, ...historyKeymap]),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of(options.attributes),
          EditorView.updateListener.of(update => {
            if (update.docChanged) options.onChange(update.state.doc.toString())
          }),
        ],
      }),
    })
  }

  /** Puts a text in that came from elsewhere; what the person types does not come back this way. */
  function put(text: string) {
    if (!view || view.state.doc.toString() === text) return
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: text } })
  }

  /** Puts a text at the end, or in the place of everything when there is nothing yet. */
  function append(text: string) {
    if (!view) return
    const now = view.state.doc.toString().trimEnd()
    view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now ? `${now} ${text}` : text } })
    view.focus()
  }

  return {
    mount,
    put,
    append,
    destroy: () => {
      view?.destroy()
      view = null
    },
  }
}
