import type { Calendar, CalendarCell } from '../api/client'

/** States of which somebody should know, the worst first. */
export const FINDINGS = ['missing', 'rejected', 'late', 'unusual'] as const
export const STATES = ['arrived', 'late', 'unusual', 'rejected', 'missing', 'awaited'] as const

/** A line of a calendar: one source of one job, with its cells by period. */
export interface Line {
  job: string
  dataset: string
  source: string
  due: boolean
  cells: Map<string, CalendarCell>
}

/** Calendars with periods of one kind, put below one another. */
export interface Grid {
  each: string
  periods: string[]
  lines: Line[]
}

/** Calendars by the kind of their periods; names of periods sort as the periods do. */
export function grids(calendars: Calendar[]): Grid[] {
  const byEach = new Map<string, Calendar[]>()
  for (const calendar of calendars) {
    if (calendar.each) byEach.set(calendar.each, [...(byEach.get(calendar.each) ?? []), calendar])
  }
  return [...byEach].map(([each, some]) => ({
    each,
    periods: [...new Set(some.flatMap((calendar) => calendar.periods))].sort(),
    lines: some.flatMap((calendar) =>
      calendar.sources.map((source) => ({
        job: calendar.job,
        dataset: calendar.dataset,
        source: source.name,
        due: source.due,
        cells: new Map(calendar.periods.map((period, index) => [period, source.cells[index]!])),
      })),
    ),
  }))
}

/** Whether somebody should look at a cell. */
export const isFinding = (line: Line, cell: CalendarCell | undefined) =>
  cell !== undefined && ((FINDINGS as readonly string[]).includes(cell.state) || (!line.due && cell.files > 0))

/** How many findings of each kind there are among cells: “2 rejected, 1 missing”. */
export function summed(cells: (CalendarCell | undefined)[]) {
  return FINDINGS.map((state) => [state, cells.filter((cell) => cell?.state === state).length] as const)
    .filter(([, count]) => count > 0)
    .map(([state, count]) => `${count} ${state}`)
    .join(', ')
}

/** So many characters fit above the column of a period. */
const LETTERS = 3.5

const split = (name: string) => {
  const cut = name.lastIndexOf('-')
  return cut < 0 ? ['', name] : [name.slice(0, cut), name.slice(cut + 1)]
}

/**
 * What stands above the column of a period: what it shares with its neighbours, where that is new and there is room
 * for it, and below that the rest.
 */
export function heading(periods: string[], index: number) {
  const [first, last] = split(periods[index]!)
  const before = index > 0 ? split(periods[index - 1]!)[0] : undefined
  const columns = Math.ceil(first!.length / LETTERS)
  const room = periods.slice(index, index + columns).every((period) => split(period)[0] === first)
  return { first: before === first || !room ? '' : first!, last: last! }
}
