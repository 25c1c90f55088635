import { Box, FormControl, InputLabel, Link as Anchor, MenuItem, Select, Stack, Typography } from '@mui/material'
import { useTheme } from '@mui/material/styles'
import { BarChart } from '@mui/x-charts/BarChart'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Value, CountGroup, CountsView as Counts, DatasetDetail } from '../api/client'
import { useCounts } from '../api/hooks'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped, isNumber } from '../ui/format'
import { Trouble, Wait } from '../ui/State'
import { conditionOf, rowsLink, sortedBy, type Question } from './question'

const MOST_BARS = 60
const MOST_SERIES = 8

const MOST_KEYS = 4
const WAYS = ['sum', 'mean', 'min', 'max', 'count']
const TOPS = [5, 10, 20, 50, 100]

type Changes = Record<string, string | string[] | undefined>

interface CountsProps {
  dataset: DatasetDetail
  question: Question
  /** Asks something else: names of the address that change. */
  onAsk: (changes: Changes) => void
}

/** What rows can be counted by: each column; dates also by their units; the file they come from. */
function choices(dataset: DatasetDetail): string[] {
  const units = (type: string) =>
    type === 'date'
      ? ['month', 'year', 'quarter', 'week', 'day']
      : type === 'timestamp'
        ? ['month', 'year', 'quarter', 'week', 'day', 'hour']
        : []
  return [
    ...dataset.columns.flatMap((column) => [
      ...units(column.type).map((unit) => `${column.name}:${unit}`),
      ...(column.type === 'date' ? [] : [column.name]),
    ]),
    '_job',
    '_file',
    '_run',
  ]
}

/** What can be found out in each group. */
const measurable = (dataset: DatasetDetail): string[] =>
  dataset.columns.flatMap((column) =>
    WAYS.filter((way) => isNumber(column.type) || !['sum', 'mean'].includes(way)).map(
      (way) => `${way}(${column.name})`,
    ),
  )

export const label = (value: Value) => (value === null ? '(empty)' : String(value))

/** Rows counted by up to four columns, and what others come to, as a table and as a picture. */
export function CountsView({ dataset, question, onAsk }: CountsProps) {
  const { by, measures, where, top } = question
  const counts = useCounts(dataset.name, where, question)
  const options = choices(dataset)
  const setBy = (index: number, value: string) =>
    onAsk({ by: [...by.slice(0, index), value, ...by.slice(index + 1)].filter(Boolean), sort: undefined })
  return (
    <>
      <Stack direction="row" sx={{ gap: 2, mb: 2, flexWrap: 'wrap' }}>
        {Array.from({ length: Math.min(MOST_KEYS, by.length + 1) }, (_, index) => (
          <Choice
            key={index}
            name={index === 0 ? 'Count by' : index === 1 ? 'and by' : `and by (${index + 1})`}
            value={by[index] ?? ''}
            options={['', ...options.filter((option) => option === by[index] || !by.includes(option))]}
            onChange={(value) => setBy(index, value)}
          />
        ))}
        <FormControl size="small" variant="standard" sx={{ minWidth: 200, maxWidth: 360 }}>
          <InputLabel id="measures">Find out in each group</InputLabel>
          <Select
            labelId="measures"
            label="Find out in each group"
            multiple
            value={measures}
            onChange={(event) => onAsk({ measures: event.target.value as string[], sort: undefined })}
          >
            {measurable(dataset).map((option) => (
              <MenuItem key={option} value={option} dense>
                {option}
              </MenuItem>
            ))}
          </Select>
        </FormControl>
        <Choice
          name="List"
          value={top > 0 ? String(top) : ''}
          options={['', ...new Set([...TOPS, ...(top > 0 ? [top] : [])])].map(String)}
          labels={(option) => (option ? `the first ${option}` : 'all groups')}
          onChange={(value) => onAsk({ top: value || undefined })}
        />
      </Stack>
      {by.length === 0 && measures.length === 0 ? (
        <Typography color="textSecondary">Choose a column to count by.</Typography>
      ) : counts.isPending ? (
        <Wait what="Counting" />
      ) : counts.isError ? (
        <Trouble error={counts.error} />
      ) : (
        <Counted counts={counts.data} question={question} onAsk={onAsk} />
      )}
    </>
  )
}

function Choice({
  name,
  value,
  options,
  labels = (option) => option || '—',
  onChange,
}: {
  name: string
  value: string
  options: string[]
  labels?: (option: string) => string
  onChange: (value: string) => void
}) {
  const id = 'by-' + name.replace(/\W/g, '-')
  return (
    <FormControl size="small" variant="standard" sx={{ minWidth: 160 }}>
      <InputLabel id={id} shrink={value !== '' || labels('') !== '—'}>
        {name}
      </InputLabel>
      <Select
        labelId={id}
        label={name}
        value={value}
        displayEmpty={labels('') !== '—'}
        onChange={(event) => onChange(event.target.value)}
      >
        {options.map((option) => (
          <MenuItem key={option} value={option} dense>
            {labels(option)}
          </MenuItem>
        ))}
      </Select>
    </FormControl>
  )
}

/** A group as the table shows it; the groups that are not listed are one without values. */
type Line = Omit<CountGroup, 'values'> & { values?: Value[]; more?: number }

function Counted({
  counts,
  question,
  onAsk,
}: {
  counts: Counts
  question: Question
  onAsk: (changes: Changes) => void
}) {
  const { where, sort, top } = question
  const lines: Line[] = [
    ...counts.groups,
    ...(counts.rest ? [{ rows: counts.rest.rows, measures: counts.rest.measures, more: counts.rest.groups }] : []),
  ]
  const conditions = (group: Line) => counts.by.map((by, index) => conditionOf(by, group.values?.[index] ?? null))
  const columns: TableColumn<Line>[] = [
    ...counts.by.map((name, index): TableColumn<Line> => ({
      key: name,
      title: name,
      width: Math.max(14, name.length + 2),
      mono: true,
      render: (group) =>
        group.values ? label(group.values[index] ?? null) : index === 0 ? `(${grouped(group.more ?? 0)} more)` : '',
    })),
    {
      key: 'rows',
      title: 'Rows',
      width: 10,
      right: true,
      mono: true,
      render: (group) =>
        group.values && counts.by.length > 0 ? (
          <Anchor component={Link} title="Show these rows" to={rowsLink([...where, ...conditions(group)])}>
            {grouped(group.rows)}
          </Anchor>
        ) : (
          grouped(group.rows)
        ),
    },
    ...counts.measures.map((name, index): TableColumn<Line> => ({
      key: name,
      title: name,
      width: Math.max(12, name.length + 2),
      right: true,
      mono: true,
      render: (group) => (
        <span title={String(group.measures[index] ?? '')}>{figure(group.measures[index] ?? null)}</span>
      ),
    })),
  ]
  const sorted = (sort.length > 0 ? sort : top > 0 ? ['-rows'] : counts.by.slice(0, 1)).map((one) => ({
    key: one.replace(/^-/, ''),
    descending: one.startsWith('-'),
  }))
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: {
          xs: '1fr',
          lg: counts.measures.length > 0 ? 'minmax(0, 1fr) minmax(0, 1fr)' : 'minmax(24rem, 2fr) minmax(0, 3fr)',
        },
        gap: 4,
        alignItems: 'start',
      }}
    >
      <Box>
        <DataTable
          label="Counts"
          columns={columns}
          count={lines.length}
          row={(index) => lines[index]}
          sort={sorted}
          onSort={(column, further) => onAsk({ sort: sortedBy(sort, column, further) })}
          further
          empty={['No rows to count.', ...counts.hints].join(' ')}
          maxHeight="calc(100vh - 320px)"
        />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75 }}>
          {counted(counts.total, 'row')} in {counted(counts.groups.length + (counts.rest?.groups ?? 0), 'group')}
          {counts.measures.map((name, index) => `; ${name} of all ${figure(counts.totals[index] ?? null)}`).join('')}
        </Typography>
      </Box>
      {counts.groups.length > 0 && counts.by.length > 0 && <Picture counts={counts} />}
    </Box>
  )
}

const figure = (value: Value | null) =>
  value === null
    ? '–'
    : typeof value === 'number'
      ? value.toLocaleString('en', { maximumFractionDigits: 4, useGrouping: false })
      : String(value)

/** Bars of the rows, or of one of the measures that are numbers. */
function Picture({ counts }: { counts: Counts }) {
  const shows = [
    'rows',
    ...counts.measures.filter((_, index) => counts.groups.some((group) => typeof group.measures[index] === 'number')),
  ]
  const [chosen, setChosen] = useState('rows')
  const what = shows.includes(chosen) ? chosen : 'rows'
  return (
    <Box>
      {shows.length > 1 && (
        <Stack direction="row" sx={{ mb: 1 }}>
          <Choice name="Bars show" value={what} options={shows} onChange={setChosen} />
        </Stack>
      )}
      <Bars counts={counts} what={what} />
    </Box>
  )
}

function Bars({ counts, what }: { counts: Counts; what: string }) {
  const theme = useTheme()
  const light = theme.palette.mode === 'light'
  const colours = light
    ? ['#0F6B73', '#8A97A3', '#B08A3C', '#6F63A8', '#4F7F4A', '#A8603F', '#3E5F8A', '#8C4A6B']
    : ['#3FA3AB', '#8A97A3', '#CBA65A', '#9388C9', '#77A872', '#C98562', '#6C8FBB', '#B87A98']
  const first = [...new Set(counts.groups.map((group) => label(group.values[0] ?? null)))]
  const second =
    counts.by.length > 1 ? [...new Set(counts.groups.map((group) => label(group.values[1] ?? null)))].sort() : [what]
  if (counts.by.length > 2)
    return (
      <Typography color="textSecondary">Three columns and more have no picture; the table has them all.</Typography>
    )
  if (first.length > MOST_BARS || second.length > MOST_SERIES) {
    return (
      <Typography color="textSecondary">
        Too many groups for a picture ({grouped(first.length)}
        {counts.by.length > 1 ? ` by ${grouped(second.length)}` : ''}); the table has them all. Fewer come out by :month
        or :year, or with a condition.
      </Typography>
    )
  }
  const index = counts.measures.indexOf(what)
  const height = (group: CountGroup) => (index < 0 ? group.rows : Number(group.measures[index] ?? 0))
  const rows = new Map(counts.groups.map((group) => [group.values.map(label).join('\u0000'), height(group)]))
  const series = second.map((name, index) => ({
    label: counts.by.length > 1 ? name : undefined,
    color: colours[index % colours.length],
    data: first.map((one) => rows.get(counts.by.length > 1 ? `${one}\u0000${name}` : one) ?? 0),
  }))
  return (
    <Box
      role="img"
      aria-label={`${what === 'rows' ? 'Rows' : what} by ${counts.by.join(' and ')}; the table has the numbers`}
    >
      <BarChart
        disableKeyboardNavigation
        height={420}
        series={series}
        hideLegend={counts.by.length < 2}
        skipAnimation
        xAxis={[
          {
            data: first,
            scaleType: 'band',
            label: counts.by[0],
            height: first.length > 12 ? 90 : 50,
            tickLabelStyle: first.length > 12 ? { angle: -60, textAnchor: 'end' } : undefined,
          },
        ]}
        yAxis={[{ label: what, width: 64 }]}
        grid={{ horizontal: true }}
      />
    </Box>
  )
}
