import { Typography } from '@mui/material'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { RunView } from '../api/client'
import { useUndo, useUndoEffect } from '../api/hooks'
import { Confirm } from '../ui/Confirm'
import { EffectText } from '../ui/EffectText'

const WORDS: Record<string, string> = { remove: 'the removal', undo: 'the undo' }

/** Takes a run, a retry, a removal or an undo back. */
export function UndoButton({ run }: { run: RunView }) {
  const [open, setOpen] = useState(false)
  const undo = useUndo(run.run)
  const effect = useUndoEffect(run.run, open)
  const navigate = useNavigate()
  const possible = effect.data?.obstacles.length === 0
  return (
    <Confirm
      button="Undo"
      title={`Undo ${WORDS[run.kind] ?? run.kind} ${run.run}?`}
      busy={undo.isPending}
      error={undo.error}
      forbidden={!possible}
      onOpen={setOpen}
      onDo={() => undo.mutate(undefined, { onSuccess: (entry) => void navigate(`/runs/${entry.run}`) })}
    >
      <EffectText effect={effect.data} error={effect.error} dataset={run.into} />
      {possible && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          From then on everything counts as if it had not been. The undo stands in the history, and can be undone itself
          while the rows are kept.
        </Typography>
      )}
    </Confirm>
  )
}
