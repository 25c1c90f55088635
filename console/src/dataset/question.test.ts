import { expect, it } from 'vitest'
import { conditionOf, sortedBy } from './question'

it('asks for exactly the rows of a group', () => {
  expect(conditionOf('lab', "it's")).toBe("lab = 'it''s'")
  expect(conditionOf('sampled_at:week', '2026-W07')).toBe("sampled_at = '2026-W07'")
  expect(conditionOf('lab', null)).toBe('lab is empty')
  expect(conditionOf('sure', false)).toBe("sure = 'false'")
})

it('sorts by one column, and by others behind it', () => {
  expect(sortedBy([], 'a', false)).toEqual(['a'])
  expect(sortedBy(['a'], 'a', false)).toEqual(['-a'])
  expect(sortedBy(['-a', 'b'], 'a', false)).toEqual([])
  expect(sortedBy(['a'], 'b', true)).toEqual(['a', 'b'])
  expect(sortedBy(['a', 'b'], 'a', true)).toEqual(['-a', 'b'])
  expect(sortedBy(['-a', 'b'], 'a', true)).toEqual(['b'])
})
