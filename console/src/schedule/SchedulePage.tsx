import { Box, Link as Anchor, Stack, Typography } from '@mui/material'
import { Link, useNavigate } from 'react-router'
import type { JobView, RunView, Schedule } from '../api/client'
import { useJobs, useSchedules } from '../api/hooks'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { moment } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'
import { PauseButton, withoutTimes } from './JobSchedule'

/** Which jobs run by themselves, the next one first. */
export function SchedulePage() {
  const schedules = useSchedules()
  const jobs = useJobs()
  const navigate = useNavigate()
  if (schedules.isPending) return <Wait what="Reading when jobs run" />
  if (schedules.isError) return <Trouble error={schedules.error} />
  const all = schedules.data
  const own = all.filter((one) => one.declared || one.pause || one.troubles.length > 0).sort(byNext)
  const others = all.filter((one) => !own.includes(one))
  return (
    <Section main title="Jobs that run by themselves">
      {own.length > 0 && (
        <DataTable
          label="Schedule"
          columns={columns(jobs.data ?? [])}
          count={own.length}
          row={(index) => own[index]}
          onOpen={(one) => void navigate(`/jobs/${one.job}`)}
          empty=""
          maxHeight="70vh"
        />
      )}
      <Typography color="textSecondary" sx={{ mt: 1.5 }}>
        {own.length === 0 && 'No job runs by itself. In a job’s file, when: {cron: "0 6 * * 1-5"} makes it do so. '}
        {others.length > 0 && (
          <>
            Only when somebody asks:{' '}
            {others.map((one, index) => (
              <Box component="span" key={one.job}>
                {index > 0 && ', '}
                <Anchor component={Link} to={`/jobs/${one.job}`}>
                  {one.job}
                </Anchor>
              </Box>
            ))}
          </>
        )}
      </Typography>
    </Section>
  )
}

function byNext(one: Schedule, other: Schedule) {
  const key = (schedule: Schedule) => schedule.next[0] ?? (schedule.pause ? 'b' : 'a') // behind all times
  return key(one).localeCompare(key(other)) || one.job.localeCompare(other.job)
}

const columns = (jobs: JobView[]): TableColumn<Schedule>[] => [
  {
    key: 'job',
    title: 'Job',
    width: 16,
    render: (one) => (
      <Anchor
        component={Link}
        to={`/jobs/${one.job}`}
        sx={{ fontWeight: 600 }}
        onClick={(event) => event.stopPropagation()}
      >
        {one.job}
      </Anchor>
    ),
  },
  {
    key: 'next',
    title: 'Next',
    width: 22,
    render: (one) => <Next schedule={one} />,
  },
  {
    key: 'words',
    title: 'Runs',
    width: 62,
    render: (one) => (
      <Box
        component="span"
        title={[...one.troubles, ...one.words].join('\n')}
        sx={{ color: one.troubles.length > 0 ? 'error.main' : undefined }}
      >
        {one.troubles.length > 0 ? one.troubles.join(' ') : one.starts.join('; ')}
      </Box>
    ),
  },
  {
    key: 'last',
    title: 'Last run',
    width: 30,
    render: (one) => <Last run={jobs.find((job) => job.name === one.job)?.lastRun} />,
  },
  {
    key: 'pause',
    title: 'Pause',
    width: 10,
    render: (one) => (
      <Stack
        direction="row"
        onClick={(event) => event.stopPropagation()}
        onKeyDown={(event) => event.stopPropagation()}
      >
        <PauseButton schedule={one} />
      </Stack>
    ),
  },
]

function Last({ run }: { run: RunView | undefined }) {
  if (!run) return <>never</>
  return (
    <Anchor
      component={Link}
      to={`/runs/${run.run}`}
      color={run.state === 'failed' || run.state === 'stopped' ? 'error' : undefined}
      onClick={(event) => event.stopPropagation()}
    >
      {moment(run.startedAt ?? run.queuedAt)} {run.state}
    </Anchor>
  )
}

/** When a job runs next, in a few words. */
export function Next({ schedule }: { schedule: Schedule }) {
  if (schedule.pause)
    return (
      <Box component="span" title={schedule.pause.because} sx={{ fontWeight: 600 }}>
        paused{schedule.pause.until ? ` until ${moment(schedule.pause.until)}` : ''}
      </Box>
    )
  if (schedule.next[0]) return <>{moment(schedule.next[0])}</>
  return <Box component="span">{schedule.declared ? withoutTimes(schedule) : ''}</Box>
}
