import { Link as Anchor, Stack, Typography } from '@mui/material'
import { Link, useParams } from 'react-router'
import { StageView } from './StageView'

const NO_VALUES = {}

/** The rows of a job's files at each stage, by the rules as they are saved. */
export function RowsPage() {
  const job = useParams().job!
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">Rows of {job}</Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          As they are read, cleaned, or would be stored by the rules as they are now. Nothing is loaded.
        </Typography>
        <Anchor component={Link} to={`/jobs/${job}`}>
          to the job
        </Anchor>
      </Stack>
      <StageView job={job} set={NO_VALUES} maxHeight="calc(100vh - 260px)" />
    </>
  )
}
