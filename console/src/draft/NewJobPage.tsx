import { Box, Button, MenuItem, Stack, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { ColumnChoice, Draft, ReadingChoice } from '../api/client'
import { useDatasets, useDraft, useSaveDraft, useStartDrafted } from '../api/hooks'
import { useAddress } from '../ui/address'
import { counted, grouped } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'
import { Columns } from './Columns'
import { FolderBrowser } from './FolderBrowser'
import { ReadingFields } from './ReadingFields'
import { Settings } from './Settings'

/** From a folder to a job, from top to bottom: what was concluded and why, corrected in place, saved, run. */
export function NewJobPage() {
  const address = useAddress()
  const paths = address.all('path')
  return (
    <>
      <Typography variant="h1" sx={{ mb: 1 }}>
        New job
      </Typography>
      <Typography color="textSecondary" sx={{ mb: 2, maxWidth: 720 }}>
        Choose a folder with files, or a file. Hapster looks at them and proposes a job and a dataset, with what each
        conclusion rests on. Nothing is saved before you say so.
      </Typography>
      <Section title="Folder and files">
        <FolderBrowser
          key={address.get('at') ?? ''}
          at={address.get('at') ?? ''}
          chosen={paths}
          onAt={(at) => address.set('at', at)}
          onChoose={(chosen) => address.set('path', chosen)}
        />
      </Section>
      {paths.length > 0 && <Drafted key={paths.join('\n')} paths={paths} />}
    </>
  )
}

function Drafted({ paths }: { paths: string[] }) {
  const [into, setInto] = useState('')
  const [name, setName] = useState('')
  const [thorough, setThorough] = useState(false)
  const [reading, setReading] = useState<ReadingChoice>({})
  const [columns, setColumns] = useState<Record<string, ColumnChoice>>({})
  const draft = useDraft({ paths, into, name, thorough, comments: false, reading, columns })
  const datasets = useDatasets()
  const choose = (header: string, choice: ColumnChoice) =>
    setColumns((before) => ({ ...before, [header]: { ...before[header], ...choice } }))
  return (
    <>
      <Stack direction="row" sx={{ gap: 2, alignItems: 'center', flexWrap: 'wrap', mb: 2 }}>
        <TextField
          select
          size="small"
          label="Dataset"
          value={into}
          onChange={(event) => setInto(event.target.value)}
          slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
          sx={{ minWidth: 220 }}
        >
          <MenuItem value="">a new one</MenuItem>
          {(datasets.data ?? []).map((one) => (
            <MenuItem key={one.name} value={one.name}>
              {one.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          size="small"
          label="Name of the job"
          defaultValue=""
          placeholder={draft.data?.jobs[0]?.name ?? ''}
          slotProps={{ inputLabel: { shrink: true } }}
          onBlur={(event) => setName(event.target.value.trim())}
        />
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {draft.data?.looked}
        </Typography>
        <Button onClick={() => setThorough(true)} disabled={draft.isFetching || (draft.data?.whole ?? false)}>
          Read every row
        </Button>
      </Stack>
      {isText(draft.data) && <ReadingFields reading={reading} onChange={setReading} />}
      {draft.isFetching && <Wait what="Looking at the files" />}
      {draft.isError && <Trouble error={draft.error} />}
      {draft.data && <Proposal draft={draft.data} fixed={into !== ''} onChoose={choose} />}
    </>
  )
}

/** Whether some of the files are text, so that it can be said how they are read. */
function isText(draft?: Draft) {
  return (
    draft?.jobs.some((job) => job.reading.some((one) => one.what === 'separator' || one.value === 'lines')) ?? false
  )
}

interface ProposalProps {
  draft: Draft
  /** Whether the dataset exists already. */
  fixed: boolean
  onChoose: (header: string, choice: ColumnChoice) => void
}

function Proposal({ draft, fixed, onChoose }: ProposalProps) {
  if (draft.jobs.length === 0) {
    return (
      <Section title="Nothing to load">
        <NotTaken draft={draft} />
      </Section>
    )
  }
  return (
    <>
      {draft.jobs.map((job) => (
        <Section
          key={job.name}
          title={`${job.name} → ${job.into}`}
          right={
            <Typography color="textSecondary">
              {counted(job.files, 'file')} in {job.folder}
            </Typography>
          }
        >
          <Settings job={job} />
          <Columns job={job} fixed={fixed} onChoose={onChoose} />
          <Tried job={job} />
        </Section>
      ))}
      <Section title="The definitions, as they will be saved">
        <Definitions draft={draft} />
      </Section>
      {draft.notTaken.length > 0 && (
        <Section title="Not taken">
          <NotTaken draft={draft} />
        </Section>
      )}
    </>
  )
}

function NotTaken({ draft }: { draft: Draft }) {
  return (
    <Stack sx={{ gap: 0.5 }}>
      {draft.notTaken.length === 0 && (
        <Typography color="textSecondary">This folder has no files. Choose another one.</Typography>
      )}
      {draft.notTaken.slice(0, 50).map((one) => (
        <Typography key={one.file} variant="body2">
          <Box component="span" sx={{ fontFamily: (theme) => theme.mono }}>
            {one.file}
          </Box>{' '}
          {one.why}
        </Typography>
      ))}
      {draft.notTaken.length > 50 && (
        <Typography variant="body2" color="textSecondary">
          and {grouped(draft.notTaken.length - 50)} more
        </Typography>
      )}
    </Stack>
  )
}

/** What becomes of the rows under these definitions. */
function Tried({ job }: { job: Draft['jobs'][number] }) {
  return (
    <Stack sx={{ gap: 0.5, mt: 1.5 }}>
      {job.doubts.map((doubt) => (
        <Typography key={doubt} variant="body2">
          <b>?</b> {doubt}
        </Typography>
      ))}
      <Typography>
        Tried on {job.whole ? 'all' : 'the first'} {counted(job.rows, 'row')}:{' '}
        {job.rejected === 0 ? (
          'none would be rejected'
        ) : (
          <Box component="span" sx={{ color: 'error.main', fontWeight: 600 }}>
            {grouped(job.rejected)} would be rejected
          </Box>
        )}
      </Typography>
      {job.rejects.map((one) => (
        <Typography key={one} variant="body2" sx={{ color: 'error.main' }}>
          {one}
        </Typography>
      ))}
    </Stack>
  )
}

/** The texts, which can be changed before they are saved. */
function Definitions({ draft }: { draft: Draft }) {
  const files = [
    ...draft.datasets.map((one) => ({ kind: 'datasets' as const, name: one.name, text: one.text })),
    ...draft.jobs.map((one) => ({ kind: 'jobs' as const, name: one.name, text: one.text })),
  ]
  const [changed, setChanged] = useState<Record<string, string>>({})
  const key = (file: (typeof files)[number]) => `${file.kind}/${file.name}.yaml`
  const save = useSaveDraft()
  const start = useStartDrafted()
  const navigate = useNavigate()
  const first = draft.jobs[0]!.name
  const texts = files.map((file) => ({ ...file, text: changed[key(file)] ?? file.text }))
  const run = () =>
    save.mutate(texts, {
      onSuccess: () => start.mutate(first, { onSuccess: (started) => void navigate(`/runs/${started.run}`) }),
    })
  const busy = save.isPending || start.isPending
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: '1fr 1fr' }, gap: 2 }}>
        {texts.map((file) => (
          <TextField
            key={key(file)}
            label={key(file)}
            multiline
            fullWidth
            value={file.text}
            onChange={(event) => setChanged((before) => ({ ...before, [key(file)]: event.target.value }))}
            slotProps={{
              inputLabel: { shrink: true },
              htmlInput: { spellCheck: false },
              input: { sx: { fontFamily: (theme) => theme.mono, fontSize: '0.8rem', lineHeight: 1.5 } },
            }}
          />
        ))}
      </Box>
      {save.isError && <Trouble error={save.error} />}
      {start.isError && <Trouble error={start.error} />}
      <Stack direction="row" sx={{ gap: 1.5, mt: 2 }}>
        <Button variant="contained" onClick={run} disabled={busy}>
          Save and run
        </Button>
        <Button
          onClick={() => save.mutate(texts, { onSuccess: () => void navigate(`/jobs/${first}`) })}
          disabled={busy}
        >
          Save
        </Button>
        {draft.jobs.length > 1 && (
          <Typography variant="body2" color="textSecondary" sx={{ alignSelf: 'center' }}>
            Saves all of them, and runs {first}.
          </Typography>
        )}
      </Stack>
    </>
  )
}
