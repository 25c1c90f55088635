import { renderHook, act } from '@testing-library/react'
import type { ReactNode } from 'react'
import { MemoryRouter } from 'react-router'
import { expect, it } from 'vitest'
import { useAddress } from './address'

it('changes one name of the address and leaves the others', () => {
  const { result } = renderHook(useAddress, {
    wrapper: ({ children }: { children: ReactNode }) => (
      <MemoryRouter initialEntries={['/runs/7?open=a&where=x&where=y']}>{children}</MemoryRouter>
    ),
  })
  act(() => result.current.set('outcome', 'loaded'))
  act(() => result.current.set('where', ['z']))
  act(() => result.current.set('open', undefined))
  expect(result.current.get('outcome')).toBe('loaded')
  expect(result.current.all('where')).toEqual(['z'])
  expect(result.current.get('open')).toBeUndefined()
})
