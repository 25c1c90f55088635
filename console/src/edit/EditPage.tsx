import {
  Accordion,
  AccordionDetails,
  AccordionSummary,
  Box,
  Button,
  Link as Anchor,
  Stack,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from '@mui/material'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import type { EditView } from '../api/client'
import { useEdit, useEditChange, useSaveText, useSchema, useTimes } from '../api/hooks'
import { NextTimes } from '../schedule/JobSchedule'
import { StageView } from '../rows/StageView'
import { useAddress } from '../ui/address'
import { useSettled } from '../ui/settled'
import { Mistakes, Section, Trouble, Wait } from '../ui/State'
import { Conflict } from './Conflict'
import { inside, type Schema } from './schema'
import { NewName, SectionForm, type SetKey } from './SectionForm'
import { YamlEditor } from './YamlEditor'

const NO_VALUES = {}
/** Milliseconds without a key after which somebody has stopped typing. */
const TYPING = 40
/** The sections of a job that are forms, as its file has them; those that are one key each stand together. */
const SINGLE = ['keep', 'load', 'deleted', 'newest_by', 'same_name', 'commit'] as const

type Kind = 'jobs' | 'datasets'

/** What somebody is writing, and from which saved text it began. */
interface Work {
  text: string
  base: EditView
}

/** A job and its dataset, as forms or as their text; beside them the rows as they would become. */
export function EditPage() {
  const job = useParams().job!
  return <Loading key={job} job={job} />
}

function Loading({ job }: { job: string }) {
  const saved = useEdit('jobs', job)
  const into = typeof saved.data?.sections.into === 'string' ? saved.data.sections.into : ''
  const dataset = useEdit('datasets', into, undefined, into !== '')
  if (saved.isPending || (into && dataset.isPending)) return <Wait what={`Reading ${job}`} />
  if (saved.isError) return <Trouble error={saved.error} />
  return <Editing job={job} into={into} savedJob={saved.data} savedDataset={dataset.data} />
}

interface EditingProps {
  job: string
  into: string
  savedJob: EditView
  savedDataset: EditView | undefined
}

function Editing({ job, into, savedJob, savedDataset }: EditingProps) {
  const address = useAddress()
  const which: Kind = address.get('edit') === 'dataset' && savedDataset ? 'datasets' : 'jobs'
  const asText = address.get('as') === 'text'
  const [jobWork, setJobWork] = useState<Work>({ text: savedJob.text, base: savedJob })
  const [datasetWork, setDatasetWork] = useState<Work | undefined>(
    savedDataset && { text: savedDataset.text, base: savedDataset },
  )
  const work = which === 'jobs' ? jobWork : datasetWork!
  const setText = (text: string) =>
    which === 'jobs' ? setJobWork({ ...jobWork, text }) : setDatasetWork({ ...datasetWork!, text })
  const looked = useEdit(which, which === 'jobs' ? job : into, useSettled(work.text, TYPING))
  const jobText = useSettled(jobWork.text, TYPING)
  const datasetText = useSettled(datasetWork?.text, TYPING)
  const view = looked.data ?? work.base
  const other = which === 'jobs' ? datasetWork : jobWork
  const changed = work.text !== work.base.saved
  const otherChanged = other !== undefined && other.text !== other.base.saved
  const save = useSaveText(which, which === 'jobs' ? job : into)
  const name = which === 'jobs' ? `jobs/${job}.yaml` : `datasets/${into}.yaml`
  const keep = () =>
    save.mutate(
      { text: work.text, version: work.base.savedVersion },
      {
        onSuccess: (saved) =>
          which === 'jobs'
            ? setJobWork({ text: saved.text, base: saved })
            : setDatasetWork({ text: saved.text, base: saved }),
      },
    )
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">Edit {job}</Typography>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={which}
          onChange={(_, next: Kind | null) => next && address.set('edit', next === 'datasets' ? 'dataset' : undefined)}
          aria-label="Which file"
        >
          <ToggleButton value="jobs" sx={{ py: 0.25 }}>
            job{jobWork.text !== jobWork.base.saved ? ' *' : ''}
          </ToggleButton>
          <ToggleButton value="datasets" sx={{ py: 0.25 }} disabled={!datasetWork}>
            dataset {into}
            {datasetWork && datasetWork.text !== datasetWork.base.saved ? ' *' : ''}
          </ToggleButton>
        </ToggleButtonGroup>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={asText ? 'text' : 'form'}
          onChange={(_, next: string | null) => next && address.set('as', next === 'text' ? 'text' : undefined)}
          aria-label="How to edit"
        >
          <ToggleButton value="form" sx={{ py: 0.25 }}>
            form
          </ToggleButton>
          <ToggleButton value="text" sx={{ py: 0.25 }}>
            text
          </ToggleButton>
        </ToggleButtonGroup>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {changed ? `${name} is changed and not saved` : `${name}, as it is saved`}
          {otherChanged ? '; so is the other file' : ''}
        </Typography>
        <Button onClick={() => setText(work.base.saved)} disabled={!changed}>
          Take back
        </Button>
        <Button
          variant="contained"
          onClick={keep}
          disabled={!changed || view.problems.length > 0 || save.isPending || view.text !== work.text}
        >
          Save
        </Button>
        <Anchor component={Link} to={`/jobs/${job}`}>
          to the job
        </Anchor>
      </Stack>
      {save.isError && (
        <Conflict
          error={save.error}
          kind={which}
          name={which === 'jobs' ? job : into}
          mine={work.text}
          onBase={(base, text) => {
            save.reset()
            if (which === 'jobs') setJobWork({ text, base })
            else setDatasetWork({ text, base })
          }}
        />
      )}
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(0, 6fr) minmax(0, 8fr)' },
          columnGap: 4,
        }}
      >
        <Box>
          <Written which={which} job={job} into={into} view={view} text={work.text} asText={asText} onText={setText} />
        </Box>
        <Box sx={{ position: { md: 'sticky' }, top: 0, alignSelf: 'start' }}>
          <Section title="Rows with this definition">
            <StageView
              job={job}
              set={NO_VALUES}
              text={jobText}
              {...(datasetText === undefined ? {} : { datasetText })}
              maxHeight="56vh"
              quiet={view.problems.length > 0}
            />
          </Section>
        </Box>
      </Box>
    </>
  )
}

interface WrittenProps {
  which: Kind
  job: string
  into: string
  view: EditView
  text: string
  asText: boolean
  onText: (text: string) => void
}

function Written({ which, job, into, view, text, asText, onText }: WrittenProps) {
  const schema = useSchema(which === 'jobs' ? 'job' : 'dataset').data as Schema | undefined
  const file = which === 'jobs' ? `jobs/${job}.yaml` : `datasets/${into}.yaml`
  const setKey = useChange(which, which === 'jobs' ? job : into, text, onText)
  const own = view.problems.filter((problem) => problem.file === file && problem.line > 0)
  return (
    <>
      {view.problems.length > 0 && (
        <Box sx={{ color: 'error.main', mb: 1 }} role="status">
          <Mistakes problems={view.problems} />
        </Box>
      )}
      {setKey.error !== null && <Trouble error={setKey.error} />}
      {asText ? (
        <YamlEditor
          key={file}
          label={file}
          value={text}
          onChange={onText}
          problems={own}
          schema={schema}
          maxHeight="68vh"
        />
      ) : which === 'jobs' ? (
        <JobForm schema={schema} view={view} job={job} into={into} onSet={setKey.set} />
      ) : (
        <DatasetForm schema={schema} view={view} onSet={setKey.set} />
      )}
    </>
  )
}

/** Lets the service make a change in the text. */
function useChange(which: Kind, name: string, text: string, onText: (text: string) => void) {
  const edit = useEditChange(which, name)
  const set: SetKey = (path, value) =>
    edit.mutate({ text, changes: [{ path, value }] }, { onSuccess: (made) => onText(made.text) })
  return { set, error: edit.error }
}

function JobForm({
  schema,
  view,
  job,
  into,
  onSet,
}: {
  schema: Schema | undefined
  view: EditView
  job: string
  into: string
  onSet: SetKey
}) {
  const singles: Schema = {
    properties: Object.fromEntries(
      SINGLE.flatMap((key) => (schema?.properties?.[key] ? [[key, schema.properties[key]]] : [])),
    ),
  }
  return (
    <>
      <Section title="Read">
        <SectionForm schema={inside(schema, 'read')} path={['read']} value={view.sections.read} onSet={onSet} />
      </Section>
      <Section title="Map">
        <Columns
          into={into}
          schema={inside(inside(schema, 'map'), '*')}
          said={(view.sections.map ?? {}) as Record<string, unknown>}
          onSet={(column, path, value) => onSet(['map', column, ...path], value)}
        />
      </Section>
      <Section title="Keep and load">
        <SectionForm schema={singles} path={[]} value={view.sections} onSet={onSet} />
      </Section>
      <Section title="Duplicates">
        <SectionForm
          schema={inside(schema, 'duplicates')}
          path={['duplicates']}
          value={view.sections.duplicates}
          onSet={onSet}
        />
      </Section>
      <Section title="Rejects">
        <SectionForm
          schema={inside(schema, 'rejects')}
          path={['rejects']}
          value={view.sections.rejects}
          onSet={onSet}
        />
      </Section>
      <Section title="After">
        {['loaded', 'rejected', 'waiting'].map((what) => (
          <Box key={what} sx={{ mb: 1.5 }}>
            <Typography variant="body2" color="textSecondary">
              {what}
            </Typography>
            <SectionForm
              schema={inside(inside(schema, 'after'), what)}
              path={['after', what]}
              value={(view.sections.after as Record<string, unknown> | undefined)?.[what]}
              onSet={onSet}
            />
          </Box>
        ))}
      </Section>
      <Section title="When">
        <SectionForm schema={inside(schema, 'when')} path={['when']} value={view.sections.when} onSet={onSet} />
        {view.sections.when !== undefined && <Times job={job} text={view.text} />}
      </Section>
      <Section title="Who is told">
        <Typography variant="body2" color="textSecondary">
          {view.sections.notify === undefined
            ? 'Nobody, as far as this file says: notify: [{by: ACCOUNT, to: ADDRESS}].'
            : 'As the list notify in the text says.'}
        </Typography>
      </Section>
      <Section title="What is due">
        <SectionForm schema={inside(schema, 'due')} path={['due']} value={view.sections.due} onSet={onSet} />
      </Section>
    </>
  )
}

/** When the job would run next. */
function Times({ job, text }: { job: string; text: string }) {
  const times = useTimes(job, text)
  if (!times.data) return null // what is wrong stands above
  return (
    <Box sx={{ mt: 1 }}>
      <Typography variant="body2" color="textSecondary">
        {times.data.words.join(' ')}
      </Typography>
      <NextTimes schedule={times.data} />
    </Box>
  )
}

/** Each column of the dataset by itself; closed ones say how they come about. */
function Columns({
  into,
  schema,
  said,
  onSet,
}: {
  into: string
  schema: Schema | undefined
  said: Record<string, unknown>
  onSet: (column: string, path: string[], value: unknown) => void
}) {
  const dataset = useEdit('datasets', into, undefined, into !== '')
  const declared = (dataset.data?.sections.columns ?? []) as { name?: string; type?: string }[]
  return (
    <ColumnList
      columns={declared.map((column) => {
        const how = said[column.name ?? '']
        return {
          name: column.name ?? '',
          type: column.type ?? '',
          says: how === undefined ? 'its own name' : typeof how === 'string' ? how : JSON.stringify(how).slice(1, -1),
          value: typeof how === 'string' ? { from: how } : how,
        }
      })}
      schema={schema}
      onSet={onSet}
    />
  )
}

function DatasetForm({ schema, view, onSet }: { schema: Schema | undefined; view: EditView; onSet: SetKey }) {
  const declared = (view.sections.columns ?? []) as Record<string, unknown>[]
  const [fresh, setFresh] = useState('')
  return (
    <Section title="Columns">
      <ColumnList
        columns={declared.map((column) => ({
          name: String(column.name ?? ''),
          type: String(column.type ?? ''),
          says: Object.entries(column)
            .filter(([key]) => key !== 'name' && key !== 'type')
            .map(([key, value]) => `${key}: ${typeof value === 'string' ? value : JSON.stringify(value)}`)
            .join(', '),
          value: column,
        }))}
        schema={schema?.properties?.columns?.items}
        without={['name']}
        onSet={(column, path, value) => onSet(['columns', column, ...path], value)}
        onRemove={(column) => onSet(['columns', column], null)}
      />
      <NewName
        label="a new column"
        text={fresh}
        onText={setFresh}
        onDo={() => {
          if (fresh.trim()) onSet(['columns', fresh.trim(), 'type'], 'text')
          setFresh('')
        }}
      />
    </Section>
  )
}

interface ColumnListProps {
  columns: { name: string; type: string; says: string; value: unknown }[]
  schema: Schema | undefined
  without?: string[]
  onSet: (column: string, path: string[], value: unknown) => void
  onRemove?: (column: string) => void
}

function ColumnList({ columns, schema, without, onSet, onRemove }: ColumnListProps) {
  const [search, setSearch] = useState('')
  const shown = columns.filter((column) => column.name.toLowerCase().includes(search.toLowerCase()))
  return (
    <>
      {columns.length > 20 && (
        <TextField
          variant="standard"
          size="small"
          placeholder={`only columns with … (${columns.length})`}
          value={search}
          onChange={(event) => setSearch(event.target.value)}
          slotProps={{ htmlInput: { 'aria-label': 'Narrow the columns' } }}
        />
      )}
      <Box sx={{ maxHeight: '40vh', overflow: 'auto' }}>
        {shown.map((column) => (
          <Accordion
            key={column.name}
            disableGutters
            elevation={0}
            square
            slotProps={{ transition: { unmountOnExit: true } }}
            sx={{ borderTop: 1, borderColor: 'divider', bgcolor: 'transparent', '&::before': { display: 'none' } }}
          >
            <AccordionSummary
              sx={{ minHeight: 32, px: 0, '& .MuiAccordionSummary-content': { my: 0.5, gap: 1.5, minWidth: 0 } }}
            >
              <Typography
                component="span"
                sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem', fontWeight: 600 }}
              >
                {column.name}
              </Typography>
              <Typography component="span" variant="body2" color="textSecondary">
                {column.type}
              </Typography>
              <Typography
                component="span"
                noWrap
                sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.78rem', flex: 1 }}
              >
                {column.says}
              </Typography>
            </AccordionSummary>
            <AccordionDetails sx={{ px: 0, pb: 2 }}>
              <SectionForm
                schema={schema}
                path={[]}
                value={column.value}
                {...(without ? { without } : {})}
                onSet={(path, value) => onSet(column.name, path, value)}
              />
              {onRemove && columns.length > 1 && (
                <Button size="small" onClick={() => onRemove(column.name)}>
                  Take out {column.name}
                </Button>
              )}
            </AccordionDetails>
          </Accordion>
        ))}
      </Box>
    </>
  )
}
