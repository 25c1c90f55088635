import { ThemeProvider } from '@mui/material'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { render } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { vi } from 'vitest'
import { themeOf } from '../theme'

/** Draws a part of the console as it is drawn in a page. */
export function shown(part: ReactNode) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  return render(part, {
    wrapper: ({ children }) => (
      <QueryClientProvider client={queries}>
        <ThemeProvider theme={themeOf('light')}>
          <MemoryRouter>{children}</MemoryRouter>
        </ThemeProvider>
      </QueryClientProvider>
    ),
  })
}

/** The service, as far as a test needs it: what it answers to each call, and which calls there were. */
export function service(answer: (path: string) => unknown) {
  const calls: string[] = []
  vi.stubGlobal('fetch', (request: Request) => {
    const { pathname, search } = new URL(request.url)
    const path = pathname + search
    calls.push(path)
    return Promise.resolve(new Response(JSON.stringify(answer(path))))
  })
  return calls
}
