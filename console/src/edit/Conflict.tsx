import { Alert, Button, Stack, Typography } from '@mui/material'
import { ProblemError, type EditView } from '../api/client'
import { useEdit } from '../api/hooks'
import { Difference } from '../ui/Difference'
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
      <Difference before={saved.saved} now={mine} />
      <Stack direction="row" sx={{ gap: 1, mt: 1 }}>
        <Button onClick={() => onBase(saved, saved.saved)}>Go on with theirs</Button>
        <Button onClick={() => onBase(saved, mine)}>Keep mine and overwrite theirs</Button>
      </Stack>
    </Alert>
  )
}
