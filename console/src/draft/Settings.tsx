import { Box, Typography } from '@mui/material'
import type { Draft } from '../api/client'

/** The first lines of a file, and beside them how they are read and why. */
export function Settings({ job }: { job: Draft['jobs'][number] }) {
  const settings = [...job.finding, ...job.reading]
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) minmax(0, 1fr)' },
        gap: 3,
      }}
    >
      <Box>
        <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
          {job.names[0]}
          {job.files > 1 ? `, and ${job.files - 1} more like it` : ''}
        </Typography>
        <Box
          component="pre"
          tabIndex={0}
          aria-label={`The first lines of ${job.names[0]}`}
          sx={{
            m: 0,
            p: 1,
            border: 1,
            borderColor: 'divider',
            overflowX: 'auto',
            fontFamily: (theme) => theme.mono,
            fontSize: '0.75rem',
            lineHeight: 1.6,
          }}
        >
          {job.head.map((line, index) => `${String(index + 1).padStart(2)}  ${line}`).join('\n')}
        </Box>
      </Box>
      <Box
        component="dl"
        sx={{
          display: 'grid',
          gridTemplateColumns: 'auto minmax(0, 1fr)',
          columnGap: 2,
          rowGap: 0.5,
          m: 0,
          alignContent: 'start',
          '& dd': { m: 0 },
          '& dt': { color: 'text.secondary' },
        }}
      >
        {settings.map((one, index) => (
          <Box key={index} sx={{ display: 'contents' }}>
            <dt>{one.what}</dt>
            <dd>
              <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.85rem', fontWeight: 600 }}>
                {one.value}
              </Box>{' '}
              <Typography component="span" variant="body2">
                {one.why}
              </Typography>
            </dd>
          </Box>
        ))}
      </Box>
    </Box>
  )
}
