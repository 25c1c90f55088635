import { screen } from '@testing-library/react'
import { expect, it } from 'vitest'
import { service, shown } from '../test/shown'
import { AsideSection } from './AsideSection'

it('shows the first rows of each rule, what they repeat, and that there are more', async () => {
  const calls = service((path) =>
    path.includes('/aside/rows')
      ? [{ file: 'a.csv', line: 3, rule: 'repeated: the same id', original: 'x;1', repeats: 'line 2' }]
      : [{ rule: 'repeated: the same id', rows: 5000, files: 2 }],
  )
  shown(<AsideSection run={7} />)
  expect(await screen.findByText('5 000 rows')).toBeDefined()
  expect((await screen.findByText('a.csv:3')).parentElement?.textContent).toBe('a.csv:3x;1as line 2')
  expect(screen.getByText('1 of 5 000 shown; all of them are in the CSV file.')).toBeDefined()
  expect(calls).toContain('/api/v1/runs/7/aside/rows?rule=repeated%3A+the+same+id&limit=200')
})
