import { Box, Typography } from '@mui/material'
import type { Effect } from '../api/client'
import { counted } from './format'
import { Trouble } from './State'

/** What an act would do to a dataset, with its numbers; or why it cannot be done. */
export function EffectText({ effect, error, dataset }: { effect?: Effect; error: unknown; dataset: string }) {
  if (error) return <Trouble error={error} />
  if (!effect) return <Typography color="textSecondary">Finding out what it would change …</Typography>
  if (effect.obstacles.length > 0) {
    return (
      <Box sx={{ color: 'error.main' }}>
        {effect.obstacles.map((why) => (
          <Typography key={why}>It cannot be done: {why}.</Typography>
        ))}
      </Box>
    )
  }
  return (
    <>
      <Typography>
        {counted(effect.out, 'row')} {effect.out === 1 ? 'goes' : 'go'} out of {dataset}, {counted(effect.back, 'row')}{' '}
        {effect.back === 1 ? 'comes' : 'come'} back. {counted(effect.files, 'file')} {effect.files === 1 ? 'is' : 'are'}{' '}
        concerned.
      </Typography>
      {effect.notes.map((note) => (
        <Typography key={note} color="textSecondary" sx={{ mt: 1 }}>
          {note}.
        </Typography>
      ))}
    </>
  )
}
