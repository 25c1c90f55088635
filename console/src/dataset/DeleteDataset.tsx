import { Checkbox, FormControlLabel, Link as Anchor, Typography } from '@mui/material'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import type { DatasetDetail } from '../api/client'
import { useDeleteDataset, useJobs } from '../api/hooks'
import { Confirm } from '../ui/Confirm'
import { counted } from '../ui/format'

/** Deletes a dataset's file, once no job loads into it, and its rows before it. */
export function DeleteDataset({ dataset }: { dataset: DatasetDetail }) {
  const [rows, setRows] = useState(false)
  const jobs = useJobs()
  const removal = useDeleteDataset(dataset.name)
  const navigate = useNavigate()
  const loading = (jobs.data ?? []).filter((job) => job.into === dataset.name)
  const inTheWay = !jobs.data || loading.length > 0
  return (
    <Confirm
      button="Delete"
      title={`Delete ${dataset.name}?`}
      busy={removal.isPending}
      error={removal.error}
      forbidden={inTheWay || (dataset.rows > 0 && !rows)}
      onDo={() =>
        removal.mutate(rows ? dataset.jobs.map((share) => share.job) : [], {
          onSuccess: () => void navigate('/datasets'),
        })
      }
    >
      {loading.length > 0 ? (
        <Typography>
          {loading.length === 1 ? '1 job loads' : `${loading.length} jobs load`} into it:{' '}
          {loading.map((job, i) => (
            <span key={job.name}>
              {i > 0 && ', '}
              <Anchor component={Link} to={`/jobs/${job.name}`}>
                {job.name}
              </Anchor>
            </span>
          ))}
          . Delete {loading.length === 1 ? 'it' : 'them'} first, or let {loading.length === 1 ? 'it' : 'them'} load into
          another dataset.
        </Typography>
      ) : (
        <Typography>
          datasets/{dataset.name}.yaml is deleted. Its history stays.
          {dataset.rows > 0 &&
            ` It holds ${counted(dataset.rows, 'row')} in ${counted(dataset.parts, 'part')}, which have to go first. Once the file is gone, they cannot be put back.`}
        </Typography>
      )}
      {loading.length === 0 && dataset.rows > 0 && (
        <FormControlLabel
          control={<Checkbox size="small" checked={rows} onChange={(event) => setRows(event.target.checked)} />}
          label={`take out ${counted(dataset.rows, 'row')}`}
        />
      )}
    </Confirm>
  )
}
