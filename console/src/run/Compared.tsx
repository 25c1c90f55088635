import { Link as Anchor, Typography } from '@mui/material'
import { Link } from 'react-router'
import type { RunView } from '../api/client'
import { useComparison } from '../api/hooks'
import { grouped } from '../ui/format'

const COUNTS: [string, (run: RunView) => number][] = [
  ['files', (run) => run.files.found],
  ['rows loaded', (run) => run.rows.loaded],
  ['rejected', (run) => run.rows.rejected],
  ['rows in the dataset', (run) => run.dataset.rows],
]

/** The run beside the one before it, in a line: what differs. */
export function Compared({ run }: { run: number }) {
  const comparison = useComparison(run).data
  if (!comparison?.before) return null
  const { run: now, before } = comparison
  const differences = COUNTS.flatMap(([name, of]) =>
    of(now) === of(before)
      ? []
      : [`${of(now) > of(before) ? '+' : '−'}${grouped(Math.abs(of(now) - of(before)))} ${name}`],
  )
  return (
    <Typography variant="body2" color="textSecondary">
      beside{' '}
      <Anchor component={Link} to={`/runs/${before.run}`}>
        run {before.run}
      </Anchor>
      : {differences.join(', ') || 'the same'}
    </Typography>
  )
}
