import '@fontsource-variable/source-sans-3'
import '@fontsource/ibm-plex-mono/400.css'
import '@fontsource/ibm-plex-mono/600.css'
import { CssBaseline, Link as Anchor, ThemeProvider } from '@mui/material'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { StrictMode, useMemo, useState } from 'react'
import { createRoot } from 'react-dom/client'
import { BrowserRouter, Link, Route, Routes } from 'react-router'
import { ProblemError } from './api/client'
import { CalendarPage } from './calendar/CalendarPage'
import { DatasetPage } from './dataset/DatasetPage'
import { DatasetsPage } from './dataset/DatasetsPage'
import { QueryPage } from './dataset/SavedQueries'
import { NewJobPage } from './draft/NewJobPage'
import { EditPage } from './edit/EditPage'
import { FindPage } from './job/FindPage'
import { FitPage } from './job/FitPage'
import { JobProfilePage } from './job/JobProfilePage'
import { JobPage } from './job/JobPage'
import { MessagesPage } from './messages/MessagesPage'
import { OverviewPage } from './overview/OverviewPage'
import { RejectsPage } from './rejects/RejectsPage'
import { RowsPage } from './rows/RowsPage'
import { RunPage } from './run/RunPage'
import { RunsPage } from './run/RunsPage'
import { Section } from './ui/State'
import { SchedulePage } from './schedule/SchedulePage'
import { Shell } from './Shell'
import { themeOf, type Mode } from './theme'

// What the service rejects is not asked again; a service that does not answer is, twice.
const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 1000,
      retry: (count, error) => count < 2 && error instanceof ProblemError && error.status === 0,
    },
  },
})

function rememberedMode(): Mode {
  const kept = localStorage.getItem('hapster.mode')
  if (kept === 'light' || kept === 'dark') return kept
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light'
}

function Console() {
  const [mode, setMode] = useState<Mode>(rememberedMode)
  const theme = useMemo(() => themeOf(mode), [mode])
  const toggle = () => {
    const next = mode === 'light' ? 'dark' : 'light'
    localStorage.setItem('hapster.mode', next)
    setMode(next)
  }
  return (
    <ThemeProvider theme={theme}>
      <CssBaseline />
      <Routes>
        <Route element={<Shell mode={mode} onMode={toggle} />}>
          <Route index element={<OverviewPage />} />
          <Route path="jobs" element={<OverviewPage />} />
          <Route path="new-job" element={<NewJobPage />} />
          <Route path="jobs/:job" element={<JobPage />} />
          <Route path="jobs/:job/find" element={<FindPage />} />
          <Route path="jobs/:job/fit" element={<FitPage />} />
          <Route path="jobs/:job/profile" element={<JobProfilePage />} />
          <Route path="jobs/:job/rows" element={<RowsPage />} />
          <Route path="jobs/:job/edit" element={<EditPage />} />
          <Route path="runs" element={<RunsPage />} />
          <Route path="runs/:run" element={<RunPage />} />
          <Route path="calendar" element={<CalendarPage />} />
          <Route path="messages" element={<MessagesPage />} />
          <Route path="schedule" element={<SchedulePage />} />
          <Route path="datasets" element={<DatasetsPage />} />
          <Route path="datasets/:dataset" element={<DatasetPage />} />
          <Route path="queries/:query" element={<QueryPage />} />
          <Route path="rejects" element={<RejectsPage />} />
          <Route path="*" element={<NoPage />} />
        </Route>
      </Routes>
    </ThemeProvider>
  )
}

function NoPage() {
  return (
    <Section main title="There is no such page">
      <Anchor component={Link} to="/">
        To the overview
      </Anchor>
    </Section>
  )
}

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <QueryClientProvider client={client}>
      <BrowserRouter>
        <Console />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
)
