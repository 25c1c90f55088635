import { Typography } from '@mui/material'
import { useCalendars } from '../api/hooks'
import { Trouble, Wait } from '../ui/State'
import { CalendarGrids, Findings } from './CalendarPage'

/** Whether what is due for a dataset has arrived, over all jobs that load into it. */
export function DatasetCalendar({ dataset }: { dataset: string }) {
  const calendars = useCalendars(dataset)
  if (calendars.isPending) return <Wait what="Reading what arrived" />
  if (calendars.isError) return <Trouble error={calendars.error} />
  if (calendars.data.length === 0)
    return <Typography>No job that loads into {dataset} says which files are due.</Typography>
  return (
    <>
      <CalendarGrids calendars={calendars.data} />
      <Findings calendars={calendars.data} />
    </>
  )
}
