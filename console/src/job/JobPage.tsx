import { Box, Button, Link as Anchor, Stack, Typography } from '@mui/material'
import { useState } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { useCheck, useCopy, useJob, useRename, useStartRun, useTrial } from '../api/hooks'
import type { CheckView, JobDetail, ReportView } from '../api/client'
import { RunBalance } from '../ui/BalanceBar'
import { afterwards, counted, moment } from '../ui/format'
import { Words } from '../rejects/ReasonList'
import { JobCalendar } from '../calendar/JobCalendar'
import { NameDialog } from '../ui/NameDialog'
import { Mistakes, Section, Trouble, Wait } from '../ui/State'
import { RunTable } from '../run/RunTable'
import { Trend } from '../run/Trend'
import { JobSchedule } from '../schedule/JobSchedule'
import { DeleteJob } from './DeleteJob'
import { FilesFound } from './FilesFound'
import { Given } from './Given'

/** A job, from top to bottom like its file; beside it what it would take now. */
export function JobPage() {
  const name = useParams().job!
  return <Named key={name} name={name} />
}

function Named({ name }: { name: string }) {
  const [set, setSet] = useState<Record<string, string>>({})
  const job = useJob(name, set)
  if (job.isPending) return <Wait what={`Reading ${name}`} />
  if (job.isError) return <Trouble error={job.error} />
  return <Loaded job={job.data} set={set} onSet={setSet} />
}

interface LoadedProps {
  job: JobDetail
  /** Values given for this time. */
  set: Record<string, string>
  onSet: (set: Record<string, string>) => void
}

function Loaded({ job, set, onSet }: LoadedProps) {
  const [naming, setNaming] = useState<'copy' | 'rename' | null>(null)
  const copy = useCopy(job.name)
  const rename = useRename('jobs', job.name)
  const navigate = useNavigate()
  const start = useStartRun(job.name)
  const check = useCheck(job.name)
  const trial = useTrial(job.name)
  const usable = job.problems.length === 0
  const run = () => start.mutate(set, { onSuccess: (started) => void navigate(`/runs/${started.run}`) })
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 2.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">{job.name}</Typography>
        {job.into && (
          <Typography>
            →{' '}
            <Anchor component={Link} to={`/datasets/${job.into}`}>
              {job.into}
            </Anchor>
          </Typography>
        )}
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {job.about}
        </Typography>
        <DeleteJob job={job.name} into={job.into ?? ''} />
        <Button onClick={() => setNaming('rename')}>Rename …</Button>
        <Button onClick={() => setNaming('copy')}>Copy …</Button>
        <Button component={Link} to={`/jobs/${job.name}/edit`}>
          Edit
        </Button>
        <Button component={Link} to={`/jobs/${job.name}/fit`} disabled={!usable}>
          Fit
        </Button>
        <Button component={Link} to={`/jobs/${job.name}/profile`} disabled={!usable}>
          Profile
        </Button>
        <Button component={Link} to={`/jobs/${job.name}/rows`} disabled={!usable}>
          Rows
        </Button>
        <Button onClick={() => check.mutate(set)} disabled={check.isPending}>
          Check
        </Button>
        <Button onClick={() => trial.mutate(set)} disabled={!usable || trial.isPending}>
          {trial.isPending ? 'Trying …' : 'Try'}
        </Button>
        {job.running ? (
          <Button variant="contained" component={Link} to={`/runs/${job.running}`}>
            Run {job.running} is going on
          </Button>
        ) : (
          <Button variant="contained" onClick={run} disabled={!usable || start.isPending}>
            Run
          </Button>
        )}
      </Stack>
      {naming === 'copy' && (
        <NameDialog
          title={`Copy ${job.name}`}
          label="Name of the new job"
          button="Copy"
          busy={copy.isPending}
          error={copy.error}
          onClose={() => setNaming(null)}
          onDo={(name) => copy.mutate(name, { onSuccess: (made) => void navigate(`/jobs/${made.name}/find`) })}
        >
          Its file is copied as it stands, comments and all. Nothing is loaded until the new job runs; if it runs by
          itself, it is paused first.
        </NameDialog>
      )}
      {naming === 'rename' && (
        <NameDialog
          title={`Rename ${job.name}`}
          label="New name"
          button="Rename"
          name={job.name}
          busy={rename.isPending}
          error={rename.error}
          onClose={() => setNaming(null)}
          onDo={(name) => rename.mutate(name, { onSuccess: (done) => void navigate(`/jobs/${done.name}`) })}
        >
          Its file, its history and the rows that it loaded get the new name. Files that it loaded stay unchanged for
          it.
        </NameDialog>
      )}
      <Given used={job.values} set={set} onSet={onSet} />
      {start.isError && <Trouble error={start.error} />}
      {check.isError && <Trouble error={check.error} />}
      {trial.isError && <Trouble error={trial.error} />}
      {check.data && <Checked check={check.data} />}
      {trial.data && <Tried report={trial.data} />}
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(20rem, 5fr) minmax(0, 9fr)' },
          columnGap: 4,
        }}
      >
        <Box>
          <Definition job={job} />
        </Box>
        <Box>
          {usable && (
            <FilesFound
              job={job.name}
              set={set}
              right={
                <Anchor component={Link} to={`/jobs/${job.name}/find`}>
                  change the rules →
                </Anchor>
              }
            />
          )}
          <JobCalendar job={job.name} />
          <JobSchedule job={job.name} />
          {job.lastRun && (
            <Section
              title={`Last run, ${moment(job.lastRun.startedAt ?? job.lastRun.queuedAt)}`}
              right={
                <Anchor component={Link} to={`/runs/${job.lastRun.run}`}>
                  run {job.lastRun.run} {job.lastRun.state} →
                </Anchor>
              }
            >
              <RunBalance run={job.lastRun} to={(outcome) => `/runs/${job.lastRun.run}?outcome=${outcome}`} />
            </Section>
          )}
          <Trend job={job.name} />
          <Section title="History">
            <RunTable job={job.name} maxHeight="40vh" />
          </Section>
        </Box>
      </Box>
    </>
  )
}

const SECTIONS = ['find', 'read', 'map', 'keep', 'load', 'rejects', 'after', 'when', 'due'] as const

const MOST_SENTENCES = 20

function Definition({ job }: { job: JobDetail }) {
  const [asText, setAsText] = useState(job.problems.length > 0)
  return (
    <Section
      title="What it does"
      right={
        <Stack direction="row" sx={{ gap: 1.5, alignItems: 'baseline' }}>
          {job.problems.length > 0 && (
            <Anchor component={Link} to={`/jobs/${job.name}/find`}>
              change the rules →
            </Anchor>
          )}
          <Button onClick={() => setAsText(!asText)}>{asText ? 'In words' : 'As its file'}</Button>
        </Stack>
      }
    >
      {job.problems.length > 0 && (
        <Box sx={{ color: 'error.main', mb: 1 }}>
          <Mistakes problems={job.problems} />
        </Box>
      )}
      {asText || !job.explanation ? (
        <Box
          component="pre"
          aria-label={`jobs/${job.name}.yaml`}
          sx={{
            m: 0,
            p: 1.5,
            border: 1,
            borderColor: 'divider',
            overflow: 'auto',
            fontFamily: (theme) => theme.mono,
            fontSize: '0.78rem',
            lineHeight: 1.5,
            maxHeight: '70vh',
          }}
        >
          {job.text}
        </Box>
      ) : (
        SECTIONS.filter((section) => job.explanation[section].length > 0).map((section) => (
          <Box
            key={section}
            sx={{ display: 'grid', gridTemplateColumns: '4.5rem 1fr', borderTop: 1, borderColor: 'divider', py: 1 }}
          >
            <Typography
              sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem', color: 'text.secondary', pt: '2px' }}
            >
              {section}
            </Typography>
            <Stack sx={{ gap: 0.5 }}>
              <Sentences all={job.explanation[section]} />
            </Stack>
          </Box>
        ))
      )}
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        It is defined in jobs/{job.name}.yaml{job.version ? `, version ${job.version}` : ''}.
      </Typography>
    </Section>
  )
}

/** Of very many sentences the first, and a button for the others. */
function Sentences({ all }: { all: string[] }) {
  const [whole, setWhole] = useState(all.length <= MOST_SENTENCES + 5)
  return (
    <>
      {(whole ? all : all.slice(0, MOST_SENTENCES)).map((sentence) => (
        <Typography key={sentence} variant="body2">
          {sentence}
        </Typography>
      ))}
      {!whole && (
        <Button size="small" sx={{ alignSelf: 'start' }} onClick={() => setWhole(true)}>
          {all.length - MOST_SENTENCES} more
        </Button>
      )}
    </>
  )
}

/** What is wrong with rows, each cause once: with the first of them, and how many there are in how many files. */
function causes(files: CheckView['files']) {
  const all = new Map<string, CheckView['files'][number]['suspects'][number] & { file: string; files: number }>()
  for (const file of files) {
    for (const suspect of file.suspects) {
      const key = suspect.column + ' ' + suspect.code
      const known = all.get(key)
      if (known) {
        known.rows += suspect.rows
        known.files++
      } else {
        all.set(key, { ...suspect, file: file.name, files: 1 })
      }
    }
  }
  return [...all.values()]
}

function Checked({ check }: { check: CheckView }) {
  const refused = check.files.filter((file) => file.code)
  const suspects = causes(check.files)
  const fitting = check.files.filter((file) => !file.code)
  const rows = fitting.reduce((sum, file) => sum + file.rows, 0)
  const rejected = fitting.reduce((sum, file) => sum + file.rejected, 0)
  const whole = fitting.every((file) => file.whole || file.rows === 0)
  return (
    <Section
      title={
        check.canRun
          ? check.clean
            ? 'Checked: it can run, and nothing would be rejected so far'
            : 'Checked: it can run'
          : 'Checked: it cannot run'
      }
    >
      <Mistakes problems={check.problems} />
      {check.warnings.map((warning) => (
        <Typography key={warning}>{warning}</Typography>
      ))}
      {refused.map((file) => (
        <Box key={file.path} sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
          <Typography>
            <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
              {file.name}
            </Box>{' '}
            would be rejected: {file.sentence}
          </Typography>
          <Typography variant="body2" color="textSecondary">
            <Words text={file.cure} />
          </Typography>
        </Box>
      ))}
      {suspects.map((suspect) => (
        <Box key={suspect.column + suspect.code} sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
          <Typography>
            <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
              {suspect.file}:{suspect.line}
            </Box>{' '}
            {counted(suspect.rows, 'row')}
            {suspect.files > 1 ? ` of ${suspect.files} files` : ''} would be rejected
            {suspect.column ? ` for ${suspect.column}` : ''}: {suspect.sentence}
          </Typography>
          <Typography variant="body2" color="textSecondary">
            <Words text={suspect.cure} />
          </Typography>
        </Box>
      ))}
      {fitting.length > 0 && (
        <Typography sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
          Looked at {counted(rows, 'row')} ({whole ? 'all there are' : 'the first 200 of each file'});{' '}
          {rejected === 0 ? 'none' : rejected} would be rejected.
        </Typography>
      )}
      {[...new Set(check.files.flatMap((file) => (file.after ? afterwards(file.after) : [])))].map((action) => (
        <Typography
          key={action}
          variant="body2"
          color="textSecondary"
          sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}
        >
          Afterwards{' '}
          {counted(check.files.filter((file) => file.after && afterwards(file.after) === action).length, 'file')} would
          be {action}.
        </Typography>
      ))}
    </Section>
  )
}

function Tried({ report }: { report: ReportView }) {
  return (
    <Section title={`Tried, nothing written (${report.run.seconds} s)`}>
      {report.run.failure && (
        <Typography color="error">
          A run would be {report.run.state}: {report.run.failure}.
        </Typography>
      )}
      <Box sx={{ mb: 2 }}>
        <RunBalance run={report.run} />
      </Box>
      {report.reasons.length === 0 ? (
        <Typography color="textSecondary">Nothing would be rejected.</Typography>
      ) : (
        report.reasons.map((reason) => (
          <Typography key={reason.code + reason.column} variant="body2" sx={{ py: 0.4 }}>
            <strong>{reason.count}</strong> {reason.level}
            {reason.count > 1 ? 's' : ''} · {reason.code}
            {reason.column ? ` · ${reason.column}` : ''} · {reason.samples[0]?.sentence} ({reason.samples[0]?.file}
            {reason.samples[0]?.line ? `:${reason.samples[0].line}` : ''})
          </Typography>
        ))
      )}
    </Section>
  )
}
