import type { SavedQuery, Value } from '../api/client'
import type { Grouping } from '../api/hooks'
import type { useAddress } from '../ui/address'

type Address = ReturnType<typeof useAddress>

/** What is asked of a dataset, as it stands in the address. */
export interface Question extends Grouping {
  view: string
  where: string[]
  columns: string[]
}

export function questionOf(address: Address): Question {
  return {
    view: address.get('view') ?? 'rows',
    where: address.all('where'),
    columns: address.all('columns'),
    sort: address.all('sort'),
    by: address.all('by'),
    measures: address.all('measures'),
    top: Number(address.get('top') ?? 0) || 0,
  }
}

/** What a saved query asks, as it stands in an address. */
export const addressed = (query: SavedQuery): Record<string, string | string[] | undefined> => ({
  view: query.by.length > 0 || query.measures.length > 0 ? 'counts' : 'rows',
  where: query.where,
  columns: query.columns,
  sort: query.sort,
  by: query.by,
  measures: query.measures,
  top: query.top > 0 ? String(query.top) : undefined,
})

/** The page that asks a saved query. */
export function linkTo(query: SavedQuery): string {
  const search = new URLSearchParams()
  for (const [name, value] of Object.entries(addressed(query)))
    for (const one of Array.isArray(value) ? value : [value]) if (one) search.append(name, one)
  return `/datasets/${encodeURIComponent(query.dataset)}?${search}`
}

/** The condition that the rows of a group satisfy, and no others. */
export function conditionOf(by: string, value: Value | null): string {
  const column = by.replace(/:\w+$/, '')
  return value === null ? `${column} is empty` : `${column} = '${String(value).replaceAll("'", "''")}'`
}

/** What columns are sorted by once one of them was pressed: it alone, or behind the others. */
export function sortedBy(sort: string[], column: string, further: boolean): string[] {
  const now = sort.find((one) => one === column || one === '-' + column)
  const next = now === undefined ? [column] : now === column ? ['-' + column] : []
  if (!further) return next
  return now === undefined ? [...sort, column] : sort.flatMap((one) => (one === now ? next : [one]))
}

/** The rows of this dataset for which conditions hold. */
export const rowsLink = (where: string[]): string =>
  '?' + new URLSearchParams([['view', 'rows'], ...where.map((one): [string, string] => ['where', one])]).toString()
