import { Typography } from '@mui/material'
import { useQueries, useQuery } from '@tanstack/react-query'
import { useCallback, useMemo, useState } from 'react'
import type { FieldView, Value } from '../api/client'
import { ROWS, rowsPage, useTotal } from '../api/hooks'
import { DataTable, type TableColumn } from '../ui/DataTable'
import { counted, isNumber, moment, shown } from '../ui/format'
import { Trouble, Wait } from '../ui/State'
import { sortedBy } from './question'

/** What the service says where it does not know how many rows there are. */
const UNKNOWN = -1

const WIDTH: Record<string, number> = { timestamp: 19, date: 10, time: 12, boolean: 8 }

interface GridProps {
  dataset: string
  where: string[]
  /** Which columns, in this order; empty for all. */
  columns: string[]
  /** Columns, with - in front for descending; empty for the order by source and line. */
  sort: string[]
  onSort: (sort: string[]) => void
}

/** All rows of a dataset, fetched as one scrolls; where each comes from stands first and stays in view. */
export function RowsGrid({ dataset, where, columns, sort, onSort }: GridProps) {
  const [view, setView] = useState({ first: 0, last: 0 })
  const page = useCallback(
    (number: number) => rowsPage(dataset, where, sort, columns, number),
    [dataset, where, sort, columns],
  )
  const first = useQuery(page(0))
  const counting = useTotal(dataset, where, first.data?.total === UNKNOWN)
  const numbers = useMemo(() => {
    const from = Math.floor(view.first / ROWS)
    return Array.from({ length: Math.floor(view.last / ROWS) - from + 1 }, (_, index) => from + index)
  }, [view])
  const pages = useQueries({ queries: numbers.map(page) })
  const onView = useCallback((from: number, to: number) => setView({ first: from, last: to }), [])
  if (first.isPending) return <Wait what="Reading the rows" />
  if (first.isError) return <Trouble error={first.error} />

  const row = (index: number): Value[] | undefined => {
    const number = Math.floor(index / ROWS)
    const data = number === 0 ? first.data : pages[numbers.indexOf(number)]?.data
    return data?.rows[index - number * ROWS]
  }
  const failed = pages.find((one) => one.isError) ?? (counting.isError ? counting : undefined)
  const total = first.data.total === UNKNOWN ? counting.data?.total : first.data.total
  const sorted = sort.map((one) => ({ key: one.replace(/^-/, ''), descending: one.startsWith('-') }))
  return (
    <>
      {failed && <Trouble error={failed.error} />}
      <DataTable
        label={`Rows of ${dataset}`}
        columns={tableColumns(first.data.fields, first.data.rows)}
        count={total ?? first.data.rows.length}
        row={row}
        onView={onView}
        sort={sorted}
        onSort={(column, further) => onSort(sortedBy(sort, column, further))}
        further
        empty={
          where.length > 0
            ? ['No row satisfies this.', ...first.data.hints].join(' ')
            : 'No rows yet. Run a job that loads into this dataset.'
        }
        maxHeight="calc(100vh - 230px)"
      />
      <Typography variant="body2" color="textSecondary" sx={{ mt: 0.75 }}>
        {total === undefined ? 'Counting the rows' : counted(total, 'row')}
        {where.length > 0 ? ' that match the conditions' : ''}
        {sorted.length > 0
          ? `, by ${sorted.map(({ key, descending }) => key + (descending ? ', largest first' : '')).join(', then by ')}; empty ones last`
          : ', by source and line'}
      </Typography>
    </>
  )
}

/** The source first (file and line in one, pinned), then the declared columns, then the rest of where a row comes from. */
function tableColumns(fields: FieldView[], sample: Value[][]): TableColumn<Value[]>[] {
  const at = (name: string) => fields.findIndex((field) => field.name === name)
  const [file, line, path] = [at('_file'), at('_line'), at('_path')]
  const longest = (index: number, least: number, most: number) =>
    Math.max(
      least,
      Math.min(
        most,
        sample
          .slice(0, 60)
          .reduce((width, row) => Math.max(width, shown(row[index] ?? null, fields[index]!.type).length), 0),
      ),
    )
  const declared = fields.map((field, index) => ({ field, index })).filter(({ field }) => !field.name.startsWith('_'))
  return [
    {
      key: '_file',
      title: 'Source',
      width: longest(file, 12, 40) + 6,
      mono: true,
      pinned: true,
      render: (row) => (
        <span title={String(row[path])}>
          {String(row[file])}:{String(row[line])}
        </span>
      ),
    },
    ...declared.map(({ field, index }): TableColumn<Value[]> => ({
      key: field.name,
      title: field.name,
      width: Math.max(field.name.length + 2, WIDTH[field.type] ?? longest(index, 4, 40)),
      right: isNumber(field.type),
      mono: true,
      render: (row) => {
        const text = shown(row[index] ?? null, field.type)
        return <span title={text}>{text}</span>
      },
    })),
    { key: '_run', title: 'Run', width: 6, right: true, mono: true, render: (row) => String(row[at('_run')]) },
    {
      key: '_loaded_at',
      title: 'Loaded',
      width: 22,
      mono: true,
      render: (row) => moment(String(row[at('_loaded_at')])),
    },
  ]
}
