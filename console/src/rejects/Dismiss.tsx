import { Button, Dialog, DialogActions, DialogContent, DialogTitle, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useDismiss } from '../api/hooks'
import { Trouble } from '../ui/State'

interface DismissProps {
  job: string
  /** The file to begin with. */
  file: string
}

/** Takes what is rejected of a file off the list, with a reason; that is an entry of the history, to which it leads. */
export function Dismiss({ job, file }: DismissProps) {
  const [asking, setAsking] = useState(false)
  return (
    <>
      <Button size="small" sx={{ alignSelf: 'start' }} onClick={() => setAsking(true)}>
        Dismiss …
      </Button>
      {asking && <Question job={job} file={file} onClose={() => setAsking(false)} />}
    </>
  )
}

function Question({ job, file, onClose }: DismissProps & { onClose: () => void }) {
  const [name, setName] = useState(file)
  const [why, setWhy] = useState('')
  const dismiss = useDismiss(job)
  const navigate = useNavigate()
  const possible = name.trim() !== '' && why.trim() !== '' && !dismiss.isPending
  const perform = () =>
    dismiss.mutate(
      { file: name.trim(), why: why.trim() },
      { onSuccess: (entry) => void navigate(`/runs/${entry.run}`) },
    )
  return (
    <Dialog open onClose={onClose} aria-labelledby="dismiss-title" fullWidth maxWidth="sm">
      <DialogTitle id="dismiss-title">Dismiss rejects of {job}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          What is rejected of the file needs nobody's attention any more, whatever the reason. No row is loaded or
          removed. The history keeps it, and Undo lists it again.
        </Typography>
        <TextField
          fullWidth
          variant="standard"
          label="File, or a pattern such as samples-2026-*.csv"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <TextField
          autoFocus
          fullWidth
          variant="standard"
          label="Why"
          value={why}
          sx={{ mt: 1.5 }}
          onChange={(event) => setWhy(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && possible && perform()}
        />
        {dismiss.isError && <Trouble error={dismiss.error} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={!possible} onClick={perform}>
          Dismiss
        </Button>
      </DialogActions>
    </Dialog>
  )
}
