import { Alert, Box, LinearProgress, Stack, Typography } from '@mui/material'
import { useEffect, useState, type ReactNode } from 'react'
import { ProblemError, type Problem } from '../api/client'

/** A wait of more than 300 ms shows what is waited for. */
export function Wait({ what }: { what: string }) {
  const [visible, setVisible] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setVisible(true), 300)
    return () => clearTimeout(timer)
  }, [])
  return (
    <Box sx={{ minHeight: 48 }} role="status">
      {visible && (
        <>
          <Typography color="textSecondary" variant="body2">
            {what} …
          </Typography>
          <LinearProgress aria-label={what} sx={{ maxWidth: 240, mt: 0.5 }} />
        </>
      )}
    </Box>
  )
}

/** What went wrong and what to do. */
export function Trouble({ error }: { error: unknown }) {
  const problem = error instanceof ProblemError ? error : null
  return (
    <Alert severity="error" variant="outlined" sx={{ my: 1 }}>
      <Typography sx={{ fontWeight: 600 }}>
        {problem && problem.problems.length > 0
          ? problem.title
          : error instanceof Error
            ? error.message
            : String(error)}
      </Typography>
      {problem?.hint && <Typography variant="body2">{problem.hint}</Typography>}
      {problem && <Mistakes problems={problem.problems} />}
    </Alert>
  )
}

/** Mistakes of a definition, each with its place. */
export function Mistakes({ problems }: { problems: Problem[] }) {
  return (
    <Stack sx={{ gap: 0.75, mt: problems.length > 0 ? 1 : 0 }}>
      {problems.map((problem, index) => (
        <Box key={index}>
          <Typography component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
            {problem.file}
            {problem.line > 0 ? `:${problem.line}:${problem.column}` : ''}
          </Typography>{' '}
          {problem.what}
          {problem.hint && (
            <Typography variant="body2" color="textSecondary">
              {problem.hint}
            </Typography>
          )}
        </Box>
      ))}
    </Stack>
  )
}

/** A part of a page under its own heading. */
export function Section({
  title,
  id,
  right,
  main = false,
  children,
}: {
  title: string
  id?: string
  /** The page is about nothing else: its title is that of the page. */
  main?: boolean
  right?: ReactNode
  children: ReactNode
}) {
  return (
    <Box component="section" id={id} sx={{ mb: 3.5 }}>
      <Stack direction="row" sx={{ justifyContent: 'space-between', alignItems: 'baseline', mb: 0.75, gap: 2 }}>
        <Typography variant="h2" component={main ? 'h1' : 'h2'}>
          {title}
        </Typography>
        {right}
      </Stack>
      {children}
    </Box>
  )
}
