import { Box, Typography } from '@mui/material'
import type { Trace } from '../api/client'
import { useTrace } from '../api/hooks'
import { Trouble, Wait } from '../ui/State'

const TITLES = ['column', 'from', 'as read', 'cleaned', 'stored']

/** What each step makes of one row, by the rules as they are now; the cell that is rejected is marked, with its rule. */
export function TraceTable({ run, path, row }: { run: number; path: string; row: number }) {
  const trace = useTrace(run, path, row)
  if (trace.isPending) return <Wait what="Following the row" />
  if (trace.isError) return <Trouble error={trace.error} />
  return <TraceView trace={trace.data} retried />
}

/**
 * @param retried whether the row was rejected, so that a retry loads it where it passes now
 */
export function TraceView({ trace, retried = false }: { trace: Trace; retried?: boolean }) {
  const { cells, passes, leftBy, readAnew } = trace
  return (
    <Box sx={{ px: 1, pb: 1 }} data-trace>
      <Box
        component="table"
        aria-label="What each step makes of the row"
        sx={{
          borderCollapse: 'collapse',
          fontSize: '0.8rem',
          '& td, & th': { textAlign: 'left', verticalAlign: 'top', pr: 2, py: 0.25 },
          '& td': { fontFamily: (theme) => theme.mono },
        }}
      >
        <thead>
          <tr>
            {TITLES.map((title) => (
              <Box component="th" key={title} sx={{ color: 'text.secondary', fontWeight: 400 }}>
                {title}
              </Box>
            ))}
            <th />
          </tr>
        </thead>
        <tbody>
          {cells.map((cell, index) => (
            <Box
              component="tr"
              key={index}
              data-refused={cell.code ?? undefined}
              sx={cell.code ? { color: 'error.main', outline: '1px solid', outlineColor: 'error.main' } : {}}
            >
              <td>{cell.column || 'the row'}</td>
              <td>{cell.from}</td>
              <td>{cell.read ?? ''}</td>
              <td>{cell.cleaned === cell.read ? '' : (cell.cleaned ?? '')}</td>
              <td>{cell.code ? '–' : (cell.value ?? '')}</td>
              <Box component="td" sx={{ fontFamily: (theme) => `${theme.typography.fontFamily} !important` }}>
                {cell.code ? `${cell.sentence}${cell.rule ? ` (${cell.rule})` : ''}` : ''}
              </Box>
            </Box>
          ))}
        </tbody>
      </Box>
      <Typography variant="body2" sx={{ mt: 0.5, fontWeight: 600 }}>
        {leftBy
          ? `With the current rules it is set aside: ${leftBy}`
          : passes
            ? `With the current rules it passes${retried ? '; a retry loads it' : ''}.`
            : `With the current rules it is ${retried ? 'still ' : ''}rejected.`}
      </Typography>
      {!readAnew && (
        <Typography variant="body2" color="textSecondary">
          The file is gone or has changed since; this is what was kept of the row.
        </Typography>
      )}
    </Box>
  )
}
