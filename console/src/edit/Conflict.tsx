import { unifiedMergeView } from '@codemirror/merge'
import { EditorState } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import { Alert, Box, Button, Stack, Typography, useTheme } from '@mui/material'
import { useEffect, useRef } from 'react'
import { ProblemError, type EditView } from '../api/client'
import { useEdit } from '../api/hooks'
import { Trouble } from '../ui/State'

interface ConflictProps {
  error: unknown
  kind: 'jobs' | 'datasets'
  name: string
  mine: string
  /** Goes on from the text that is saved now, with one's own or with that one. */
  onBase: (base: EditView, text: string) => void
}

/** Saving went wrong; where somebody else has saved in the meantime, both texts are shown. */
export function Conflict({ error, kind, name, mine, onBase }: ConflictProps) {
  const conflict = error instanceof ProblemError && error.status === 409
  const theirs = useEdit(kind, name, undefined, conflict, 0) // what was read before is not theirs
  if (!conflict || !theirs.data || theirs.isFetching) return <Trouble error={error} />
  const saved = theirs.data
  return (
    <Alert severity="warning" variant="outlined" sx={{ my: 1, '& .MuiAlert-message': { flex: 1, minWidth: 0 } }}>
      <Typography sx={{ fontWeight: 600 }}>
        Somebody else has saved {kind}/{name}.yaml in the meantime. Nothing is lost: decide which text goes on.
      </Typography>
      <Difference theirs={saved.saved} mine={mine} />
      <Stack direction="row" sx={{ gap: 1, mt: 1 }}>
        <Button onClick={() => onBase(saved, saved.saved)}>Go on with theirs</Button>
        <Button onClick={() => onBase(saved, mine)}>Keep mine and overwrite theirs</Button>
      </Stack>
    </Alert>
  )
}

/** One's own text, with what differs from the saved one. */
function Difference({ theirs, mine }: { theirs: string; mine: string }) {
  const host = useRef<HTMLDivElement>(null)
  const theme = useTheme()
  useEffect(() => {
    const view = new EditorView({
      parent: host.current!,
      state: EditorState.create({
        doc: mine,
        extensions: [
          unifiedMergeView({ original: theirs, mergeControls: false, collapseUnchanged: { margin: 2, minSize: 4 } }),
          EditorState.readOnly.of(true),
          EditorView.contentAttributes.of({ 'aria-label': 'The difference', tabindex: '0' }),
          EditorView.theme({
            '&': { fontSize: '0.78rem', maxHeight: '30vh' },
            '.cm-scroller': { fontFamily: theme.mono },
          }),
        ],
      }),
    })
    return () => view.destroy()
  }, [theirs, mine, theme])
  return <Box ref={host} sx={{ mt: 1, border: 1, borderColor: 'divider' }} />
}
