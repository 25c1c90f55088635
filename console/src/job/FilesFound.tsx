import { Alert, Box, Stack, TextField, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { useQueries, useQuery } from '@tanstack/react-query'
import { useCallback, useMemo, useState, type ReactNode } from 'react'
import type { Change, FindView, FoundFile, RuleCounts } from '../api/client'
import { FILES, findPage } from '../api/hooks'
import { useAddress } from '../ui/address'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped, moment, size } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'
import { PeekDialog } from './PeekDialog'

interface Look {
  changes: Change[]
  set: Record<string, string>
}

const NONE: Change[] = []
const WHICH = ['all', 'taken', 'waiting', 'skipped'] as const
type Which = (typeof WHICH)[number]

/** What a job would take, fetched as one scrolls. Sorting and narrowing happen where the files are. */
export function useFound(job: string, look: Look) {
  const [which, setWhich] = useState<Which>('all')
  const [search, setSearch] = useState('')
  const [sort, setSort] = useState({ key: 'relative', descending: false })
  const [view, setView] = useState({ first: 0, last: 0 })
  const question = useMemo(
    () => ({ ...look, which, search, sort: sort.key, descending: sort.descending }),
    [look, which, search, sort],
  )
  const first = useQuery(findPage(job, question, 0))
  const numbers = useMemo(() => {
    const from = Math.floor(view.first / FILES)
    return Array.from({ length: Math.floor(view.last / FILES) - from + 1 }, (_, index) => from + index)
  }, [view])
  const pages = useQueries({ queries: numbers.map((page) => findPage(job, question, page)) })
  const onView = useCallback((from: number, to: number) => setView({ first: from, last: to }), [])
  const row = (index: number): FoundFile | undefined => {
    const number = Math.floor(index / FILES)
    return (number === 0 ? first.data : pages[numbers.indexOf(number)]?.data)?.files[index - number * FILES]
  }
  return { first, row, onView, which, setWhich, search, setSearch, sort, setSort }
}

export type Found = ReturnType<typeof useFound>

/** The files that lie in the job's folders now: taken or skipped, and by which rule. */
export function FilesFound({ job, set, right }: { job: string; set: Record<string, string>; right: ReactNode }) {
  const found = useFound(
    job,
    useMemo(() => ({ changes: NONE, set }), [set]),
  )
  const { first } = found
  if (first.isPending)
    return (
      <Section title="Files found now">
        <Box sx={{ minHeight: 240 }}>
          <Wait what="Looking into the folders" />
        </Box>
      </Section>
    )
  if (first.isError)
    return (
      <Section title="Files found now">
        <Trouble error={first.error} />
      </Section>
    )
  return (
    <Section title="Files found now" right={right}>
      <FoundTroubles view={first.data} />
      {first.data.counts.map((counts) => (
        <RuleCountsView key={counts.place} counts={counts} />
      ))}
      <FoundTable job={job} found={found} view={first.data} maxHeight="45vh" />
    </Section>
  )
}

/** Folders that could not be searched, lists with names that lead nowhere, files that are nearly taken. */
export function FoundTroubles({ view }: { view: FindView }) {
  return (
    <>
      {view.troubles.map((trouble) => (
        <Alert key={trouble.what} severity={trouble.grave ? 'error' : 'warning'} variant="outlined" sx={{ mb: 1 }}>
          {trouble.what}. {trouble.hint}
        </Alert>
      ))}
      {view.nearly.length > 0 && (
        <Alert severity="warning" variant="outlined" sx={{ mb: 1 }}>
          {view.nearly.map((one) => (
            <div key={one}>{one}</div>
          ))}
        </Alert>
      )}
    </>
  )
}

function columns(view: FindView): TableColumn<FoundFile>[] {
  const longest = (text: (file: FoundFile) => string, least: number, most: number) =>
    Math.max(
      least,
      Math.min(
        most,
        view.files.slice(0, 100).reduce((width, file) => Math.max(width, text(file).length), 0),
      ),
    )
  const facts = (file: FoundFile) =>
    Object.entries(file.facts)
      .map(([name, value]) => `${name}=${value}`)
      .join(' ')
  const known = (file: FoundFile) => (file.taken ? file.status + (file.run ? `, run ${file.run}` : '') : '')
  const rule = (file: FoundFile) => (file.waiting ? `waiting: ${file.waiting}` : file.rule)
  return [
    {
      key: 'relative',
      title: 'File',
      width: longest((file) => file.relative, 16, 44) + 2,
      mono: true,
      pinned: true,
      render: (file) => (
        <span title={file.path}>
          <Box
            component="span"
            aria-label={file.waiting ? 'waiting' : file.taken ? 'taken' : 'skipped'}
            sx={{ display: 'inline-block', width: '1.4em', color: file.taken ? 'primary.main' : 'text.secondary' }}
          >
            {file.waiting ? '~' : file.taken ? '+' : '−'}
          </Box>
          {file.relative}
        </span>
      ),
    },
    ...(view.counts.length > 1
      ? [
          {
            key: 'place',
            title: 'Place',
            width: 6,
            render: (file: FoundFile) => (
              <span title={view.counts.find((counts) => counts.place === file.place)?.folder}>{file.place}</span>
            ),
          },
        ]
      : []),
    {
      key: 'size',
      title: 'Size',
      width: 7,
      right: true,
      mono: true,
      render: (file) => <span title={`${grouped(file.size)} bytes`}>{size(file.size)}</span>,
    },
    {
      key: 'rule',
      title: 'Rule',
      width: longest(rule, 18, 40),
      render: (file) => (
        <Box component="span" title={rule(file)} sx={{ color: file.taken ? undefined : 'text.secondary' }}>
          {rule(file)}
        </Box>
      ),
    },
    ...(view.files.some((file) => facts(file))
      ? [
          {
            key: 'facts',
            title: 'Its name says',
            width: longest(facts, 14, 40),
            fixed: true,
            mono: true,
            render: (file: FoundFile) => <span title={facts(file)}>{facts(file)}</span>,
          },
        ]
      : []),
    { key: 'known', title: 'Known as', width: 15, fixed: true, render: known },
    { key: 'modified', title: 'Modified', width: 16, mono: true, render: (file) => <Minute at={file.modified} /> },
    ...(view.counts.some((counts) => counts.steps.some((step) => step.key === 'created'))
      ? [
          {
            key: 'created',
            title: 'Created',
            width: 16,
            mono: true,
            render: (file: FoundFile) => <Minute at={file.created} />,
          },
        ]
      : []),
  ]
}

/** A moment without its zone, which it has when one points at it. */
function Minute({ at }: { at: string | undefined }) {
  const whole = moment(at)
  return <span title={whole}>{whole.slice(0, 16)}</span>
}

export function FoundTable({
  job,
  found,
  view,
  maxHeight,
}: {
  job: string
  found: Found
  view: FindView
  maxHeight: string
}) {
  const address = useAddress()
  const peeked = address.get('peek') ?? null
  const peek = (file: string | null) => address.set('peek', file ?? undefined)
  const { which, setWhich, search, setSearch, sort, setSort } = found
  const counts: Record<Which, number> = {
    all: view.seen,
    taken: view.taken,
    waiting: view.waiting,
    skipped: view.skipped,
  }
  const table = useMemo(() => columns(view), [view])
  const onSort = (key: string) => setSort({ key, descending: sort.key === key && !sort.descending })
  return (
    <>
      <Stack direction="row" sx={{ gap: 2, mb: 1, alignItems: 'center', flexWrap: 'wrap' }}>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={which}
          onChange={(_, value: Which | null) => value && setWhich(value)}
          aria-label="Which files"
        >
          {WHICH.map((one) => (
            <ToggleButton key={one} value={one} sx={{ py: 0.25 }}>
              {one} {grouped(counts[one])}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
        <TextField
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          placeholder="only names or rules with …"
          variant="standard"
          size="small"
          sx={{ width: 220 }}
          slotProps={{ htmlInput: { 'aria-label': 'Narrow the list' } }}
        />
        {search && (
          <Typography variant="body2" color="textSecondary">
            {counted(view.matching, 'file')}
          </Typography>
        )}
      </Stack>
      <DataTable
        label="Files found"
        columns={table}
        count={view.matching}
        row={found.row}
        onView={found.onView}
        sort={[sort]}
        onSort={onSort}
        maxHeight={maxHeight}
        onOpen={(file) => peek(file.relative)}
        empty={
          view.seen === 0
            ? 'There are no files here. Is the folder the right one, and how deep should be searched?'
            : 'No file is of this kind.'
        }
      />
      {peeked !== null && <PeekDialog job={job} file={peeked} onClose={() => peek(null)} />}
    </>
  )
}

/** What a rule did, in words. */
export const whatRemains = (step: RuleCounts['steps'][number]) =>
  step.last ? 'removed the last' : `${grouped(step.remain)} remain`

/** How many files remain after each rule of a place; the one that removed the last file stands out. */
export function RuleCountsView({ counts }: { counts: RuleCounts }) {
  return (
    <Box
      role="list"
      aria-label={`Rules of ${counts.folder}`}
      sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2.5, rowGap: 0.25, mb: 1 }}
    >
      <Typography role="listitem" variant="body2">
        {counts.folder}: {counted(counts.seen, 'file')}
      </Typography>
      {counts.steps.map((step) => (
        <Typography
          key={step.rule}
          role="listitem"
          variant="body2"
          sx={{ color: step.last ? 'error.main' : 'text.secondary' }}
        >
          <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
            {step.rule}
          </Box>{' '}
          {whatRemains(step)}
        </Typography>
      ))}
    </Box>
  )
}
