import { Box, Typography, useTheme } from '@mui/material'
import { BarChart } from '@mui/x-charts/BarChart'
import { useNavigate } from 'react-router'
import type { TrendPoint } from '../api/client'
import { useTrend } from '../api/hooks'
import { counted, grouped, moment } from '../ui/format'
import { Section, Trouble } from '../ui/State'

/** How the latest runs of a job went: rows, rejects and duration, a bar for each run. */
export function Trend({ job }: { job: string }) {
  const trend = useTrend(job)
  const theme = useTheme()
  if (trend.isError) return <Trouble error={trend.error} />
  if (!trend.data || trend.data.points.length < 2) return null
  const { points, idle } = trend.data
  return (
    <Section
      title="Trend"
      right={
        <Typography variant="body2" color="textSecondary">
          {counted(points.length, 'run')}, the latest on the right
          {idle > 0 && `; ${grouped(idle)} that found nothing new left out`}
        </Typography>
      }
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, minmax(0, 1fr))', gap: 2 }}>
        <Bars name="Rows loaded" points={points} of={(point) => point.rowsLoaded} color={theme.palette.primary.main} />
        <Bars
          name="Rows rejected"
          points={points}
          of={(point) => point.rowsRejected}
          color={theme.palette.error.main}
        />
        <Bars name="Seconds" points={points} of={(point) => point.seconds ?? 0} color={theme.palette.text.secondary} />
      </Box>
    </Section>
  )
}

interface BarsProps {
  name: string
  points: TrendPoint[]
  of: (point: TrendPoint) => number
  color: string
}

function Bars({ name, points, of, color }: BarsProps) {
  const navigate = useNavigate()
  const most = Math.max(...points.map(of))
  const last = of(points[points.length - 1]!)
  const shown = (number: number) => (Number.isInteger(number) ? grouped(number) : number.toFixed(2))
  return (
    <Box
      sx={{ cursor: 'pointer' }}
      role="img"
      aria-label={`${name} of ${points.length} runs: at most ${shown(most)}, last ${shown(last)}`}
    >
      <Typography variant="body2">
        {name}{' '}
        <Typography component="span" variant="body2" color="textSecondary">
          at most {shown(most)}, last {shown(last)}
        </Typography>
      </Typography>
      <BarChart
        disableKeyboardNavigation
        height={70}
        skipAnimation
        hideLegend
        margin={{ left: 0, right: 0, top: 4, bottom: 0 }}
        onAxisClick={(_, bar) => {
          const point = bar && points[bar.dataIndex]
          if (point) void navigate(`/runs/${point.run}`)
        }}
        series={[{ data: points.map(of), color, valueFormatter: (value) => shown(value ?? 0) }]}
        xAxis={[
          {
            data: points.map((point) => `run ${point.run}, ${moment(point.startedAt)}, ${point.state}`),
            scaleType: 'band',
            categoryGapRatio: 0.2,
            position: 'none',
          },
        ]}
        yAxis={[{ position: 'none', min: 0, max: most || 1 }]}
      />
    </Box>
  )
}
