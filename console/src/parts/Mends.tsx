import { Box, Button, Link as Anchor, Stack, Typography } from '@mui/material'
import { Link } from 'react-router'
import type { Mend } from '../api/client'
import { useApplyMend, useMends } from '../api/hooks'
import { counted, grouped } from './format'
import { Trouble } from './State'

/** Changes to the definitions by which rejected rows would fit, where there are obvious ones; each can be written into its file. */
export function Mends({ run, code, column, job }: { run: number; code: string; column: string; job: string }) {
  const mends = useMends(run, code, column)
  if (!mends.data || mends.data.length === 0) return null
  return (
    <Stack sx={{ gap: 1 }} aria-label="Changes that would help" role="group">
      {mends.data.map((mend) => (
        <Proposal key={mend.says} mend={mend} run={run} job={job} />
      ))}
    </Stack>
  )
}

function Proposal({ mend, run, job }: { mend: Mend; run: number; job: string }) {
  const apply = useApplyMend()
  return (
    <Box sx={{ border: 1, borderColor: 'divider', px: 1.5, py: 1 }} data-mend>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="body2" sx={{ flex: 1 }}>
          <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
            {mend.file}
          </Box>{' '}
          {mend.says}:{' '}
          <strong>
            {grouped(mend.rows)} of {counted(mend.of, 'row')}
          </strong>{' '}
          would fit
        </Typography>
        {apply.isSuccess ? (
          <Typography variant="body2">
            Written.{' '}
            <Anchor component={Link} to={`/runs/${run}`}>
              Retry from run {run} of {job} →
            </Anchor>
          </Typography>
        ) : (
          <Button disabled={apply.isPending} onClick={() => apply.mutate(mend)}>
            Write it into {mend.file}
          </Button>
        )}
      </Stack>
      <Box
        component="pre"
        sx={{ m: 0, mt: 0.5, overflow: 'auto', fontFamily: (theme) => theme.mono, fontSize: '0.78rem' }}
      >
        {mend.before && (
          <Box component="span" sx={{ color: 'error.main' }}>
            {mend.before.split('\n').map((line) => `− ${line}\n`)}
          </Box>
        )}
        <Box component="span" sx={{ color: 'primary.main' }}>
          {mend.after.split('\n').map((line) => `+ ${line}\n`)}
        </Box>
      </Box>
      {apply.isError && <Trouble error={apply.error} />}
    </Box>
  )
}
