import { autocompletion, closeBrackets, completionKeymap, type CompletionContext } from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { yaml } from '@codemirror/lang-yaml'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { lintGutter, setDiagnostics } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, hoverTooltip, keymap, lineNumbers } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import { Box, useTheme } from '@mui/material'
import { useEffect, useRef } from 'react'
import type { Problem } from '../api/client'
import { keysOf, pathAt, schemaAt, wordsOf, type Schema } from './schema'

interface EditorProps {
  label: string
  value: string
  onChange: (text: string) => void
  problems: Problem[]
  schema: Schema | undefined
  maxHeight: string
}

/** The text of a definition: keys are completed and explained from its schema, and mistakes marked where they stand. */
export function YamlEditor({ label, value, onChange, problems, schema, maxHeight }: EditorProps) {
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView>(null)
  const known = useRef(schema)
  const changed = useRef(onChange)
  const theme = useTheme()
  useEffect(() => {
    known.current = schema
    changed.current = onChange
  })

  useEffect(() => {
    const colours = HighlightStyle.define([
      { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: theme.palette.primary.main },
      { tag: tags.comment, color: theme.palette.text.secondary, fontStyle: 'italic' },
      { tag: [tags.string, tags.content], color: theme.palette.text.primary },
    ])
    const made = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: value,
        extensions: [
          lineNumbers(),
          history(),
          closeBrackets(),
          yaml(),
          syntaxHighlighting(colours),
          EditorView.lineWrapping,
          lintGutter(),
          autocompletion({ override: [(context) => complete(context, known.current)] }),
          hoverTooltip((editor, at) => explain(editor, at, known.current)),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]), // Tab leaves the field
          EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) changed.current(update.state.doc.toString())
          }),
          EditorView.theme({
            '&': { fontSize: '0.8rem', maxHeight, border: `1px solid ${theme.palette.divider}` },
            '.cm-scroller': { fontFamily: theme.mono, lineHeight: '1.5' },
            '.cm-gutters': {
              backgroundColor: theme.palette.background.default,
              color: theme.palette.text.secondary,
              border: 'none',
            },
            '.cm-content': { caretColor: theme.palette.text.primary },
            '.cm-tooltip': {
              backgroundColor: theme.palette.background.paper,
              color: theme.palette.text.primary,
              border: `1px solid ${theme.palette.divider}`,
              maxWidth: '34rem',
            },
          }),
        ],
      }),
    })
    view.current = made
    return () => made.destroy()
    // the text that it begins with is that of its making; later ones come in below
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [theme, label, maxHeight])

  useEffect(() => {
    const editor = view.current
    if (editor && editor.state.doc.toString() !== value) {
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } })
    }
  }, [value])

  useEffect(() => {
    const editor = view.current
    if (!editor) return
    const lines = editor.state.doc
    editor.dispatch(
      setDiagnostics(
        editor.state,
        problems
          .filter((problem) => problem.line <= lines.lines)
          .map((problem) => {
            const line = lines.line(Math.max(1, problem.line))
            const from = Math.min(line.to, line.from + Math.max(0, problem.column - 1))
            const word = /^["']?[\w.-]*/.exec(lines.sliceString(from, line.to))![0].length
            return {
              from,
              to: Math.min(line.to, from + Math.max(1, word)),
              severity: 'error' as const,
              message: problem.what + (problem.hint ? `. ${problem.hint}` : ''),
            }
          }),
      ),
    )
  }, [problems])

  return <Box ref={host} sx={{ '& .cm-editor.cm-focused': { outline: '2px solid', outlineColor: 'primary.main' } }} />
}

function complete(context: CompletionContext, schema: Schema | undefined) {
  if (!schema) return null
  const word = context.matchBefore(/[\w-]*/)
  if (!word || (word.from === word.to && !context.explicit)) return null
  const { path, key } = pathAt(context.state.doc.toString(), word.from)
  const holder = schemaAt(schema, path)
  if (key === undefined) {
    const keys = keysOf(holder)
    return {
      from: word.from,
      options: Object.entries(keys).map(([name, one]) => ({
        label: name,
        type: 'property',
        apply: name + ': ',
        ...(one.description ? { info: one.description } : {}),
      })),
    }
  }
  const words = wordsOf(schemaAt(schema, [...path, key]))
  return words.length === 0 ? null : { from: word.from, options: words.map((label) => ({ label, type: 'enum' })) }
}

function explain(editor: EditorView, at: number, schema: Schema | undefined) {
  if (!schema) return null
  const text = editor.state.doc.toString()
  const line = editor.state.doc.lineAt(at)
  let from = at
  while (from > line.from && /[\w-]/.test(text[from - 1]!)) from--
  let to = at
  while (to < line.to && /[\w-]/.test(text[to]!)) to++
  if (from === to || text[to] !== ':') return null
  const { path } = pathAt(text, from)
  const means = keysOf(schemaAt(schema, path))[text.slice(from, to)]?.description
  if (!means) return null
  return {
    pos: from,
    end: to,
    above: true,
    create: () => {
      const dom = document.createElement('div')
      dom.style.padding = '4px 8px'
      dom.textContent = means
      return { dom }
    },
  }
}
