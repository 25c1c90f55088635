import { describe, expect, it } from 'vitest'
import type { Calendar, CalendarCell } from '../api/client'
import { grids, heading, isFinding, summed } from './calendar'

const cell = (state: string, files = 0) =>
  ({ state, files, rows: 0, rejected: 0, says: '', arrived: [] }) as unknown as CalendarCell

const calendar = (job: string, periods: string[], states: string[], due = true) =>
  ({
    job,
    dataset: 'samples',
    declared: true,
    words: [],
    each: 'month',
    zone: 'UTC',
    periods,
    sources: [{ name: '', facts: {}, due, cells: states.map((state) => cell(state, state === 'arrived' ? 1 : 0)) }],
    counts: {},
    astray: [],
    astrayFiles: 0,
    findings: false,
  }) as unknown as Calendar

describe('the arrival calendar', () => {
  it('puts jobs with periods of one kind below one another, each cell under its period', () => {
    const [grid] = grids([
      calendar('north', ['2026-02', '2026-03'], ['arrived', 'missing']),
      calendar('east', ['2025-12', '2026-01', '2026-02'], ['late', 'arrived', 'rejected']),
    ])
    expect(grid!.periods).toEqual(['2025-12', '2026-01', '2026-02', '2026-03'])
    expect(grid!.lines.map((line) => grid!.periods.map((period) => line.cells.get(period)?.state))).toEqual([
      [undefined, undefined, 'arrived', 'missing'],
      ['late', 'arrived', 'rejected', undefined],
    ])
    expect(summed([...grid!.lines[1]!.cells.values()])).toBe('1 rejected, 1 late')
  })

  it('counts what is not due, and arrived all the same, as a finding', () => {
    const line = grids([calendar('wset', ['2026-01'], ['arrived'], false)])[0]!.lines[0]!
    expect(isFinding(line, line.cells.get('2026-01'))).toBe(true)
    expect(isFinding({ ...line, due: true }, line.cells.get('2026-01'))).toBe(false)
  })

  it('names the year once, where there is room for it', () => {
    const periods = ['2025-12', '2026-01', '2026-02']
    expect(periods.map((_, index) => heading(periods, index))).toEqual([
      { first: '', last: '12' },
      { first: '2026', last: '01' },
      { first: '', last: '02' },
    ])
    expect(heading(['2026', '2027'], 0)).toEqual({ first: '', last: '2026' })
  })
})
