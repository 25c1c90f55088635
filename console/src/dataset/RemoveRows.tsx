import { Typography } from '@mui/material'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useRemovalEffect, useRemoveRows } from '../api/hooks'
import { Confirm } from '../ui/Confirm'
import { EffectText } from '../ui/EffectText'

/** Takes all rows of one job out of a dataset. */
export function RemoveRows({ dataset, job }: { dataset: string; job: string }) {
  const [open, setOpen] = useState(false)
  const removal = useRemoveRows(dataset, job)
  const effect = useRemovalEffect(dataset, job, open)
  const navigate = useNavigate()
  const possible = effect.data?.obstacles.length === 0
  return (
    <Confirm
      button="Remove"
      title={`Remove the rows of ${job}?`}
      busy={removal.isPending}
      error={removal.error}
      forbidden={!possible}
      onOpen={setOpen}
      onDo={() => removal.mutate(undefined, { onSuccess: (removed) => void navigate(`/runs/${removed.entry}`) })}
    >
      <EffectText effect={effect.data} error={effect.error} dataset={dataset} />
      {possible && (
        <Typography color="textSecondary" sx={{ mt: 1 }}>
          Files that are there and unchanged are not loaded again because of it. It stands in the history, and can be
          undone for as long as the dataset keeps the rows.
        </Typography>
      )}
    </Confirm>
  )
}
