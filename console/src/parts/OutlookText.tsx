import { Box, Typography } from '@mui/material'
import type { Outlook } from '../api/client'
import { counted } from './format'
import { Trouble } from './State'

/** What an act would do to a dataset, with its numbers; or why it cannot be done. */
export function OutlookText({ outlook, error, dataset }: { outlook?: Outlook; error: unknown; dataset: string }) {
  if (error) return <Trouble error={error} />
  if (!outlook) return <Typography color="textSecondary">Finding out what it would change …</Typography>
  if (outlook.obstacles.length > 0) {
    return <Box sx={{ color: 'error.main' }}>{outlook.obstacles.map((why) => <Typography key={why}>It cannot be done: {why}.</Typography>)}</Box>
  }
  return (
    <>
      <Typography>
        {counted(outlook.out, 'row')} {outlook.out === 1 ? 'goes' : 'go'} out of {dataset}, {counted(outlook.back, 'row')} {outlook.back === 1 ? 'comes' : 'come'} back. {counted(outlook.files, 'file')} {outlook.files === 1 ? 'is' : 'are'} concerned.
      </Typography>
      {outlook.notes.slice(1).map((note) => <Typography key={note} color="textSecondary" sx={{ mt: 1 }}>{note}.</Typography>)}
    </>
  )
}
