import { Box } from '@mui/material'
import { useNavigate } from 'react-router'
import type { RunView } from '../api/client'
import { useRuns } from '../api/hooks'
import { BalanceBar, fileSegments } from '../ui/BalanceBar'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { grouped, moment } from '../ui/format'
import { Trouble, Wait } from '../ui/State'

/** Why a run began by itself. */
function began({ start }: RunView) {
  if (!start) return ''
  if (start.by === 'time') return 'by the clock'
  if (start.by === 'fault') return `again, after run ${start.run}`
  return start.by === 'after' ? `after run ${start.run}` : 'files arrived'
}

/** What kind of entry it is, where it is not a plain run, and whether it was taken back. */
export const runKind = (run: RunView) =>
  run.undoneBy
    ? `undone by ${run.undoneBy}`
    : run.kind === 'run'
      ? began(run)
      : `${run.kind}${run.ofRun ? ` of ${run.ofRun}` : ''}`

/** The latest runs, of one job or of all. */
export function RunTable({ job, maxHeight }: { job?: string; maxHeight: string }) {
  const runs = useRuns(job)
  const navigate = useNavigate()
  if (runs.isPending) return <Wait what="Reading the history" />
  if (runs.isError) return <Trouble error={runs.error} />
  const columns: TableColumn<RunView>[] = [
    { key: 'run', title: 'Run', width: 6, right: true, mono: true, render: (run) => run.run },
    ...(job ? [] : [{ key: 'job', title: 'Job', width: 16, render: (run: RunView) => run.job }]),
    { key: 'started', title: 'Started', width: 20, mono: true, render: (run) => moment(run.startedAt ?? run.queuedAt) },
    {
      key: 'state',
      title: 'State',
      width: 10,
      render: (run) => (
        <Box
          component="span"
          sx={{
            color: run.state === 'failed' || run.state === 'stopped' ? 'error.main' : undefined,
            textDecoration: run.undoneBy ? 'line-through' : undefined,
          }}
        >
          {run.state}
        </Box>
      ),
    },
    { key: 'kind', title: 'Kind', width: 11, render: (run) => runKind(run) },
    ...(runs.data.some((run) => run.label)
      ? [{ key: 'label', title: 'Label', width: 24, render: (run: RunView) => run.label }]
      : []),
    {
      key: 'rows',
      title: 'Rows loaded',
      width: 11,
      right: true,
      mono: true,
      render: (run) => grouped(run.rows.loaded),
    },
    {
      key: 'rejected',
      title: 'rejected',
      width: 9,
      right: true,
      mono: true,
      render: (run) => grouped(run.rows.rejected),
    },
    {
      key: 'seconds',
      title: 'Seconds',
      width: 8,
      right: true,
      mono: true,
      render: (run) => run.seconds?.toFixed(1) ?? '',
    },
    {
      key: 'files',
      title: 'Files',
      width: job ? 10 : 18,
      render: (run) => (
        <Box sx={{ height: 28, display: 'grid', alignItems: 'center' }}>
          <BalanceBar small unit="files" segments={fileSegments(run)} />
        </Box>
      ),
    },
  ]
  return (
    <DataTable
      label="Runs"
      columns={columns}
      count={runs.data.length}
      row={(index) => runs.data[index]}
      onOpen={(run) => void navigate(`/runs/${run.run}`)}
      empty="It has not run yet. Run loads what its folders hold."
      maxHeight={maxHeight}
    />
  )
}
