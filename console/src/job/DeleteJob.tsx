import { Checkbox, FormControlLabel, Typography } from '@mui/material'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { useDeleteJob, useRemovalEffect } from '../api/hooks'
import { Confirm } from '../ui/Confirm'
import { EffectText } from '../ui/EffectText'
import { counted } from '../ui/format'

/** Deletes a job's file; its rows stay in the dataset, or are taken out first. */
export function DeleteJob({ job, into }: { job: string; into: string }) {
  const [open, setOpen] = useState(false)
  const [rows, setRows] = useState(false)
  const effect = useRemovalEffect(into, job, open && into !== '')
  const removal = useDeleteJob(job, into)
  const navigate = useNavigate()
  const held = effect.data?.out ?? 0
  return (
    <Confirm
      button="Delete"
      title={`Delete ${job}?`}
      busy={removal.isPending}
      error={removal.error}
      onOpen={setOpen}
      onDo={() => removal.mutate(rows, { onSuccess: () => void navigate('/') })}
    >
      <Typography>
        jobs/{job}.yaml is deleted. Its runs stay in the history
        {held > 0 && !rows
          ? `, and the ${counted(held, 'row')} of ${counted(effect.data?.files ?? 0, 'file')} that it loaded stay in ${into}`
          : ''}
        .
      </Typography>
      {held > 0 && (
        <FormControlLabel
          control={<Checkbox size="small" checked={rows} onChange={(event) => setRows(event.target.checked)} />}
          label={`take its rows out of ${into} as well`}
        />
      )}
      {rows && <EffectText effect={effect.data} error={effect.error} dataset={into} />}
    </Confirm>
  )
}
