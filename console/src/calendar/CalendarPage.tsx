import { Box, Link as Anchor, Stack, Typography } from '@mui/material'
import { useTheme, type Theme } from '@mui/material/styles'
import { Fragment } from 'react'
import { Link } from 'react-router'
import type { Calendar, CalendarCell } from '../api/client'
import { useCalendars } from '../api/hooks'
import { grouped, moment } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'
import { grids, heading, isFinding, STATES, summed, type Grid, type Line } from './calendar'

const MOST_FINDINGS = 100

/** Did everything arrive? */
export function CalendarPage() {
  const calendars = useCalendars()
  if (calendars.isPending) return <Wait what="Reading what arrived" />
  if (calendars.isError) return <Trouble error={calendars.error} />
  if (calendars.data.length === 0)
    return (
      <Section main title="Arrivals">
        <Typography>
          No job’s file says which files are due. With <code>due: {'{each: month, by: "day 5 08:00"}'}</code> in a job,
          this page shows what arrived, and what is late or missing.
        </Typography>
      </Section>
    )
  return (
    <Section main title="Did everything arrive?" right={<Legend />}>
      <CalendarGrids calendars={calendars.data} />
      <Findings calendars={calendars.data} />
    </Section>
  )
}

/** The calendars themselves, those with periods of one kind in one grid. */
export function CalendarGrids({ calendars }: { calendars: Calendar[] }) {
  return (
    <Stack sx={{ gap: 3 }}>
      {calendars
        .filter((calendar) => calendar.trouble)
        .map((calendar) => (
          <Typography key={calendar.job} color="error">
            {calendar.job}: {calendar.trouble}
          </Typography>
        ))}
      {grids(calendars).map((grid) => (
        <OneGrid key={grid.each} grid={grid} />
      ))}
    </Stack>
  )
}

function OneGrid({ grid }: { grid: Grid }) {
  return (
    <Box sx={{ overflowX: 'auto' }} tabIndex={0} role="region" aria-label={`Arrivals by ${grid.each}`}>
      <Box
        component="table"
        sx={{
          borderCollapse: 'collapse',
          fontSize: '0.84rem',
          '& th, & td': { p: '2px', fontWeight: 400, textAlign: 'left' },
          '& th[scope=col]': { fontFamily: (theme) => theme.mono, fontSize: '0.72rem', verticalAlign: 'bottom' },
        }}
      >
        <thead>
          <tr>
            <Box component="th" scope="col" sx={{ color: 'text.secondary', minWidth: '16ch' }}>
              by {grid.each}
            </Box>
            {grid.periods.map((period, index) => {
              const { first, last } = heading(grid.periods, index)
              return (
                <Box component="th" scope="col" key={period} title={period} sx={{ whiteSpace: 'nowrap' }}>
                  <Box sx={{ color: 'text.secondary', minHeight: '1.2em', width: 22, overflow: 'visible' }}>
                    {first}
                  </Box>
                  {last.replace('W', '')}
                </Box>
              )
            })}
            <td />
          </tr>
        </thead>
        <tbody>
          {grid.lines.map((line) => (
            <tr key={`${line.job} ${line.source}`}>
              <Box component="th" scope="row" sx={{ pr: '14px !important', whiteSpace: 'nowrap' }}>
                <Anchor component={Link} to={`/jobs/${line.job}`} sx={{ fontWeight: 600 }}>
                  {line.job}
                </Anchor>{' '}
                {line.source}
                {!line.due && (
                  <Box component="span" sx={{ color: 'error.main' }}>
                    {' '}
                    not due
                  </Box>
                )}
              </Box>
              {grid.periods.map((period) => (
                <td key={period}>
                  <Cell line={line} period={period} cell={line.cells.get(period)} />
                </td>
              ))}
              <Box component="td" sx={{ pl: '14px !important', whiteSpace: 'nowrap', color: 'error.main' }}>
                {summed([...line.cells.values()])}
              </Box>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <Box component="th" scope="row" sx={{ color: 'text.secondary' }}>
              to be looked at
            </Box>
            {grid.periods.map((period) => {
              const count = grid.lines.filter((line) => isFinding(line, line.cells.get(period))).length
              return (
                <Box component="td" key={period} sx={{ textAlign: 'center !important', color: 'error.main' }}>
                  {count > 0 ? count : ''}
                </Box>
              )
            })}
            <td />
          </tr>
        </tfoot>
      </Box>
    </Box>
  )
}

/** How a state looks: by the patterns of outcomes, and a sign where nothing is there that could have one. */
function look(theme: Theme, state: string) {
  const of = theme.outcome
  switch (state) {
    case 'arrived':
      return { ...of.loaded!, sign: '' }
    case 'late':
      return { ...of.unchanged!, sign: 'late' }
    case 'unusual':
      return { ...of.replaced!, sign: '!' }
    case 'rejected':
      return { ...of.rejected!, sign: '' }
    case 'missing':
      return { background: 'transparent', border: theme.palette.error.main, text: theme.palette.error.main, sign: '?' }
    default:
      return { background: 'transparent', border: theme.palette.divider, text: theme.palette.text.secondary, sign: '' }
  }
}

function Square({ state }: { state: string }) {
  const theme = useTheme()
  const { background, border, text, sign } = look(theme, state)
  return (
    <Box
      component="span"
      aria-hidden
      data-state={state}
      sx={{
        display: 'inline-block',
        width: 22,
        height: 18,
        background,
        border: `${state === 'missing' ? 2 : 1}px ${state === 'awaited' ? 'dashed' : 'solid'} ${border}`,
        borderRadius: '2px',
        color: text,
        fontSize: sign.length > 1 ? '0.58rem' : '0.75rem',
        fontWeight: 700,
        lineHeight: state === 'missing' ? '14px' : '16px',
        textAlign: 'center',
        verticalAlign: 'middle',
      }}
    >
      {sign}
    </Box>
  )
}

/** The run to which a cell leads: where something was rejected, that one. */
const runOf = (cell: CalendarCell) =>
  (cell.arrived.find((file) => file.became === 'rejected') ?? cell.arrived[cell.arrived.length - 1])?.run

function Cell({ line, period, cell }: { line: Line; period: string; cell: CalendarCell | undefined }) {
  if (!cell || (cell.state === 'none' && cell.arrived.length === 0)) return null
  const says = `${line.job} ${line.source} ${period}: ${cell.state}. ${cell.says}`
  const run = runOf(cell)
  return run ? (
    <Box component={Link} to={`/runs/${run}`} title={says} aria-label={says} sx={{ display: 'block', lineHeight: 1 }}>
      <Square state={cell.state} />
    </Box>
  ) : (
    <Box role="img" title={says} aria-label={says} sx={{ lineHeight: 1 }}>
      <Square state={cell.state} />
    </Box>
  )
}

/** What each look of a cell means. */
export function Legend() {
  return (
    <Stack direction="row" sx={{ gap: 2, flexWrap: 'wrap' }}>
      {STATES.map((state) => (
        <Stack key={state} direction="row" sx={{ gap: 0.75, alignItems: 'center' }}>
          <Square state={state} />
          <Typography variant="body2">{state}</Typography>
        </Stack>
      ))}
    </Stack>
  )
}

/** All that somebody should look at, in words, the latest first. */
export function Findings({ calendars }: { calendars: Calendar[] }) {
  const all = grids(calendars).flatMap((grid) =>
    grid.lines.flatMap((line) =>
      [...line.cells].filter(([, cell]) => isFinding(line, cell)).map(([period, cell]) => ({ line, period, cell })),
    ),
  )
  all.sort((one, other) => (other.cell.by ?? '').localeCompare(one.cell.by ?? ''))
  const astray = calendars.flatMap((calendar) => calendar.astray.map((file) => ({ job: calendar.job, file })))
  const unlisted = calendars.reduce((sum, calendar) => sum + calendar.astrayFiles - calendar.astray.length, 0)
  if (all.length === 0 && astray.length === 0)
    return <Typography sx={{ mt: 2, color: 'primary.main' }}>Everything that is due has arrived.</Typography>
  return (
    <Box
      component="dl"
      aria-label="Findings"
      sx={{
        display: 'grid',
        gridTemplateColumns: 'max-content max-content 1fr',
        columnGap: 2,
        rowGap: 0.5,
        m: 0,
        pt: 2.5,
      }}
    >
      {all.slice(0, MOST_FINDINGS).map(({ line, period, cell }) => (
        <Fragment key={`${line.job} ${line.source} ${period}`}>
          <Box component="dt" sx={{ gridColumn: 1 }}>
            {line.job} {line.source}
          </Box>
          <Box component="dd" sx={{ m: 0, fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
            {period}
          </Box>
          <Box component="dd" sx={{ m: 0 }}>
            <Box component="span" sx={{ fontWeight: 600, color: 'error.main' }}>
              {cell.state === 'arrived' ? 'not due' : cell.state}
            </Box>{' '}
            {cell.says}
            {runOf(cell) !== undefined && (
              <>
                {' '}
                <Anchor component={Link} to={`/runs/${runOf(cell)}`}>
                  run {runOf(cell)}
                </Anchor>
              </>
            )}
          </Box>
        </Fragment>
      ))}
      {astray.map(({ job, file }) => (
        <Fragment key={`${job} ${file.name} ${file.run}`}>
          <Box component="dt" sx={{ gridColumn: 1 }}>
            {job}
          </Box>
          <Box component="dd" sx={{ m: 0 }} />
          <Box component="dd" sx={{ m: 0 }}>
            <Box component="span" sx={{ fontWeight: 600, color: 'error.main' }}>
              belongs nowhere
            </Box>{' '}
            {file.name}, arrived {moment(file.at)}: {file.says}{' '}
            <Anchor component={Link} to={`/runs/${file.run}`}>
              run {file.run}
            </Anchor>
          </Box>
        </Fragment>
      ))}
      {(all.length > MOST_FINDINGS || unlisted > 0) && (
        <Typography sx={{ gridColumn: '1 / -1' }} color="textSecondary">
          and {grouped(Math.max(0, all.length - MOST_FINDINGS) + unlisted)} more
        </Typography>
      )}
    </Box>
  )
}
