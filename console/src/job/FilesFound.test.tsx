import type { RuleCounts } from '../api/client'
import { screen } from '@testing-library/react'
import { expect, it } from 'vitest'
import { shown } from '../test/shown'
import { RuleCountsView } from './FilesFound'

it('says how many files remain after each rule, and which rule removed the last', () => {
  const steps: RuleCounts['steps'] = [
    { key: 'take', rule: 'take "*.csv"', removed: 3, remain: 1200, last: false },
    { key: 'skip', rule: 'skip "*"', removed: 1200, remain: 0, last: true },
    { key: 'size', rule: 'size from 1 kB', removed: 0, remain: 0, last: false },
  ]
  shown(<RuleCountsView counts={{ place: 1, folder: 'inbox', seen: 1203, steps }} />)
  expect(screen.getByRole('list', { name: 'Rules of inbox' })).toBeDefined()
  expect(screen.getAllByRole('listitem').map((item) => item.textContent)).toEqual([
    'inbox: 1\u202f203 files',
    'take "*.csv" 1\u202f200 remain',
    'skip "*" removed the last',
    'size from 1 kB 0 remain',
  ])
})
