import { Box, Button, Chip, Link as Anchor, Stack, Tab, Tabs, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import type { DatasetDetail } from '../api/client'
import { useCopyDataset, useDataset, useRename } from '../api/hooks'
import { useAddress } from '../ui/address'
import { counted } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'
import { NameDialog } from '../ui/NameDialog'
import { DatasetCalendar } from '../calendar/DatasetCalendar'
import { ColumnChoice } from './ColumnChoice'
import { CountsView } from './CountsView'
import { DeleteDataset } from './DeleteDataset'
import { DeliveriesView } from './DeliveriesView'
import { ExportDialog } from './ExportDialog'
import { RemoveRows } from './RemoveRows'
import { ProfileView } from './ProfileView'
import { questionOf } from './question'
import { RowsGrid } from './RowsGrid'
import { QueryMenu } from './SavedQueries'

/** A dataset: its rows with their source beside them, counts, columns. What is asked for stands in the address. */
export function DatasetPage() {
  const name = useParams().dataset!
  const dataset = useDataset(name)
  const address = useAddress()
  if (dataset.isPending) return <Wait what={`Reading ${name}`} />
  if (dataset.isError) return <Trouble error={dataset.error} />
  const question = questionOf(address)
  const { view, where, columns, sort } = question
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1, flexWrap: 'wrap' }}>
        <Typography variant="h1">{name}</Typography>
        <Typography>
          {counted(dataset.data.rows, 'row')} in {counted(dataset.data.parts, 'part')}
        </Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {dataset.data.about}
        </Typography>
        <DeleteDataset dataset={dataset.data} />
        <Naming key={name} dataset={name} />
      </Stack>
      <Stack direction="row" sx={{ alignItems: 'center', gap: 3, mb: 1.5, flexWrap: 'wrap' }}>
        <Tabs
          value={view}
          onChange={(_, value: string) => address.setAll({ view: value, sort: undefined })}
          sx={{ minHeight: 36, '& .MuiTab-root': { minHeight: 36, py: 0.5 } }}
        >
          <Tab value="rows" label="Rows" />
          <Tab value="counts" label="Counts" />
          <Tab value="profile" label="Profile" />
          <Tab value="deliveries" label="Deliveries" />
          <Tab value="arrivals" label="Arrivals" />
          <Tab value="columns" label="Columns and sources" />
        </Tabs>
        {!['columns', 'deliveries', 'arrivals'].includes(view) && (
          <>
            <Conditions where={where} onChange={(conditions) => address.set('where', conditions)} />
            <Stack direction="row" sx={{ ml: 'auto' }}>
              {view === 'rows' && (
                <ColumnChoice
                  all={dataset.data.columns.map((column) => column.name)}
                  chosen={columns}
                  onChoose={(chosen) => address.set('columns', chosen)}
                />
              )}
              {view === 'rows' && <ExportDialog dataset={dataset.data} question={question} />}
              {view !== 'profile' && <QueryMenu dataset={name} question={question} onAsk={address.setAll} />}
            </Stack>
          </>
        )}
      </Stack>
      {view === 'rows' && (
        <RowsGrid
          dataset={name}
          where={where}
          columns={columns}
          sort={sort}
          onSort={(sort) => address.set('sort', sort)}
        />
      )}
      {view === 'counts' && <CountsView dataset={dataset.data} question={question} onAsk={address.setAll} />}
      {view === 'profile' && (
        <ProfileView
          dataset={name}
          where={where}
          column={address.get('column')}
          onColumn={(column) => address.set('column', column)}
        />
      )}
      {view === 'deliveries' && (
        <DeliveriesView
          dataset={name}
          delivery={address.get('delivery')}
          onDelivery={(delivery) => address.set('delivery', delivery)}
        />
      )}
      {view === 'arrivals' && <DatasetCalendar dataset={name} />}
      {view === 'columns' && <Columns dataset={dataset.data} />}
    </>
  )
}

/** Copies the dataset's columns under another name, or gives it another name itself. */
function Naming({ dataset }: { dataset: string }) {
  const [naming, setNaming] = useState<'copy' | 'rename' | null>(null)
  const copy = useCopyDataset(dataset)
  const rename = useRename('datasets', dataset)
  const navigate = useNavigate()
  const there = (made: { name: string }) => {
    setNaming(null)
    void navigate(`/datasets/${made.name}?view=columns`)
  }
  return (
    <>
      <Button onClick={() => setNaming('rename')}>Rename …</Button>
      <Button onClick={() => setNaming('copy')}>Copy …</Button>
      {naming === 'copy' && (
        <NameDialog
          title={`Copy ${dataset}`}
          label="Name of the new dataset"
          button="Copy"
          busy={copy.isPending}
          error={copy.error}
          onClose={() => setNaming(null)}
          onDo={(name) => copy.mutate(name, { onSuccess: there })}
        >
          Its columns are copied as they stand in its file, comments and all. The new dataset has no rows.
        </NameDialog>
      )}
      {naming === 'rename' && (
        <NameDialog
          title={`Rename ${dataset}`}
          label="New name"
          button="Rename"
          name={dataset}
          busy={rename.isPending}
          error={rename.error}
          onClose={() => setNaming(null)}
          onDo={(name) => rename.mutate(name, { onSuccess: there })}
        >
          Its file, the jobs that load into it, its history and the folder of its rows get the new name.
        </NameDialog>
      )}
    </>
  )
}

const CONDITIONS =
  'COLUMN = != < <= > >= VALUE, COLUMN ~ TEXT (holds it), COLUMN in (VALUE, VALUE), COLUMN between VALUE and VALUE, ' +
  "COLUMN like 'TEX%', COLUMN matches REGEX, COLUMN is empty, COLUMN is filled; joined with and, or, not and brackets. " +
  'Enter adds it.'

function Conditions({ where, onChange }: { where: string[]; onChange: (where: string[]) => void }) {
  const [text, setText] = useState('')
  return (
    <Stack direction="row" sx={{ alignItems: 'center', gap: 1, flexWrap: 'wrap' }}>
      {where.map((condition) => (
        <Chip
          key={condition}
          size="small"
          label={condition}
          onDelete={() => onChange(where.filter((one) => one !== condition))}
          sx={{ fontFamily: (theme) => theme.mono }}
        />
      ))}
      <Box
        component="form"
        onSubmit={(event) => {
          event.preventDefault()
          if (text.trim()) onChange([...where, text.trim()])
          setText('')
        }}
      >
        <TextField
          variant="standard"
          size="small"
          value={text}
          onChange={(event) => setText(event.target.value)}
          placeholder="only rows where, e.g. value > 40 or lab = East"
          sx={{ width: 310 }}
          title={CONDITIONS}
          slotProps={{ htmlInput: { 'aria-label': 'Condition' } }}
        />
      </Box>
    </Stack>
  )
}

function Columns({ dataset }: { dataset: DatasetDetail }) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: { xs: '1fr', md: '3fr 2fr' }, gap: 4 }}>
      <Section title="Columns">
        {dataset.columns.map((column) => (
          <Box
            key={column.name}
            sx={{
              display: 'grid',
              gridTemplateColumns: '12rem 9rem 5rem 1fr',
              borderTop: 1,
              borderColor: 'divider',
              py: 0.6,
            }}
          >
            <Typography sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.82rem' }}>{column.name}</Typography>
            <Typography variant="body2">{column.type}</Typography>
            <Typography variant="body2" color="textSecondary">
              {column.required ? 'required' : ''}
            </Typography>
            <Typography variant="body2">{column.about}</Typography>
          </Box>
        ))}
      </Section>
      <Section title="Where the rows come from">
        {dataset.jobs.map((job) => (
          <Box
            key={job.job}
            sx={{
              display: 'grid',
              gridTemplateColumns: '12rem 8rem 1fr',
              borderTop: 1,
              borderColor: 'divider',
              py: 0.6,
            }}
          >
            <Anchor component={Link} variant="body2" to={`/jobs/${job.job}`}>
              {job.job}
            </Anchor>
            <Typography variant="body2" sx={{ textAlign: 'right', pr: 2 }}>
              {counted(job.rows, 'row')}
            </Typography>
            <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline' }}>
              <Typography variant="body2" color="textSecondary">
                {counted(job.parts, 'part')}
              </Typography>
              <RemoveRows dataset={dataset.name} job={job.job} />
            </Stack>
          </Box>
        ))}
        <Typography variant="body2" color="textSecondary" sx={{ mt: 1.5 }}>
          Parquet files, for any other program to read: <code>{dataset.folder}</code>
        </Typography>
      </Section>
    </Box>
  )
}
