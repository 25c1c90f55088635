import { Typography } from '@mui/material'
import { useNavigate } from 'react-router'
import { useRemoveRows } from '../api/hooks'
import { Confirm } from '../parts/Confirm'
import { counted } from '../parts/format'

/** Takes all rows of one job out of a dataset. */
export function RemoveRows({ dataset, job, rows }: { dataset: string; job: string; rows: number }) {
  const removal = useRemoveRows(dataset, job)
  const navigate = useNavigate()
  return (
    <Confirm button="Remove" title={`Remove the rows of ${job}?`} busy={removal.isPending} error={removal.error} onDo={() => removal.mutate(undefined, { onSuccess: (removed) => void navigate(`/runs/${removed.entry}`) })}>
      <Typography>
        {counted(rows, 'row')} that {job} brought {rows === 1 ? 'goes' : 'go'} out of {dataset}. Files that are there and unchanged are not loaded again because of it. It stands in the history and can be undone for as long as the dataset keeps replaced rows.
      </Typography>
    </Confirm>
  )
}
