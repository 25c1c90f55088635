import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Stack,
  TextField,
  Typography,
} from '@mui/material'
import { useState } from 'react'
import type { Schedule } from '../api/client'
import { usePause, useResume, useSchedule } from '../api/hooks'
import { moment } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'

/** When a job runs by itself: its next times, and its pause. */
export function JobSchedule({ job }: { job: string }) {
  const schedule = useSchedule(job)
  if (schedule.isPending) return <Wait what="Reading when it runs" />
  if (schedule.isError) return <Trouble error={schedule.error} />
  const found = schedule.data
  if (!found.declared && !found.pause && found.troubles.length === 0) return null
  return (
    <Section title="Runs by itself" right={<PauseButton schedule={found} />}>
      <Paused schedule={found} />
      {found.troubles.map((what) => (
        <Typography key={what} color="error">
          {what}
        </Typography>
      ))}
      <NextTimes schedule={found} />
    </Section>
  )
}

/** Since when and why nothing starts. */
export function Paused({ schedule }: { schedule: Schedule }) {
  const pause = schedule.pause
  if (!pause) return null
  return (
    <Typography sx={{ fontWeight: 600 }}>
      Paused since {moment(pause.since)}
      {pause.until ? `, until ${moment(pause.until)}` : ''}
      {pause.because ? `: ${pause.because}` : ''}
    </Typography>
  )
}

/** The next times by the clock, by the clock of the schedule's own zone. */
export function NextTimes({ schedule }: { schedule: Schedule }) {
  if (schedule.next.length === 0)
    return schedule.declared && !schedule.pause ? (
      <Typography color="textSecondary">{withoutTimes(schedule)}</Typography>
    ) : null
  return (
    <>
      <Box
        component="ol"
        aria-label="Next times"
        sx={{
          m: 0,
          p: 0,
          listStyle: 'none',
          columns: '17rem',
          fontFamily: (theme) => theme.mono,
          fontSize: '0.8rem',
          lineHeight: 1.7,
        }}
      >
        {schedule.next.map((time) => (
          <li key={time}>{inZone(time, schedule.zone ?? 'UTC')}</li>
        ))}
      </Box>
      <Typography variant="body2" color="textSecondary">
        by the clock of {schedule.zone}
      </Typography>
    </>
  )
}

/** What starts a job that has no times. */
export function withoutTimes(schedule: Schedule) {
  if (schedule.arrival) return 'when files arrive'
  if (schedule.after.length > 0) return `after ${schedule.after.join(' or ')}`
  return 'No time comes any more.'
}

/** A moment by the clock of a time zone, with the day of the week. */
export function inZone(time: string, zone: string) {
  const pieces = Object.fromEntries(
    new Intl.DateTimeFormat('en-GB', {
      timeZone: zone,
      weekday: 'short',
      year: 'numeric',
      month: '2-digit',
      day: '2-digit',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
      hourCycle: 'h23',
    })
      .formatToParts(new Date(time))
      .map((piece) => [piece.type, piece.value]),
  )
  const seconds = pieces.second === '00' ? '' : `:${pieces.second}`
  return `${pieces.weekday} ${pieces.year}-${pieces.month}-${pieces.day} ${pieces.hour}:${pieces.minute}${seconds}`
}

/** Pauses a job, or ends its pause. */
export function PauseButton({ schedule }: { schedule: Schedule }) {
  const [asking, setAsking] = useState(false)
  const resume = useResume(schedule.job)
  if (schedule.pause)
    return (
      <Stack direction="row" sx={{ gap: 1, alignItems: 'baseline' }}>
        {resume.isError && <Trouble error={resume.error} />}
        <Button onClick={() => resume.mutate()} disabled={resume.isPending} aria-label={`Resume ${schedule.job}`}>
          Resume
        </Button>
      </Stack>
    )
  return (
    <>
      <Button onClick={() => setAsking(true)} aria-label={`Pause ${schedule.job}`}>
        Pause …
      </Button>
      {asking && <PauseDialog job={schedule.job} onClose={() => setAsking(false)} />}
    </>
  )
}

function PauseDialog({ job, onClose }: { job: string; onClose: () => void }) {
  const [until, setUntil] = useState('')
  const [because, setBecause] = useState('')
  const pause = usePause(job)
  const end = until === '' ? undefined : new Date(until)
  return (
    <Dialog open onClose={onClose} aria-labelledby="pause-title" fullWidth maxWidth="xs">
      <DialogTitle id="pause-title">Pause {job}</DialogTitle>
      <DialogContent>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
          It does not run by itself until the pause ends. Anybody can still run it.
        </Typography>
        <Stack sx={{ gap: 1.5 }}>
          <TextField
            variant="standard"
            type="datetime-local"
            label="Until (empty: until somebody ends it)"
            slotProps={{ inputLabel: { shrink: true } }}
            value={until}
            onChange={(event) => setUntil(event.target.value)}
          />
          <TextField
            autoFocus
            variant="standard"
            label="Why, for others"
            value={because}
            onChange={(event) => setBecause(event.target.value)}
          />
        </Stack>
        {pause.isError ? <Trouble error={pause.error} /> : null}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button
          variant="contained"
          disabled={pause.isPending}
          onClick={() =>
            pause.mutate({ ...(end ? { until: end.toISOString() } : {}), because }, { onSuccess: onClose })
          }
        >
          Pause
        </Button>
      </DialogActions>
    </Dialog>
  )
}
