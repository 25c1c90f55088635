import { Box, Collapse, Stack, Typography } from '@mui/material'
import { useState } from 'react'
import { useRejectedRows } from '../api/hooks'
import { download, type ReasonView, type Reject } from '../api/client'
import { Dismiss } from './Dismiss'
import { Fixes } from './Fixes'
import { TraceTable } from './TraceTable'
import { counted, grouped } from '../ui/format'
import { Trouble, Wait } from '../ui/State'

interface ListProps {
  reasons: ReasonView[]
  withJob?: boolean
  /** Which reason is open at the beginning: its key. */
  open?: string
  onOpen?: (key: string | undefined) => void
}

export const reasonKey = (reason: ReasonView) => [reason.job, reason.code, reason.column].filter(Boolean).join('.')

/** Rejects by reason: how many, why, where; each opens to its rows with file, line, value and original text. */
export function ReasonList({ reasons, withJob = false, open, onOpen }: ListProps) {
  const [own, setOwn] = useState<string | undefined>(undefined)
  const current = onOpen ? open : own
  const toggle = (key: string) => (onOpen ?? setOwn)(current === key ? undefined : key)
  return (
    <Box role="list" sx={{ borderTop: 1, borderColor: 'divider' }}>
      {reasons.map((reason) => {
        const key = reasonKey(reason)
        const sample = reason.samples[0]
        return (
          <Box key={key} role="listitem" data-reason={reason.code} sx={{ borderBottom: 1, borderColor: 'divider' }}>
            <Box
              component="button"
              aria-expanded={current === key}
              onClick={() => toggle(key)}
              sx={{
                all: 'unset',
                boxSizing: 'border-box',
                cursor: 'pointer',
                width: '100%',
                display: 'grid',
                alignItems: 'baseline',
                columnGap: 2,
                py: 0.75,
                px: 0.5,
                gridTemplateColumns: { xs: '5.5rem 1fr', md: `5.5rem 11rem ${withJob ? '14rem' : '8rem'} 1fr` },
                '&:hover': { bgcolor: 'action.hover' },
                '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
              }}
            >
              <Typography component="span" sx={{ textAlign: 'right', fontWeight: 600 }}>
                {counted(reason.count, reason.level)}
              </Typography>
              <Typography
                component="span"
                sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem', color: 'error.main' }}
              >
                {reason.code}
              </Typography>
              <Typography component="span" variant="body2">
                {[withJob ? reason.job : '', reason.column].filter(Boolean).join(' · ')}
              </Typography>
              <Typography component="span" variant="body2" sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }}>
                {sample?.sentence}
                <Typography component="span" variant="body2" color="textSecondary" sx={{ ml: 1.5 }}>
                  {sample?.file}
                  {sample?.line ? `:${sample.line}` : ''}
                  {reason.count > 1 ? ` and ${grouped(reason.count - 1)} more` : ''}
                </Typography>
              </Typography>
            </Box>
            <Collapse in={current === key} mountOnEnter unmountOnExit>
              <ReasonDetail reason={reason} />
            </Collapse>
          </Box>
        )
      })}
    </Box>
  )
}

function ReasonDetail({ reason }: { reason: ReasonView }) {
  return (
    <Stack sx={{ gap: 1, pl: { md: '6.5rem' }, pr: 1, pb: 2 }}>
      <Typography variant="body2">
        <Words text={reason.cause} />
      </Typography>
      <Typography variant="body2">
        <strong>Cure:</strong> <Words text={reason.cure} />
      </Typography>
      {reason.gone.length > 0 && (
        <Typography variant="body2">
          Gone, so that {reason.gone.length === 1 ? 'it' : 'they'} cannot be tried again: {reason.gone.join(', ')}.
        </Typography>
      )}
      {(reason.level === 'file' || reason.column) && (
        <Fixes run={reason.run} code={reason.code} column={reason.column} job={reason.job} />
      )}
      {reason.level === 'file' ? (
        <RejectedFiles reason={reason} />
      ) : (
        [...new Set(reason.samples.map((sample) => sample.run))].map((run) => (
          <RejectedRows key={run} run={run} reason={reason} />
        ))
      )}
      <Dismiss job={reason.job} file={reason.gone[0] ?? reason.samples[0]?.file ?? ''} />
    </Stack>
  )
}

/** A text in which what stands between backticks is written as in a definition. */
export function Words({ text }: { text: string }) {
  return text.split('`').map((piece, index) =>
    index % 2 === 1 ? (
      <Box key={index} component="code" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.92em' }}>
        {piece}
      </Box>
    ) : (
      piece
    ),
  )
}

function RejectedFiles({ reason }: { reason: ReasonView }) {
  return (
    <Stack sx={{ gap: 0.5 }}>
      {reason.samples.map((sample) => (
        <Typography key={sample.path} variant="body2" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
          {sample.path}
        </Typography>
      ))}
    </Stack>
  )
}

function RejectedRows({ run, reason }: { run: number; reason: ReasonView }) {
  const rows = useRejectedRows(run, reason.code, reason.column, 200)
  if (rows.isPending) return <Wait what="Reading the rejected rows" />
  if (rows.isError) return <Trouble error={rows.error} />
  const files = new Set(reason.samples.map((sample) => sample.path))
  return (
    <Box
      role="table"
      aria-label={`Rejected rows, ${reason.code}`}
      sx={{ maxHeight: 340, overflow: 'auto', border: 1, borderColor: 'divider' }}
    >
      {rows.data.map((row, index) => (
        <RejectedRow key={index} run={run} row={row} />
      ))}
      {rows.data.length < reason.count && files.size > 0 && (
        <Typography variant="body2" color="textSecondary" sx={{ px: 1, py: 0.5 }}>
          {grouped(rows.data.length)} of {grouped(reason.count)} shown; all of them stand in the{' '}
          <a href={download.rejects(run)}>rejects file of run {run}</a>.
        </Typography>
      )}
    </Box>
  )
}

/** One rejected row; opened, it shows what each step makes of it. */
function RejectedRow({ run, row }: { run: number; row: Reject }) {
  const [open, setOpen] = useState(false)
  return (
    <Box role="row" sx={{ borderBottom: 1, borderColor: 'divider', '&:last-child': { borderBottom: 0 } }}>
      <Box role="cell">
        <Box
          component="button"
          type="button"
          aria-expanded={open}
          title="What each step makes of this row"
          onClick={() => setOpen(!open)}
          sx={{
            all: 'unset',
            boxSizing: 'border-box',
            width: '100%',
            cursor: 'pointer',
            px: 1,
            py: 0.5,
            '&:hover': { bgcolor: 'action.hover' },
            '&:focus-visible': { outline: '2px solid', outlineOffset: -2, outlineColor: 'primary.main' },
          }}
        >
          <Typography variant="body2">
            <Box
              component="span"
              data-place
              sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem', fontWeight: 600 }}
            >
              {row.file}:{row.line}
            </Box>
            <Box component="span" sx={{ ml: 1.5 }}>
              {row.reason}
            </Box>
          </Typography>
          <Box
            title={row.path}
            sx={{
              fontFamily: (theme) => theme.mono,
              fontSize: '0.78rem',
              color: 'text.secondary',
              whiteSpace: 'pre-wrap',
              wordBreak: 'break-all',
            }}
          >
            {row.original}
          </Box>
        </Box>
        {open && <TraceTable run={run} path={row.path} row={row.row} />}
      </Box>
    </Box>
  )
}
