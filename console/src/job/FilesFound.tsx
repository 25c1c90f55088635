import { Alert, Box, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { useMemo, useState } from 'react'
import type { FoundFile, Sieve } from '../api/client'
import { useFound } from '../api/hooks'
import { DataTable, type TableColumn } from '../parts/DataTable'
import { counted, grouped, moment, size } from '../parts/format'
import { Section, Trouble, Wait } from '../parts/State'

const COLUMNS: TableColumn<FoundFile>[] = [
  { key: 'relative', title: 'File', width: 26, mono: true, pinned: true, render: (file) => <span title={file.path}>{file.relative}</span> },
  { key: 'rule', title: 'Rule', width: 22, render: (file) => <Box component="span" sx={{ color: file.taken ? undefined : 'text.secondary' }}>{file.rule}</Box> },
  { key: 'status', title: 'Known as', width: 13, render: (file) => (file.taken ? file.status + (file.run ? `, run ${file.run}` : '') : '') },
  { key: 'size', title: 'Size', width: 7, right: true, mono: true, render: (file) => <span title={`${grouped(file.size)} bytes`}>{size(file.size)}</span> },
  { key: 'modified', title: 'Modified', width: 20, mono: true, render: (file) => moment(file.modified) },
]

type Which = 'all' | 'taken' | 'left'

/** The files that lie in the job's folders now: taken or left, and by which rule. */
export function FilesFound({ job }: { job: string }) {
  const found = useFound(job)
  const [which, setWhich] = useState<Which>('all')
  const [sort, setSort] = useState({ key: 'relative', descending: false })
  const files = useMemo(() => {
    const chosen = (found.data?.files ?? []).filter((file) => which === 'all' || file.taken === (which === 'taken'))
    const value = (file: FoundFile) => file[sort.key as keyof FoundFile] ?? ''
    const order = sort.descending ? -1 : 1
    return chosen.sort((a, b) => (value(a) < value(b) ? -order : value(a) > value(b) ? order : 0))
  }, [found.data, which, sort])
  if (found.isPending) return <Section title="Files found now"><Box sx={{ minHeight: 240 }}><Wait what="Looking into the folders" /></Box></Section>
  if (found.isError) return <Section title="Files found now"><Trouble error={found.error} /></Section>
  const onSort = (key: string) => setSort({ key, descending: sort.key === key && !sort.descending })
  return (
    <Section
      title="Files found now"
      right={
        <ToggleButtonGroup exclusive size="small" value={which} onChange={(_, value: Which | null) => value && setWhich(value)} aria-label="Which files">
          <ToggleButton value="all" sx={{ py: 0.25 }}>all {grouped(found.data.files.length)}</ToggleButton>
          <ToggleButton value="taken" sx={{ py: 0.25 }}>taken {grouped(found.data.taken)}</ToggleButton>
          <ToggleButton value="left" sx={{ py: 0.25 }}>left {grouped(found.data.left)}</ToggleButton>
        </ToggleButtonGroup>
      }
    >
      {found.data.troubles.map((trouble) => <Alert key={trouble.what} severity="error" variant="outlined" sx={{ mb: 1 }}>{trouble.what}. {trouble.hint}</Alert>)}
      {found.data.sieves.map((sieve) => <SieveView key={sieve.place} sieve={sieve} />)}
      <DataTable label="Files found" columns={COLUMNS} count={files.length} row={(index) => files[index]} sort={sort} onSort={onSort} empty="No files. Is the folder the right one, and does a take pattern match?" maxHeight="45vh" />
    </Section>
  )
}

/** What the rules of a place left over, one after another; the one that removed the last file stands out. */
function SieveView({ sieve }: { sieve: Sieve }) {
  let before = sieve.seen
  return (
    <Box role="list" aria-label={`Sieve of ${sieve.folder}`} sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2.5, rowGap: 0.25, mb: 1 }}>
      <Typography role="listitem" variant="body2">{sieve.folder}: {counted(sieve.seen, 'file')}</Typography>
      {sieve.steps.map((step) => {
        const last = step.left === 0 && before > 0
        before = step.left
        return (
          <Typography key={step.rule} role="listitem" variant="body2" sx={{ color: last ? 'error.main' : 'text.secondary' }}>
            <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>{step.rule}</Box> {last ? 'removed the last' : `${grouped(step.left)} left`}
          </Typography>
        )
      })}
    </Box>
  )
}
