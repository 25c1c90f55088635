import { Box, Stack, Typography } from '@mui/material'
import { useTheme } from '@mui/material/styles'
import { Link } from 'react-router'
import type { RunView } from '../api/client'
import { counted, grouped } from './format'

/** The order in which outcomes stand, everywhere. */
export const OUTCOMES = ['loaded', 'replaced', 'unchanged', 'rejected', 'waiting', 'notReached'] as const
export type Outcome = (typeof OUTCOMES)[number]
/** What becomes of rows, in the same order. */
const ROWS = ['loaded', 'aside', 'repeated', 'rejected'] as const
export const outcomeName = (outcome: string) =>
  outcome === 'notReached' ? 'not reached' : outcome === 'aside' ? 'set aside' : outcome

export interface Segment {
  outcome: Outcome | (typeof ROWS)[number]
  count: number
  to?: string
}

interface BarProps {
  segments: Segment[]
  unit: string
  height?: number
  /** Without labels, for a row of a list; the numbers then stand in the tooltip and for readers of the screen. */
  small?: boolean
}

/** The balance as a bar: a segment for each outcome, labelled with its number, leading to what is behind it. */
export function BalanceBar({ segments, unit, height = 30, small = false }: BarProps) {
  const theme = useTheme()
  const present = segments.filter((segment) => segment.count > 0)
  const label = present.map((segment) => `${outcomeName(segment.outcome)} ${segment.count}`).join(', ') || 'nothing'
  if (present.length === 0) {
    return (
      <Box
        role="img"
        aria-label={`${unit}: nothing`}
        sx={{ height: small ? 12 : height, border: `1px dashed ${theme.palette.divider}`, borderRadius: '2px', px: 1 }}
      >
        {!small && (
          <Typography variant="body2" color="textSecondary" sx={{ lineHeight: `${height - 2}px` }}>
            no {unit} yet
          </Typography>
        )}
      </Box>
    )
  }
  return (
    <Stack
      direction="row"
      role="group"
      aria-label={`${unit}: ${label}`}
      title={small ? `${unit}: ${label}` : undefined}
      sx={{ height: small ? 12 : height, gap: '1px' }}
    >
      {present.map(({ outcome, count, to }) => {
        const look = theme.outcome[outcome]!
        const open = outcome === 'waiting' || outcome === 'notReached'
        return (
          <Box
            key={outcome}
            {...(to && !small ? { component: Link, to } : {})}
            data-outcome={outcome}
            sx={{
              flex: `${count} 1 0`,
              minWidth: small ? 4 : `${outcomeName(outcome).length + grouped(count).length + 3.5}ch`,
              background: look.background,
              color: look.text,
              border: `1px ${open ? 'dashed' : 'solid'} ${look.border}`,
              borderRadius: '2px',
              overflow: 'hidden',
              textDecoration: 'none',
              display: 'flex',
              alignItems: 'center',
              px: small ? 0 : 1,
              fontSize: '0.84rem',
              fontWeight: 600,
              whiteSpace: 'nowrap',
              textShadow: outcome === 'rejected' || outcome === 'replaced' ? '0 0 3px #000A' : 'none',
            }}
          >
            {!small && `${outcomeName(outcome)} ${grouped(count)}`}
          </Box>
        )
      })}
    </Stack>
  )
}

/** A sum as a sentence that either holds or is the first thing one sees. */
export function Sum({ left, right, holds }: { left: string; right: string; holds: boolean }) {
  return (
    <Stack
      direction="row"
      data-holds={holds}
      sx={{
        gap: 2,
        alignItems: 'baseline',
        ...(holds ? {} : { bgcolor: 'error.main', color: '#FFF', px: 1, py: 0.5 }),
      }}
    >
      <Typography variant="body2" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.83rem' }}>
        {left} = {right}
      </Typography>
      <Typography variant="body2" sx={{ fontWeight: 600, color: holds ? 'primary.main' : 'inherit' }}>
        {holds ? 'holds' : 'does not hold'}
      </Typography>
    </Stack>
  )
}

export function fileSegments(run: RunView, to?: (outcome: Outcome) => string): Segment[] {
  return OUTCOMES.map((outcome) => ({ outcome, count: run.files[outcome], to: to?.(outcome) }))
}

/** The whole balance of a run: files, rows, dataset. */
export function RunBalance({ run, to }: { run: RunView; to?: (outcome: Outcome) => string }) {
  const files = OUTCOMES.filter((outcome) => run.files[outcome] > 0).map(
    (outcome) => `${grouped(run.files[outcome])} ${outcomeName(outcome)}`,
  )
  return (
    <Stack sx={{ gap: 1.5 }}>
      <Stack sx={{ gap: 0.5 }}>
        <BalanceBar segments={fileSegments(run, to)} unit="files" />
        <Sum
          left={counted(run.files.found, run.files.noun) + ' found'}
          right={files.join(' + ') || '0'}
          holds={run.files.holds}
        />
      </Stack>
      <Stack sx={{ gap: 0.5 }}>
        <BalanceBar
          unit="rows"
          segments={ROWS.map((outcome) => ({
            outcome,
            count: run.rows[outcome],
            to: outcome === 'loaded' ? undefined : outcome === 'rejected' ? '#rejected' : '#aside',
          }))}
        />
        <Sum
          left={counted(run.rows.read, 'row') + ' read'}
          right={ROWS.filter((outcome) => run.rows[outcome] > 0 || outcome === 'loaded' || outcome === 'rejected')
            .map((outcome) => `${grouped(run.rows[outcome])} ${outcomeName(outcome)}`)
            .join(' + ')}
          holds={run.rows.holds}
        />
      </Stack>
      <Sum
        left={run.into}
        right={`${counted(run.dataset.rows, 'row')} in ${counted(run.dataset.parts, 'part')}`}
        holds={run.dataset.holds}
      />
    </Stack>
  )
}
