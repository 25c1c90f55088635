import { Alert, Box, Button, Link as Anchor, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { useEffect, useState } from 'react'
import { Link, useLocation, useNavigate, useParams } from 'react-router'
import { download, type FileView, type Progress, type RunView } from '../api/client'
import { useCancel, useLabel, useProgress, useRetry, useRun, useRunFiles, useRunReasons } from '../api/hooks'
import { useAddress } from '../ui/address'
import { BalanceBar, OUTCOMES, outcomeName, RunBalance } from '../ui/BalanceBar'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, grouped, moment, size } from '../ui/format'
import { ReasonList } from '../rejects/ReasonList'
import { NameDialog } from '../ui/NameDialog'
import { Section, Trouble, Wait } from '../ui/State'
import { AsideSection } from './AsideSection'
import { Compared, FileByFile } from './Compared'
import { Definitions } from './Definitions'
import { RunLog } from './RunLog'
import { runKind } from './RunTable'
import { UndoButton } from './UndoButton'

/** A run: the balance, the files, the reasons. */
export function RunPage() {
  const number = Number(useParams().run)
  const run = useRun(number)
  if (run.isPending) return <Wait what={`Reading run ${number}`} />
  if (run.isError) return <Trouble error={run.error} />
  return <Loaded run={run.data} number={number} />
}

function Loaded({ run, number }: { run: RunView; number: number }) {
  const ended = run.state !== 'queued' && run.state !== 'running'
  const progress = useProgress(number, ended)
  const cancel = useCancel(number)
  const loads = run.kind === 'run' || run.kind === 'retry'
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 2, flexWrap: 'wrap' }}>
        <Typography variant="h1">Run {number}</Typography>
        <Typography>
          <Anchor component={Link} to={`/jobs/${run.job}`}>
            {run.job}
          </Anchor>{' '}
          →{' '}
          <Anchor component={Link} to={`/datasets/${run.into}`}>
            {run.into}
          </Anchor>
        </Typography>
        <Typography
          color={run.state === 'failed' || run.state === 'stopped' ? 'error' : 'textPrimary'}
          data-state={run.state}
          sx={{ fontWeight: 600 }}
        >
          {run.state}
        </Typography>
        {runKind(run) && <Typography sx={{ fontWeight: 600 }}>{runKind(run)}</Typography>}
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {moment(run.startedAt ?? run.queuedAt)}
          {run.seconds !== undefined ? ` · ${run.seconds.toFixed(1)} s` : ''}
          {run.again ? ' · unchanged files too' : ''}
          {run.jobVersion ? ` · job version ${run.jobVersion}` : ''}
        </Typography>
        {loads && <DefinitionsButton />}
        <LabelButton run={run} />
        {!ended && (
          <Button color="error" disabled={cancel.isPending || cancel.isSuccess} onClick={() => cancel.mutate()}>
            {cancel.isSuccess ? 'Stopping …' : 'Cancel; files finished so far stay'}
          </Button>
        )}
        {ended && loads && run.rows.rejected + run.files.rejected > 0 && <RetryButton run={run} />}
        {ended && !run.undoneBy && <UndoButton run={run} />}
      </Stack>
      {run.values.length > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ mt: -1, mb: 2 }}>
          with {run.values.map((value) => `${value.name} = ${value.value} (${value.from})`).join(', ')}
        </Typography>
      )}
      {run.failure && (
        <Alert severity="error" variant="outlined" sx={{ mb: 2 }}>
          {run.failure}
          {run.againAt && ` It is tried again by itself at ${moment(run.againAt)}.`}
        </Alert>
      )}
      {loads && <Definitions run={run} />}
      {!ended ? (
        <>
          <Live progress={progress} />
          {loads && <RunLog run={number} ended={false} />}
        </>
      ) : !loads ? (
        run.notes.map((note) => <Typography key={note}>{note}</Typography>)
      ) : (
        <>
          <Section title="Balance" right={<Compared run={number} />}>
            <RunBalance run={run} to={(outcome) => `?outcome=${outcome}#files`} />
          </Section>
          <FileByFile run={number} />
          {run.notes.map((note) => (
            <Typography key={note} variant="body2" color="textSecondary" sx={{ mb: 1 }}>
              {note}
            </Typography>
          ))}
          <Rejected number={number} />
          {run.rows.aside + run.rows.repeated > 0 && <AsideSection run={number} />}
          <Files number={number} />
          <RunLog run={number} ended />
        </>
      )}
    </>
  )
}

/** Shows by which definitions the run went, or no longer. */
function DefinitionsButton() {
  const address = useAddress()
  const shown = address.get('definitions') !== undefined
  return (
    <Button onClick={() => address.set('definitions', shown ? undefined : 'shown')}>
      {shown ? 'Hide definitions' : 'Definitions'}
    </Button>
  )
}

/** What people call the run, and another name for it. */
function LabelButton({ run }: { run: RunView }) {
  const [asking, setAsking] = useState(false)
  const label = useLabel(run.run)
  return (
    <>
      {run.label && <Typography sx={{ fontStyle: 'italic' }}>{run.label}</Typography>}
      <Button onClick={() => setAsking(true)}>Label …</Button>
      {asking && (
        <NameDialog
          title={`Label of run ${run.run}`}
          label="Label"
          button="Label"
          name={run.label}
          busy={label.isPending}
          error={label.error}
          onClose={() => setAsking(false)}
          onDo={(text) => label.mutate(text, { onSuccess: () => setAsking(false) })}
          clear={run.label ? 'Take it away' : undefined}
        >
          For people who look for this run later. Runs can be listed by what their labels have in them.
        </NameDialog>
      )}
    </>
  )
}

/** Takes again what was rejected and still is. */
function RetryButton({ run }: { run: RunView }) {
  const retry = useRetry(run.run)
  const navigate = useNavigate()
  return (
    <>
      <Button
        variant="contained"
        disabled={retry.isPending}
        onClick={() => retry.mutate(undefined, { onSuccess: (started) => void navigate(`/runs/${started.run}`) })}
        title="Loads what is still rejected again: rejected files, and the rejected rows of loaded files. Use it once the rule or the file is fixed"
      >
        Retry what was rejected
      </Button>
      {retry.isError && <Trouble error={retry.error} />}
    </>
  )
}

function Live({ progress }: { progress: Progress | undefined }) {
  if (!progress) return <Wait what="Waiting for the run to begin" />
  const left = Math.max(0, progress.found - progress.done)
  return (
    <Section
      title={`${counted(progress.done, 'file')} of ${grouped(progress.found)} done`}
      right={
        <Typography>
          {counted(progress.rows, 'row')} · {size(progress.bytes)} of {size(progress.ofBytes)}
        </Typography>
      }
    >
      <BalanceBar
        unit="files"
        segments={[
          ...OUTCOMES.filter((outcome) => outcome !== 'notReached').map((outcome) => ({
            outcome,
            count: progress[outcome],
          })),
          { outcome: 'notReached', count: left },
        ]}
      />
      {progress.trouble && <Typography color="error">{progress.trouble}</Typography>}
      <Stack sx={{ mt: 1.5, gap: 0.5 }}>
        {progress.inWork.map((file) => (
          <Box
            key={file.name}
            sx={{
              display: 'grid',
              gridTemplateColumns: '24rem 12rem 1fr',
              gap: 2,
              fontFamily: (theme) => theme.mono,
              fontSize: '0.8rem',
            }}
          >
            <span>{file.name}</span>
            <span>{counted(file.rows, 'row')}</span>
            <span>
              {size(file.bytes)} of {size(file.size)}
            </span>
          </Box>
        ))}
      </Stack>
    </Section>
  )
}

function Rejected({ number }: { number: number }) {
  const reasons = useRunReasons(number, true)
  const address = useAddress()
  const { hash } = useLocation()
  useEffect(() => {
    if (hash && reasons.isSuccess) document.getElementById(hash.slice(1))?.scrollIntoView()
  }, [hash, reasons.isSuccess])
  return (
    <Section
      id="rejected"
      title="Rejected, by reason"
      right={
        <Stack direction="row" sx={{ gap: 2 }}>
          <Anchor href={download.rejects(number)} title="A line for each fault">
            faults as CSV
          </Anchor>
          <Anchor
            href={download.rejectsAs(number, 'csv')}
            title="The rows in their source's own columns, with the reasons behind; a corrected copy can be loaded"
          >
            rows as CSV
          </Anchor>
          <Anchor href={download.rejectsAs(number, 'parquet')} title="The same as Parquet">
            as Parquet
          </Anchor>
        </Stack>
      }
    >
      {reasons.isPending ? (
        <Wait what="Reading the reasons" />
      ) : reasons.isError ? (
        <Trouble error={reasons.error} />
      ) : reasons.data.length === 0 ? (
        <Typography color="textSecondary">Nothing was rejected.</Typography>
      ) : (
        <ReasonList reasons={reasons.data} open={address.get('open')} onOpen={(key) => address.set('open', key)} />
      )}
    </Section>
  )
}

const COLUMNS: TableColumn<FileView>[] = [
  {
    key: 'name',
    title: 'File',
    width: 34,
    mono: true,
    pinned: true,
    render: (file) => <span title={file.path}>{file.name}</span>,
  },
  {
    key: 'outcome',
    title: 'Outcome',
    width: 10,
    render: (file) => (
      <Box
        component="span"
        sx={{
          color: file.outcome === 'rejected' ? 'error.main' : undefined,
          fontWeight: file.outcome === 'rejected' ? 600 : undefined,
        }}
      >
        {file.outcome}
      </Box>
    ),
  },
  {
    key: 'read',
    title: 'Rows read',
    width: 10,
    right: true,
    mono: true,
    render: (file) => (file.read ? grouped(file.read) : '–'),
  },
  {
    key: 'loaded',
    title: 'loaded',
    width: 10,
    right: true,
    mono: true,
    render: (file) => (file.read ? grouped(file.loaded) : '–'),
  },
  {
    key: 'left',
    title: 'left out',
    width: 9,
    right: true,
    mono: true,
    render: (file) => (file.aside + file.repeated ? grouped(file.aside + file.repeated) : ''),
  },
  {
    key: 'rejected',
    title: 'rejected',
    width: 10,
    right: true,
    mono: true,
    render: (file) => (file.read ? grouped(file.rejected) : '–'),
  },
  {
    key: 'size',
    title: 'Size',
    width: 8,
    right: true,
    mono: true,
    render: (file) => <span title={`${grouped(file.size)} bytes`}>{size(file.size)}</span>,
  },
  {
    key: 'remark',
    title: 'Remarks',
    width: 50,
    render: (file) => {
      const text = [
        file.sentence,
        file.sinceRun
          ? file.outcome === 'rejected'
            ? `as in run ${file.sinceRun}`
            : `since run ${file.sinceRun}`
          : '',
        ...file.notes,
        file.after?.words,
      ]
        .filter(Boolean)
        .join('; ')
      return <span title={text}>{text}</span>
    },
  },
]

function Files({ number }: { number: number }) {
  const files = useRunFiles(number, true)
  const address = useAddress()
  const outcome = address.get('outcome') ?? ''
  if (files.isPending) return <Wait what="Reading the files" />
  if (files.isError) return <Trouble error={files.error} />
  const shown = files.data.filter((file) => !outcome || file.outcome === outcome)
  const present = OUTCOMES.filter((one) => files.data.some((file) => file.outcome === one))
  return (
    <Section
      id="files"
      title="Files"
      right={
        present.length > 1 && (
          <ToggleButtonGroup
            exclusive
            size="small"
            value={outcome}
            onChange={(_, value: string | null) => address.set('outcome', value ?? undefined)}
            aria-label="Which files"
          >
            <ToggleButton value="" sx={{ py: 0.25 }}>
              all {grouped(files.data.length)}
            </ToggleButton>
            {present.map((one) => (
              <ToggleButton key={one} value={one} sx={{ py: 0.25 }}>
                {outcomeName(one)} {grouped(files.data.filter((file) => file.outcome === one).length)}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        )
      }
    >
      <DataTable
        label="Files of the run"
        columns={COLUMNS}
        count={shown.length}
        row={(index) => shown[index]}
        empty="No files."
        maxHeight="60vh"
      />
    </Section>
  )
}
