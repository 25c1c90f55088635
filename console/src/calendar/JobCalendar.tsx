import { Link as Anchor, Typography } from '@mui/material'
import { Link } from 'react-router'
import { useJobCalendar } from '../api/hooks'
import { Section, Trouble, Wait } from '../ui/State'
import { CalendarGrids } from './CalendarPage'

/** Whether what is due for a job has arrived; nothing where its file does not say what is due. */
export function JobCalendar({ job }: { job: string }) {
  const calendar = useJobCalendar(job)
  if (calendar.isPending) return <Wait what="Reading what arrived" />
  if (calendar.isError) return <Trouble error={calendar.error} />
  if (!calendar.data.declared) return null
  return (
    <Section
      title="Did everything arrive?"
      right={
        <Anchor component={Link} to="/calendar">
          all jobs →
        </Anchor>
      }
    >
      <CalendarGrids calendars={[calendar.data]} />
      {calendar.data.astrayFiles > 0 && (
        <Typography color="error">
          {calendar.data.astrayFiles} of its files belong to no period:{' '}
          <Anchor component={Link} to="/calendar">
            which
          </Anchor>
        </Typography>
      )}
    </Section>
  )
}
