import { Box, Link as Anchor, Typography } from '@mui/material'
import { useTheme } from '@mui/material/styles'
import { BarChart } from '@mui/x-charts/BarChart'
import { useState } from 'react'
import { Link, useNavigate } from 'react-router'
import type { ColumnProfile } from '../api/client'
import { useProfile } from '../api/hooks'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'
import { rowsLink } from './question'

interface ProfileProps {
  dataset: string
  where: string[]
  /** The column that is shown in full. */
  column: string | undefined
  onColumn: (column: string) => void
}

/** What the columns hold; the one that is chosen in full. */
export function ProfileView({ dataset, where, column, onColumn }: ProfileProps) {
  const [exact, setExact] = useState(false)
  const profile = useProfile(dataset, where, exact)
  if (profile.isPending) return <Wait what={exact ? 'Sorting the values of every row' : 'Looking at every row'} />
  if (profile.isError) return <Trouble error={profile.error} />
  const { columns, rows } = profile.data
  if (rows === 0)
    return (
      <Typography color="textSecondary">
        {where.length > 0 ? 'No row satisfies this.' : 'No rows yet. Run a job that loads into this dataset.'}
      </Typography>
    )
  const chosen = columns.find((one) => one.name === column) ?? columns[0]!
  const remarks = columns.flatMap((one) => one.remarks.map((remark) => ({ name: one.name, ...remark })))
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', lg: 'minmax(0, 3fr) minmax(0, 2fr)' },
        gap: 4,
        alignItems: 'start',
      }}
    >
      <Box>
        <DataTable
          label="Columns"
          columns={table(chosen.name)}
          count={columns.length}
          row={(index) => columns[index]}
          onOpen={(one) => onColumn(one.name)}
          empty="No columns."
          maxHeight="calc(100vh - 300px)"
        />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75, mb: 3 }}>
          {counted(rows, 'row')}
          {where.length > 0 ? ' that match the conditions' : ''}; a column opens beside
          {columns.some((one) => one.distinctError > 0) && (
            <>
              . Some figures are estimated.{' '}
              <Anchor
                component="button"
                variant="body2"
                sx={{ verticalAlign: 'baseline' }}
                onClick={() => setExact(true)}
              >
                Find them out exactly
              </Anchor>{' '}
              (takes much longer)
            </>
          )}
        </Typography>
        {remarks.length > 0 && (
          <Section title="Worth a look">
            {remarks.map((remark) => (
              <Typography key={remark.name + remark.what} sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
                <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.85rem', mr: 1 }}>
                  {remark.name}
                </Box>
                {remark.what}{' '}
                {remark.where && (
                  <Anchor component={Link} to={rowsLink([...where, remark.where])}>
                    {counted(remark.rows, 'row')}
                  </Anchor>
                )}
              </Typography>
            ))}
          </Section>
        )}
      </Box>
      <InFull column={chosen} where={where} />
    </Box>
  )
}

export const share = (some: number, all: number) => {
  const percent = (100 * some) / all
  if (some === 0) return '–'
  if (some === all) return '100 %'
  return percent < 0.1 ? '< 0.1 %' : percent > 99.9 ? '> 99.9 %' : `${percent.toFixed(1)} %`
}

export const about = (column: ColumnProfile) => (column.distinctError > 0 ? 'about ' : '') + grouped(column.distinct)

const table = (chosen: string): TableColumn<ColumnProfile>[] => [
  {
    key: 'name',
    title: 'Column',
    width: 16,
    mono: true,
    render: (one) => <span style={{ fontWeight: one.name === chosen ? 700 : 400 }}>{one.name}</span>,
  },
  { key: 'empty', title: 'Empty', width: 8, right: true, mono: true, render: (one) => share(one.empty, one.rows) },
  { key: 'distinct', title: 'Different', width: 12, right: true, mono: true, render: about },
  { key: 'smallest', title: 'Smallest', width: 19, mono: true, render: (one) => one.smallest ?? '' },
  { key: 'largest', title: 'Largest', width: 19, mono: true, render: (one) => one.largest ?? '' },
]

function Figure({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <>
      <Typography variant="body2" color="textSecondary">
        {name}
      </Typography>
      <Typography variant="body2" component="div">
        {children}
      </Typography>
    </>
  )
}

interface InFullProps {
  column: ColumnProfile
  /** The conditions that its rows satisfy; null where these are not stored, so that none can be shown. */
  where: string[] | null
}

/** All that is known of a column. */
export function InFull({ column, where }: InFullProps) {
  const ranks = column.quantiles[0]?.error ?? 0
  return (
    <Section title={column.name}>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'max-content 1fr', columnGap: 2, rowGap: 0.25, mb: 2 }}>
        <Figure name="Type">{column.type}</Figure>
        <Figure name="Empty">
          {column.empty === 0 ? (
            'none'
          ) : where === null ? (
            counted(column.empty, 'row')
          ) : (
            <Anchor component={Link} to={rowsLink([...where, `${column.name} is empty`])}>
              {counted(column.empty, 'row')}
            </Anchor>
          )}
        </Figure>
        <Figure name="Different values">
          {about(column)}
          {column.distinctError > 0 && ` (within ${(100 * column.distinctError).toFixed(1)} %)`}
        </Figure>
        {column.mean !== undefined && column.mean !== null && (
          <Figure name="Mean">
            {String(column.mean)}, standard deviation {String(column.deviation)}
          </Figure>
        )}
        {column.quantiles.length > 0 && (
          <Figure name="Quantiles">
            {column.quantiles.map((one) => `${Math.round(one.share * 100)} %: ${one.value}`).join(', ')}
            {ranks > 0 && ` (ranks within ${(100 * ranks).toFixed(2)} %)`}
          </Figure>
        )}
        {column.text && (
          <Figure name="Lengths">
            {column.text.shortest} (“{column.text.shortestValue}”) to {column.text.longest} (“{column.text.longestValue}
            ”)
          </Figure>
        )}
        {column.gaps && (
          <Figure name="Days with rows">
            {grouped(column.gaps.days)}
            {column.gaps.usual > 0 && `, usually ${counted(column.gaps.usual, 'day')} apart`}
          </Figure>
        )}
      </Box>
      {column.histogram.length > 1 && <Histogram column={column} where={where} />}
      <DataTable<ColumnProfile['frequent'][number]>
        label="Most frequent values"
        columns={[
          {
            key: 'value',
            title: 'Most frequent',
            width: 28,
            mono: true,
            render: (one) => <span title={one.value}>{one.value}</span>,
          },
          {
            key: 'rows',
            title: 'Rows',
            width: 12,
            right: true,
            mono: true,
            render: (one) =>
              one.where && where ? (
                <Anchor component={Link} title="Show these rows" to={rowsLink([...where, one.where])}>
                  {(one.error > 0 ? 'about ' : '') + grouped(one.rows)}
                </Anchor>
              ) : (
                grouped(one.rows)
              ),
          },
          {
            key: 'share',
            title: 'Share',
            width: 9,
            right: true,
            mono: true,
            render: (one) => share(one.rows, column.rows),
          },
        ]}
        count={column.frequent.length}
        row={(index) => column.frequent[index]}
        empty="No values."
        maxHeight="320px"
      />
    </Section>
  )
}

function Histogram({ column, where }: InFullProps) {
  const theme = useTheme()
  const navigate = useNavigate()
  return (
    <Box
      role="img"
      aria-label={`How the values of ${column.name} are spread, from ${column.smallest} to ${column.largest}`}
    >
      <BarChart
        disableKeyboardNavigation
        height={200}
        skipAnimation
        hideLegend
        onAxisClick={(_, bar) => {
          const bin = bar && column.histogram[bar.dataIndex]
          if (bin && where) void navigate(rowsLink([...where, bin.where]))
        }}
        series={[{ data: column.histogram.map((bin) => bin.rows), color: theme.palette.primary.main }]}
        xAxis={[
          {
            data: column.histogram.map((bin) => `${bin.from} – ${bin.to}`),
            scaleType: 'band',
            categoryGapRatio: 0.1,
            tickLabelInterval: (_, index) => index === 0 || index === column.histogram.length - 1,
            valueFormatter: (value: string, context) =>
              context.location === 'tick'
                ? (value.split(' – ')[value.startsWith(`${column.histogram[0]!.from} – `) ? 0 : 1] ?? value)
                : value,
            height: 30,
          },
        ]}
        yAxis={[{ width: 56 }]}
        grid={{ horizontal: true }}
      />
    </Box>
  )
}
