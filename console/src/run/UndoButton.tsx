import { Typography } from '@mui/material'
import { useNavigate } from 'react-router'
import type { RunView } from '../api/client'
import { useUndo } from '../api/hooks'
import { Confirm } from '../parts/Confirm'
import { counted } from '../parts/format'

/** Takes a run, a retry or a removal back. */
export function UndoButton({ run }: { run: RunView }) {
  const undo = useUndo(run.run)
  const navigate = useNavigate()
  return (
    <Confirm button="Undo" title={`Undo ${run.kind === 'remove' ? 'the removal' : run.kind} ${run.run}?`} busy={undo.isPending} error={undo.error} onDo={() => undo.mutate(undefined, { onSuccess: (entry) => void navigate(`/runs/${entry.run}`) })}>
      {run.kind === 'remove' ? <Typography>The rows that it took out of {run.into} are put back.</Typography> : (
        <Typography>
          The {counted(run.rows.loaded, 'row')} that it brought {run.rows.loaded === 1 ? 'goes' : 'go'} out of {run.into}, rows that gave way to them come back, and its {counted(run.files.loaded + run.files.replaced, 'loaded file')} and {counted(run.files.rejected, 'rejected file')} count
          as they did before. Files that were moved stay where they are.
        </Typography>
      )}
      <Typography color="textSecondary" sx={{ mt: 1 }}>Where later runs dealt with the same files, nothing is done, and it is said which.</Typography>
    </Confirm>
  )
}
