import { Box, FormControl, InputLabel, MenuItem, Select, Stack, Typography } from '@mui/material'
import { useTheme } from '@mui/material/styles'
import { BarChart } from '@mui/x-charts/BarChart'
import type { Value, CountsView as Counts, DatasetDetail } from '../api/client'
import { useCounts } from '../api/hooks'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped } from '../ui/format'
import { Trouble, Wait } from '../ui/State'

const MOST_BARS = 60
const MOST_SERIES = 8

interface CountsProps {
  dataset: DatasetDetail
  where: string[]
  by: string[]
  onBy: (by: string[]) => void
}

/** What rows can be counted by: each column; dates also by year, month and day; the file they come from. */
function choices(dataset: DatasetDetail): string[] {
  return [
    ...dataset.columns.flatMap((column) =>
      column.type === 'date' || column.type === 'timestamp'
        ? [`${column.name}:month`, `${column.name}:year`, `${column.name}:day`, column.name]
        : [column.name],
    ),
    '_file',
    '_run',
  ]
}

export const label = (value: Value) => (value === null ? '(empty)' : String(value))

/** Rows counted by one or two columns, as a table and as a picture. */
export function CountsView({ dataset, where, by, onBy }: CountsProps) {
  const counts = useCounts(dataset.name, by, where)
  const options = choices(dataset)
  return (
    <>
      <Stack direction="row" sx={{ gap: 2, mb: 2 }}>
        <Choice
          name="Count by"
          value={by[0] ?? ''}
          options={options}
          onChange={(value) => onBy([value, ...by.slice(1)].filter(Boolean))}
        />
        <Choice
          name="and by"
          value={by[1] ?? ''}
          options={['', ...options.filter((option) => option !== by[0])]}
          disabled={by.length === 0}
          onChange={(value) => onBy([by[0]!, value].filter(Boolean))}
        />
      </Stack>
      {by.length === 0 ? (
        <Typography color="textSecondary">Choose a column to count by.</Typography>
      ) : counts.isPending ? (
        <Wait what="Counting" />
      ) : counts.isError ? (
        <Trouble error={counts.error} />
      ) : (
        <Counted counts={counts.data} />
      )}
    </>
  )
}

function Choice({
  name,
  value,
  options,
  disabled,
  onChange,
}: {
  name: string
  value: string
  options: string[]
  disabled?: boolean
  onChange: (value: string) => void
}) {
  const id = 'by-' + name.replace(/\W/g, '-')
  return (
    <FormControl size="small" variant="standard" sx={{ minWidth: 200 }} disabled={disabled}>
      <InputLabel id={id}>{name}</InputLabel>
      <Select labelId={id} label={name} value={value} onChange={(event) => onChange(event.target.value)}>
        {options.map((option) => (
          <MenuItem key={option} value={option} dense>
            {option || '—'}
          </MenuItem>
        ))}
      </Select>
    </FormControl>
  )
}

function Counted({ counts }: { counts: Counts }) {
  type Group = Counts['groups'][number]
  const columns: TableColumn<Group>[] = [
    ...counts.by.map((name, index): TableColumn<Group> => ({
      key: name,
      title: name,
      width: Math.max(14, name.length + 2),
      mono: true,
      render: (group) => label(group.values[index] ?? null),
    })),
    { key: 'rows', title: 'Rows', width: 10, right: true, mono: true, render: (group) => grouped(group.rows) },
  ]
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: '1fr', lg: 'minmax(24rem, 2fr) minmax(0, 3fr)' },
        gap: 4,
        alignItems: 'start',
      }}
    >
      <Box>
        <DataTable
          label="Counts"
          columns={columns}
          count={counts.groups.length}
          row={(index) => counts.groups[index]}
          empty="No rows to count."
          maxHeight="calc(100vh - 300px)"
        />
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75 }}>
          {counted(counts.total, 'row')} in {counted(counts.groups.length, 'group')}
        </Typography>
      </Box>
      {counts.groups.length > 0 && <Picture counts={counts} />}
    </Box>
  )
}

function Picture({ counts }: { counts: Counts }) {
  const theme = useTheme()
  const light = theme.palette.mode === 'light'
  const colours = light
    ? ['#0F6B73', '#8A97A3', '#B08A3C', '#6F63A8', '#4F7F4A', '#A8603F', '#3E5F8A', '#8C4A6B']
    : ['#3FA3AB', '#8A97A3', '#CBA65A', '#9388C9', '#77A872', '#C98562', '#6C8FBB', '#B87A98']
  const first = [...new Set(counts.groups.map((group) => label(group.values[0] ?? null)))]
  const second =
    counts.by.length > 1 ? [...new Set(counts.groups.map((group) => label(group.values[1] ?? null)))].sort() : ['rows']
  if (first.length > MOST_BARS || second.length > MOST_SERIES) {
    return (
      <Typography color="textSecondary">
        Too many groups for a picture ({grouped(first.length)}
        {counts.by.length > 1 ? ` by ${grouped(second.length)}` : ''}); the table has them all. Fewer come out by :month
        or :year, or with a condition.
      </Typography>
    )
  }
  const rows = new Map(counts.groups.map((group) => [group.values.map(label).join('\u0000'), group.rows]))
  const series = second.map((name, index) => ({
    label: counts.by.length > 1 ? name : undefined,
    color: colours[index % colours.length],
    data: first.map((one) => rows.get(counts.by.length > 1 ? `${one}\u0000${name}` : one) ?? 0),
  }))
  return (
    <Box role="img" aria-label={`Rows by ${counts.by.join(' and ')}; the table has the numbers`}>
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
        yAxis={[{ label: 'rows', width: 64 }]}
        grid={{ horizontal: true }}
      />
    </Box>
  )
}
