import { Box, Button, Checkbox, FormControlLabel, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { ToggleButton, ToggleButtonGroup } from '@mui/material'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import type { StageQuestion, StageRow, StageRows } from '../api/client'
import { findPage, useRowTrace, useStageRows } from '../api/hooks'
import { TraceView } from '../rejects/TraceTable'
import { useAddress } from '../ui/address'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped, isNumber } from '../ui/format'
import { useSettled } from '../ui/settled'
import { Trouble, Wait } from '../ui/State'

const STAGES = ['read', 'cleaned', 'stored'] as const
type Stage = (typeof STAGES)[number]
const PAGE = 200

interface StageProps {
  job: string
  /** Values given for this time. */
  set: Record<string, string>
  /** The job's text as it is being written; without it the saved one. */
  text?: string
  datasetText?: string
  maxHeight: string
  /** Mistakes of the definitions are shown elsewhere. */
  quiet?: boolean
}

/** The rows of a job's files as they are read, cleaned, or would be stored; the address says which. */
export function StageView({ job, set, text, datasetText, maxHeight, quiet }: StageProps) {
  const address = useAddress()
  const file = address.get('file') ?? ''
  const wanted = address.get('stage') as Stage | undefined
  const stage: Stage = wanted && STAGES.includes(wanted) && (file || wanted !== 'read') ? wanted : 'stored'
  const from = Number(address.get('from') ?? 1)
  const fileNumber = Number(address.get('n') ?? 0)
  const line = Number(address.get('line') ?? 0)
  const rejected = address.get('rejected') === 'yes'
  const whole = address.get('whole') === 'yes'
  const sort = address.get('sort') ?? ''
  const where = address.get('where') ?? ''
  const [typed, setTyped] = useState(where)
  const condition = useSettled(typed, 300)
  const setAddress = address.set
  useEffect(() => {
    if (condition !== where) setAddress('where', condition || undefined)
  }, [condition, where, setAddress])
  const [open, setOpen] = useState<StageRow>()

  const question: StageQuestion = {
    stage,
    limit: PAGE,
    set,
    ...(file ? { file } : { fileNumber }),
    ...(line > 0 ? { line } : { from }),
    ...(rejected ? { rejected } : {}),
    ...(whole ? { whole } : {}),
    ...(where ? { where } : {}),
    ...(sort ? { sort } : {}),
    ...(text === undefined ? {} : { text }),
    ...(datasetText === undefined ? {} : { datasetText }),
  }
  const rows = useStageRows(job, question)
  const begin = (row: number, number = 0) => ({
    line: undefined,
    from: row > 1 ? String(row) : undefined,
    n: number > 0 ? String(number) : undefined,
  })
  const at = (row: number, number = 0) => address.setAll(begin(row, number))
  const choose = (name: string, value: string | undefined) => address.setAll({ ...begin(1), [name]: value })
  const descending = sort.startsWith('-')
  const key = descending ? sort.slice(1) : sort
  return (
    <>
      <Stack direction="row" sx={{ gap: 2, mb: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <FileChoice job={job} set={set} file={file} onFile={(name) => choose('file', name || undefined)} />
        <ToggleButtonGroup
          exclusive
          size="small"
          value={stage}
          onChange={(_, value: Stage | null) => value && address.set('stage', value)}
          aria-label="Stage"
        >
          {STAGES.map((one) => (
            <ToggleButton key={one} value={one} sx={{ py: 0.25 }} disabled={one === 'read' && !file}>
              {one}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={rejected}
              onChange={(event) => choose('rejected', event.target.checked ? 'yes' : undefined)}
            />
          }
          label="only rejected"
        />
        <TextField
          variant="standard"
          size="small"
          value={typed}
          placeholder="value > 40 && station == 'VS-101'"
          onChange={(event) => setTyped(event.target.value)}
          sx={{ width: '19rem' }}
          slotProps={{ htmlInput: { 'aria-label': 'Only rows that match this condition', spellCheck: false } }}
        />
        {(rejected || where || sort) && (
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={whole}
                onChange={(event) => address.set('whole', event.target.checked ? 'yes' : undefined)}
              />
            }
            label="look at all rows"
          />
        )}
        {file && !sort && <LineField onLine={(to) => address.set('line', String(to))} />}
      </Stack>
      {rows.isError && !quiet && <Trouble error={rows.error} />}
      {rows.isPending && <Wait what="Reading the rows" />}
      {rows.data && (
        <>
          <Shown
            rows={rows.data}
            sort={key ? { key, descending } : undefined}
            onSort={(column) => choose('sort', column !== key ? column : descending ? undefined : '-' + column)}
            onOpen={(row) => setOpen(open?.row === row.row && open.file === row.file ? undefined : row)}
            maxHeight={maxHeight}
          />
          <Stack direction="row" sx={{ gap: 1, mt: 0.75, alignItems: 'baseline', flexWrap: 'wrap' }}>
            <Button size="small" onClick={() => at(1)} disabled={from <= 1 && fileNumber === 0 && line === 0}>
              First
            </Button>
            <Button
              size="small"
              onClick={() => at(rows.data.next, rows.data.nextFile)}
              disabled={rows.data.next === 0 || rows.data.busy}
            >
              Next
            </Button>
            <Sum rows={rows.data} picks={rejected || !!where || !!sort} />
          </Stack>
        </>
      )}
      {open && rows.data && <Followed key={open.file + open.row} job={job} row={open} question={question} />}
    </>
  )
}

function FileChoice({
  job,
  set,
  file,
  onFile,
}: {
  job: string
  set: Record<string, string>
  file: string
  onFile: (file: string) => void
}) {
  const found = useQuery(
    findPage(
      job,
      { changes: [], set, which: 'taken', sort: 'relative', descending: false } as Parameters<typeof findPage>[1],
      0,
    ),
  )
  const names = (found.data?.files ?? []).map((one) => one.relative)
  const listed = file && !names.includes(file) ? [file, ...names] : names
  return (
    <TextField
      select
      variant="standard"
      size="small"
      value={file}
      onChange={(event) => onFile(event.target.value)}
      sx={{ minWidth: '16rem', maxWidth: '26rem' }}
      slotProps={{ select: { displayEmpty: true, SelectDisplayProps: { 'aria-label': 'File' } } }}
    >
      <MenuItem value="">all files, one after the other</MenuItem>
      {listed.map((name) => (
        <MenuItem key={name} value={name} sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
          {name}
        </MenuItem>
      ))}
      {found.data && found.data.matching > names.length && (
        <MenuItem disabled value="-">
          and {grouped(found.data.matching - names.length)} more: open them from the list of files
        </MenuItem>
      )}
    </TextField>
  )
}

function LineField({ onLine }: { onLine: (line: number) => void }) {
  const [typed, setTyped] = useState('')
  const good = /^[1-9]\d*$/.test(typed)
  return (
    <TextField
      variant="standard"
      size="small"
      value={typed}
      placeholder="line"
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={(event) => event.key === 'Enter' && good && onLine(Number(typed))}
      sx={{ width: '6rem' }}
      slotProps={{ htmlInput: { 'aria-label': 'Go to line' } }}
    />
  )
}

const MARK: Record<string, string> = { stored: '', rejected: '!', 'set aside': '−' }

function Shown({
  rows,
  sort,
  onSort,
  onOpen,
  maxHeight,
}: {
  rows: StageRows
  sort: { key: string; descending: boolean } | undefined
  onSort: (key: string) => void
  onOpen: (row: StageRow) => void
  maxHeight: string
}) {
  if (rows.rejection)
    return (
      <Box sx={{ borderTop: 1, borderColor: 'divider', py: 1 }}>
        <Typography color="error">
          {rows.file} would be rejected as a whole: it {rows.rejection.sentence} ({rows.rejection.code})
        </Typography>
        <Typography variant="body2" color="textSecondary">
          {rows.rejection.cure.replaceAll('`', '')}
        </Typography>
      </Box>
    )
  const several = !rows.file
  const longest = (index: number, title: string) =>
    Math.max(
      title.length + 2,
      Math.min(
        40,
        rows.rows.slice(0, 60).reduce((width, row) => Math.max(width, (row.cells[index] ?? '').length), 4),
      ),
    )
  const source = (row: StageRow) => row.place || `${several ? row.file + ':' : ''}${grouped(row.line)}`
  const table: TableColumn<StageRow>[] = [
    {
      key: '_line',
      title: several ? 'Source' : 'Line',
      width: rows.rows.slice(0, 60).reduce((width, row) => Math.max(width, source(row).length), 6) + 4,
      mono: true,
      pinned: true,
      fixed: true,
      render: (row) => (
        <Box
          component="span"
          title={row.faults.map((fault) => fault.sentence).join('; ') || row.rule || 'would be stored'}
          sx={{ color: row.outcome === 'rejected' ? 'error.main' : undefined }}
        >
          <Box
            component="span"
            {...(row.outcome === 'stored' ? {} : { role: 'img', 'aria-label': row.outcome })}
            sx={{ display: 'inline-block', width: '1.4em', fontWeight: 600 }}
          >
            {MARK[row.outcome]}
          </Box>
          {source(row)}
        </Box>
      ),
    },
    ...rows.columns.map((column, index): TableColumn<StageRow> => ({
      key: column.name,
      title: column.name,
      width: longest(index, column.name),
      right: isNumber(column.type),
      mono: true,
      render: (row) => <Cell row={row} index={index} />,
    })),
  ]
  return (
    <DataTable
      label="Rows at this stage"
      columns={table}
      count={rows.rows.length}
      row={(index) => rows.rows[index]}
      sort={sort && [sort]}
      onSort={onSort}
      onOpen={onOpen}
      empty={rows.busy ? 'Looking for the place …' : 'No row is of this kind.'}
      maxHeight={maxHeight}
    />
  )
}

/** A value; one at fault is marked, and says why when one points at it. */
function Cell({ row, index }: { row: StageRow; index: number }) {
  const faults = row.faults.filter((fault) => fault.cell === index)
  const text = row.cells[index] ?? ''
  if (faults.length === 0)
    return (
      <Box component="span" title={text} sx={row.outcome === 'set aside' ? { color: 'text.secondary' } : undefined}>
        {text}
      </Box>
    )
  return (
    <Box
      component="span"
      data-fault={faults[0]!.code}
      title={faults.map((fault) => fault.sentence).join('; ')}
      sx={{ color: 'error.main', textDecoration: 'underline wavy', textUnderlineOffset: '3px' }}
    >
      {text || faults[0]!.value || '·'}
    </Box>
  )
}

function Sum({ rows, picks }: { rows: StageRows; picks: boolean }) {
  if (rows.busy)
    return (
      <Typography variant="body2" color="textSecondary" role="status">
        Looking through the file: {counted(rows.total, 'row')} so far …
      </Typography>
    )
  const faulty = rows.rows.filter((row) => row.outcome === 'rejected').length
  return (
    <Typography variant="body2" color="textSecondary">
      {counted(rows.rows.length, 'row')} shown{rows.total >= 0 ? ` of ${grouped(rows.total)}` : ''}
      {faulty > 0 ? `, ${grouped(faulty)} of them rejected` : ', none of them rejected'}
      {picks
        ? `; found ${grouped(rows.found)} in ${rows.whole ? 'all' : 'the first'} ${counted(rows.looked, 'row')}`
        : ''}
      {rows.untold > 0 ? `; the condition could not be evaluated for ${grouped(rows.untold)}` : ''}
      {rows.notes.map((note) => (
        <Box key={note} component="span" sx={{ display: 'block' }}>
          {note}
        </Box>
      ))}
    </Typography>
  )
}

function Followed({ job, row, question }: { job: string; row: StageRow; question: StageQuestion }) {
  const { text, datasetText, set } = question
  const trace = useRowTrace(job, {
    file: row.file,
    from: row.row,
    ...(set ? { set } : {}),
    ...(text === undefined ? {} : { text }),
    ...(datasetText === undefined ? {} : { datasetText }),
  })
  return (
    <Box sx={{ borderTop: 1, borderColor: 'divider', mt: 1.5, pt: 1 }}>
      <Typography variant="body2" sx={{ fontFamily: (theme) => theme.mono, mb: 0.5 }}>
        {row.file}:{row.line}
      </Typography>
      {trace.isPending && <Wait what="Following the row" />}
      {trace.isError && <Trouble error={trace.error} />}
      {trace.data && <TraceView trace={trace.data} />}
    </Box>
  )
}
