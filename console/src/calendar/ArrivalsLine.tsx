import { Link as Anchor, Typography } from '@mui/material'
import { Link } from 'react-router'
import { useCalendars } from '../api/hooks'
import { grouped } from '../ui/format'
import { FINDINGS } from './calendar'

/** Whether everything arrived, in a line that leads to the calendar; nothing where no job says what is due. */
export function ArrivalsLine() {
  const calendars = useCalendars().data
  if (!calendars || calendars.length === 0) return null
  const parts = FINDINGS.flatMap((state) => {
    const count = calendars.reduce((sum, calendar) => sum + (calendar.counts[state] ?? 0), 0)
    return count > 0 ? [`${grouped(count)} ${state}`] : []
  })
  const astray = calendars.reduce((sum, calendar) => sum + calendar.astrayFiles, 0)
  if (astray > 0) parts.push(`${grouped(astray)} of no period`)
  const unreadable = calendars.some((calendar) => calendar.trouble)
  const quiet = parts.length === 0 && !unreadable && !calendars.some((calendar) => calendar.findings)
  return (
    <Typography color={quiet ? 'textSecondary' : 'error'} sx={{ mt: 1 }}>
      <Anchor component={Link} to="/calendar" color="inherit">
        Arrivals
      </Anchor>
      : {quiet ? 'everything that is due is there' : parts.join(', ') || 'something needs a look'}
    </Typography>
  )
}
