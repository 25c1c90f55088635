import { Box, Button, Link as Anchor, Stack, Typography } from '@mui/material'
import { Link } from 'react-router'
import type { Fix } from '../api/client'
import { useApplyFix, useFixes } from '../api/hooks'
import { counted, grouped } from '../ui/format'
import { Trouble } from '../ui/State'

/** Changes to the definitions by which rejected rows would fit, where there are obvious ones; each can be written into its file. */
export function Fixes({ run, code, column, job }: { run: number; code: string; column: string; job: string }) {
  const fixes = useFixes(run, code, column)
  if (!fixes.data) return null
  const { fixes: proposals, passing, level } = fixes.data
  if (proposals.length === 0 && passing === 0) return null
  return (
    <Stack sx={{ gap: 1 }} aria-label="Changes that would help" role="group">
      {passing > 0 && (
        <Typography variant="body2">
          {counted(passing, level)} {passing === 1 ? 'fits' : 'fit'} by now;{' '}
          <Anchor component={Link} to={`/runs/${run}`}>
            retry from run {run} of {job} →
          </Anchor>
        </Typography>
      )}
      {proposals.map((fix) => (
        <Proposal key={fix.says} fix={fix} run={run} job={job} />
      ))}
    </Stack>
  )
}

function Proposal({ fix, run, job }: { fix: Fix; run: number; job: string }) {
  const apply = useApplyFix()
  return (
    <Box sx={{ border: 1, borderColor: 'divider', px: 1.5, py: 1 }} data-mend>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
        <Typography variant="body2" sx={{ flex: 1 }}>
          <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
            {fix.file}
          </Box>{' '}
          {fix.says}:{' '}
          <strong>
            {grouped(fix.count)} of {counted(fix.of, fix.level)}
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
          <Button disabled={apply.isPending} onClick={() => apply.mutate(fix)}>
            Write it into {fix.file}
          </Button>
        )}
      </Stack>
      <Box
        component="pre"
        sx={{ m: 0, mt: 0.5, overflow: 'auto', fontFamily: (theme) => theme.mono, fontSize: '0.78rem' }}
      >
        {fix.before && (
          <Box component="span" sx={{ color: 'error.main' }}>
            {fix.before.split('\n').map((line) => `− ${line}\n`)}
          </Box>
        )}
        <Box component="span" sx={{ color: 'primary.main' }}>
          {fix.after.split('\n').map((line) => `+ ${line}\n`)}
        </Box>
      </Box>
      {apply.isError && <Trouble error={apply.error} />}
    </Box>
  )
}
