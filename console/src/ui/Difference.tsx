import { unifiedMergeView } from '@codemirror/merge'
import { EditorState } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import { Box, useTheme } from '@mui/material'
import { useEffect, useRef } from 'react'

/** A text, with what differs from an earlier one. */
export function Difference({ before, now, label = 'The difference' }: { before: string; now: string; label?: string }) {
  const host = useRef<HTMLDivElement>(null)
  const theme = useTheme()
  useEffect(() => {
    const view = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: now,
        extensions: [
          unifiedMergeView({ original: before, mergeControls: false, collapseUnchanged: { margin: 2, minSize: 4 } }),
          EditorState.readOnly.of(true),
          EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
          EditorView.theme({
            '&': { fontSize: '0.78rem', maxHeight: '30vh' },
            '.cm-collapsedLines:before, .cm-collapsedLines:after': { content: '"…"' }, // its own signs are in no font
            '.cm-scroller': { fontFamily: theme.mono },
          }),
        ],
      }),
    })
    return () => view.destroy()
  }, [before, now, label, theme])
  return <Box ref={host} sx={{ mt: 1, border: 1, borderColor: 'divider' }} />
}
