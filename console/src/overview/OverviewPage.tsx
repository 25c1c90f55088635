import { Box, Button, Link as Anchor, Stack, Typography } from '@mui/material'
import { Link, useNavigate } from 'react-router'
import type { JobView, RunView } from '../api/client'
import { useJobs, useOpenRejects } from '../api/hooks'
import { useAddress } from '../ui/address'
import { BalanceBar, fileSegments, OUTCOMES, outcomeName, Sum } from '../ui/BalanceBar'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped, moment } from '../ui/format'
import { ArrivalsLine } from '../calendar/ArrivalsLine'
import { ReasonList } from '../rejects/ReasonList'
import { Section, Trouble, Wait } from '../ui/State'

/** Did everything arrive, what was rejected, and why. */
export function OverviewPage() {
  const jobs = useJobs()
  if (jobs.isPending) return <Wait what="Reading the jobs" />
  if (jobs.isError) return <Trouble error={jobs.error} />
  if (jobs.data.length === 0) return <NoJobs />
  return (
    <>
      <Together runs={jobs.data.flatMap((job) => (job.lastRun ? [job.lastRun] : []))} jobs={jobs.data.length} />
      <Section
        title="Jobs"
        right={
          <Button component={Link} to="/new-job">
            New job
          </Button>
        }
      >
        <JobList jobs={jobs.data} />
      </Section>
      <Refused />
    </>
  )
}

function NoJobs() {
  return (
    <Stack sx={{ gap: 1, maxWidth: 640 }}>
      <Typography variant="h1">No jobs yet</Typography>
      <Typography>
        A job turns files of a folder into rows of a dataset. Hapster can propose one from the files themselves.
      </Typography>
      <Stack direction="row">
        <Button variant="contained" component={Link} to="/new-job">
          New job
        </Button>
      </Stack>
    </Stack>
  )
}

/** The last run of every job, together. */
function Together({ runs, jobs }: { runs: RunView[]; jobs: number }) {
  const files = OUTCOMES.map((outcome) => ({
    outcome,
    count: runs.reduce((sum, run) => sum + run.files[outcome], 0),
    to: outcome === 'rejected' ? '/rejects?level=file' : '/runs',
  }))
  const found = runs.reduce((sum, run) => sum + run.files.found, 0)
  const nouns = new Set(runs.map((run) => run.files.noun))
  const noun = nouns.size > 1 ? 'source' : (nouns.values().next().value ?? 'file')
  const latest = runs
    .map((run) => run.startedAt ?? run.queuedAt)
    .sort()
    .at(-1)
  const holds = runs.every((run) => run.state !== 'finished' || run.holds)
  const unwell = runs.filter((run) => run.state === 'failed' || run.state === 'stopped' || run.state === 'cancelled')
  return (
    <Section
      main
      title={latest ? `Last runs, up to ${moment(latest)}` : 'Nothing has run yet'}
      right={
        <Typography color="textSecondary">
          {counted(jobs, 'job')} · {counted(found, noun)}
        </Typography>
      }
    >
      <Stack sx={{ gap: 0.75 }}>
        <BalanceBar segments={files} unit="files" height={36} />
        {runs.length > 0 && (
          <Sum
            left={counted(found, noun) + ' found'}
            right={
              files
                .filter((one) => one.count > 0)
                .map((one) => `${grouped(one.count)} ${outcomeName(one.outcome)}`)
                .join(' + ') || '0'
            }
            holds={holds}
          />
        )}
        <ArrivalsLine />
        {unwell.map((run) => (
          <Typography key={run.run} color="error">
            <Anchor component={Link} to={`/runs/${run.run}`} color="inherit">
              Run {run.run} of {run.job} {run.state}
            </Anchor>
            {run.failure ? `: ${run.failure}` : ''}
          </Typography>
        ))}
      </Stack>
    </Section>
  )
}

function JobList({ jobs }: { jobs: JobView[] }) {
  const navigate = useNavigate()
  const columns: TableColumn<JobView>[] = [
    {
      key: 'name',
      title: 'Job',
      width: 18,
      render: (job) => (
        <Anchor
          component={Link}
          to={`/jobs/${job.name}`}
          sx={{ fontWeight: 600 }}
          onClick={(event) => event.stopPropagation()}
        >
          {job.name}
        </Anchor>
      ),
    },
    { key: 'into', title: 'into', width: 15, render: (job) => job.into },
    { key: 'last', title: 'Last run', width: 30, render: (job) => <LastRun job={job} /> },
    {
      key: 'files',
      title: 'Found',
      width: 7,
      right: true,
      mono: true,
      render: (job) => (job.lastRun ? grouped(job.lastRun.files.found) : ''),
    },
    {
      key: 'rows',
      title: 'Rows loaded',
      width: 11,
      right: true,
      mono: true,
      render: (job) => (job.lastRun ? grouped(job.lastRun.rows.loaded) : ''),
    },
    { key: 'open', title: 'Currently rejected', width: 18, right: true, render: (job) => openText(job) },
    {
      key: 'balance',
      title: 'Balance',
      width: 26,
      render: (job) =>
        job.lastRun ? (
          <Box sx={{ height: 28, display: 'grid', alignItems: 'center' }}>
            <BalanceBar small unit="files" segments={fileSegments(job.lastRun)} />
          </Box>
        ) : (
          ''
        ),
    },
  ]
  return (
    <DataTable
      label="Jobs"
      columns={columns}
      count={jobs.length}
      row={(index) => jobs[index]}
      onOpen={(job) => void navigate(`/jobs/${job.name}`)}
      empty="No jobs"
      maxHeight="50vh"
    />
  )
}

function openText(job: JobView) {
  const parts = [
    job.openRows > 0 ? counted(job.openRows, 'row') : '',
    job.openFiles > 0 ? counted(job.openFiles, 'file') : '',
  ].filter(Boolean)
  if (parts.length === 0)
    return (
      <Box component="span" sx={{ color: 'text.secondary' }}>
        nothing
      </Box>
    )
  return (
    <Anchor component={Link} to={`/rejects?job=${job.name}`} color="error" onClick={(event) => event.stopPropagation()}>
      {parts.join(', ')}
    </Anchor>
  )
}

function LastRun({ job }: { job: JobView }) {
  if (job.problems.length > 0)
    return (
      <Box component="span" sx={{ color: 'error.main' }}>
        {counted(job.problems.length, 'mistake')} in its definition
      </Box>
    )
  if (job.running)
    return (
      <Anchor component={Link} to={`/runs/${job.running}`} onClick={(event) => event.stopPropagation()}>
        running
      </Anchor>
    )
  if (!job.lastRun) return <>never</>
  return (
    <>
      {moment(job.lastRun.startedAt ?? job.lastRun.queuedAt)}{' '}
      {job.lastRun.state === 'finished' && job.openFiles + job.openRows > 0 ? 'with rejects' : job.lastRun.state}
    </>
  )
}

function Refused() {
  const rejects = useOpenRejects()
  const address = useAddress()
  if (rejects.isPending) return <Wait what="Reading what was rejected" />
  if (rejects.isError) return <Trouble error={rejects.error} />
  const first = rejects.data.slice(0, 8)
  return (
    <Section
      title="Currently rejected"
      right={
        <Anchor component={Link} to="/rejects">
          all {grouped(rejects.data.length)} reasons →
        </Anchor>
      }
    >
      {first.length === 0 ? (
        <Typography color="textSecondary">Nothing is rejected.</Typography>
      ) : (
        <ReasonList withJob reasons={first} open={address.get('open')} onOpen={(key) => address.set('open', key)} />
      )}
    </Section>
  )
}
