import { Autocomplete, Box, Button, Stack, TextField, Typography } from '@mui/material'
import { useEffect, useMemo, useRef } from 'react'
import { Link, NavLink, Outlet, useNavigate } from 'react-router'
import { useDatasets, useJobs, useOpenRejects, useStore } from './api/hooks'
import type { Mode } from './theme'

const PAGES = [
  { to: '/', name: 'Overview' },
  { to: '/runs', name: 'Runs' },
  { to: '/calendar', name: 'Arrivals' },
  { to: '/schedule', name: 'Schedule' },
  { to: '/datasets', name: 'Datasets' },
  { to: '/rejects', name: 'Rejects' },
]

/** The frame of every page: where one is, the search, what is running. */
export function Shell({ mode, onMode }: { mode: Mode; onMode: () => void }) {
  const store = useStore().data
  const problems = [
    ...(store?.problems ?? []),
    ...(store?.deliveries ?? []),
    ...(store?.schedules ?? []),
    ...(store?.messages ?? []),
  ]
  const running = useJobs().data?.filter((job) => job.running) ?? []
  return (
    <Box sx={{ maxWidth: 1600, mx: 'auto', px: { xs: 2, md: 3 } }}>
      <Stack
        component="header"
        direction="row"
        sx={{
          alignItems: 'center',
          gap: 3,
          py: 1.25,
          borderBottom: 1,
          borderColor: 'divider',
          mb: 2.5,
          flexWrap: 'wrap',
        }}
      >
        <Typography
          component={Link}
          to="/"
          sx={{ fontWeight: 700, fontSize: '1.15rem', color: 'text.primary', textDecoration: 'none' }}
        >
          Hapster
        </Typography>
        <Stack component="nav" direction="row" sx={{ gap: 2.5 }} aria-label="Pages">
          {PAGES.map((page) => (
            <Box
              key={page.to}
              component={NavLink}
              to={page.to}
              end={page.to === '/'}
              sx={{
                color: 'text.secondary',
                textDecoration: 'none',
                py: 0.5,
                '&.active': {
                  color: 'text.primary',
                  fontWeight: 600,
                  boxShadow: (theme) => `0 2px 0 ${theme.palette.primary.main}`,
                },
              }}
            >
              {page.name}
            </Box>
          ))}
        </Stack>
        <Box sx={{ flex: 1 }} />
        <Search />
        {running[0]?.running && (
          <Typography
            component={Link}
            to={running.length === 1 ? `/runs/${running[0].running}` : '/runs'}
            sx={{ color: 'primary.main' }}
          >
            {running.length} running
          </Typography>
        )}
        <Button
          onClick={onMode}
          aria-label={mode === 'light' ? 'Dark theme' : 'Light theme'}
          title={mode === 'light' ? 'Dark theme' : 'Light theme'}
          sx={{ minWidth: 0, color: 'text.secondary', fontSize: '1.1rem', lineHeight: 1 }}
        >
          ◐
        </Button>
      </Stack>
      {problems.length > 0 && (
        <Box role="alert" sx={{ border: 1, borderColor: 'error.main', color: 'error.main', px: 2, py: 1, mb: 2.5 }}>
          {problems.map((problem) => (
            <Typography key={problem}>{problem}</Typography>
          ))}
        </Box>
      )}
      <Box component="main">
        <Outlet />
      </Box>
    </Box>
  )
}

interface Hit {
  kind: string
  name: string
  to: string
}

/** Jobs, datasets and reasons by name; the key / goes there from anywhere. */
function Search() {
  const jobs = useJobs().data
  const datasets = useDatasets().data
  const rejects = useOpenRejects().data
  const navigate = useNavigate()
  const input = useRef<HTMLInputElement>(null)
  const hits = useMemo<Hit[]>(
    () => [
      ...(jobs ?? []).map((job) => ({ kind: 'Jobs', name: job.name, to: `/jobs/${job.name}` })),
      ...(datasets ?? []).map((dataset) => ({ kind: 'Datasets', name: dataset.name, to: `/datasets/${dataset.name}` })),
      ...[...new Set((rejects ?? []).map((reason) => reason.code))].map((code) => ({
        kind: 'Reasons',
        name: code,
        to: `/rejects?code=${code}`,
      })),
    ],
    [jobs, datasets, rejects],
  )
  useEffect(() => {
    const focus = (event: KeyboardEvent) => {
      const typing = event.target instanceof HTMLElement && /INPUT|TEXTAREA|SELECT/.test(event.target.tagName)
      if (event.key === '/' && !typing) {
        event.preventDefault()
        input.current?.focus()
      }
    }
    addEventListener('keydown', focus)
    return () => removeEventListener('keydown', focus)
  }, [])
  return (
    <Autocomplete
      options={hits}
      groupBy={(hit) => hit.kind}
      getOptionLabel={(hit) => hit.name}
      size="small"
      sx={{ width: 220 }}
      blurOnSelect
      clearOnBlur
      value={null}
      getOptionKey={(hit) => hit.to}
      onChange={(_, hit) => hit && void navigate(hit.to)}
      renderInput={(params) => (
        <TextField
          {...params}
          inputRef={input}
          placeholder="/  search"
          variant="standard"
          slotProps={{ ...params.slotProps, htmlInput: { ...params.slotProps.htmlInput, 'aria-label': 'Search' } }}
        />
      )}
    />
  )
}
