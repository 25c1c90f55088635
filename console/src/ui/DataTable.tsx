import { Box, Typography } from '@mui/material'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef, useState, type KeyboardEvent, type MouseEvent, type ReactNode } from 'react'

export interface TableColumn<Row> {
  key: string
  title: string
  /** In characters of its font; the last column takes what is left. */
  width: number
  right?: boolean
  mono?: boolean
  /** Stays in view when one scrolls sideways. Such columns come first. */
  pinned?: boolean
  /** Cannot be sorted by. */
  fixed?: boolean
  render: (row: Row) => ReactNode
}

export interface Sorted {
  key: string
  descending: boolean
}

interface TableProps<Row> {
  label: string
  columns: TableColumn<Row>[]
  count: number
  /** The row at an index; undefined while it is not there yet. */
  row: (index: number) => Row | undefined
  /** Which rows are in view, so that they can be fetched. */
  onView?: (first: number, last: number) => void
  /** What it is sorted by: the first, and where that is the same, the next. */
  sort?: Sorted[]
  /** @param further whether it is to be sorted by this behind what it is sorted by already */
  onSort?: (key: string, further: boolean) => void
  /** Whether it can be sorted by several columns. */
  further?: boolean
  onOpen?: (row: Row) => void
  empty: ReactNode
  /** Height of the scrolling part; as tall as its rows up to that. */
  maxHeight: string
}

const ROW = 30
/** Width of one character of the data's font, in pixels. */
const CHARACTER = 7.8
/** Width of most letters of the other font. */
const LETTER = 7
/** Room on both sides of a cell, in pixels. */
const PADDING = 16

const pixels = (column: { width: number; mono?: boolean }) =>
  Math.ceil(column.width * (column.mono ? CHARACTER : LETTER) + PADDING)

/** A list of any length: only what is in view is drawn. Headers sort; arrows, Home and End go from row to row, Enter opens. */
export function DataTable<Row>({
  label,
  columns,
  count,
  row,
  onView,
  sort,
  onSort,
  further,
  onOpen,
  empty,
  maxHeight,
}: TableProps<Row>) {
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    scrollPaddingStart: ROW, // the header lies over it
  })
  const items = virtual.getVirtualItems()
  const first = items[0]?.index ?? 0
  const last = items[items.length - 1]?.index ?? 0
  useEffect(() => onView?.(first, last), [first, last, onView])

  // One row of those that open can be reached with Tab, the others from it with the arrow keys.
  const [active, setActive] = useState(0)
  const reached = active >= first && active <= last ? active : first
  const moved = useRef(false)
  useEffect(() => {
    if (!moved.current) return
    const row = scroller.current?.querySelector<HTMLElement>(`[role="row"][data-index="${active}"]`)
    if (row) {
      moved.current = false
      row.focus({ preventScroll: true })
    }
  })
  const onKey = (event: KeyboardEvent, index: number, value: Row | undefined) => {
    const to = { ArrowDown: index + 1, ArrowUp: index - 1, Home: 0, End: count - 1 }[event.key]
    if (event.target !== event.currentTarget) return // a link or button of the row
    if ((event.key === 'Enter' || event.key === ' ') && value) onOpen?.(value)
    else if (to === undefined || to < 0 || to >= count) return
    else {
      moved.current = true
      setActive(to)
      virtual.scrollToIndex(to)
    }
    event.preventDefault()
  }

  let left = 0
  const placed = columns.map((column, index) => {
    const place = { column, left, last: index === columns.length - 1 }
    left += column.pinned ? pixels(column) : 0
    return place
  })
  const width = columns.reduce((sum, column) => sum + pixels(column), 0)
  const cell = (place: (typeof placed)[number], header: boolean) => ({
    flex: place.last ? `1 0 ${pixels(place.column)}px` : `0 0 ${pixels(place.column)}px`,
    px: `${PADDING / 2}px`,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    textAlign: place.column.right ? 'right' : 'left',
    fontFamily: place.column.mono && !header ? 'inherit' : '"Source Sans 3 Variable", sans-serif',
    fontSize: place.column.mono && !header ? 'inherit' : '0.9rem',
    ...(place.column.pinned
      ? {
          position: 'sticky',
          left: place.left,
          bgcolor: 'background.paper',
          zIndex: 1,
          borderRight: header ? 0 : 1,
          borderColor: 'divider',
        }
      : {}),
  })

  if (count === 0)
    return (
      <Box sx={{ py: 2, borderTop: 1, borderColor: 'divider' }}>
        {typeof empty === 'string' ? <Typography color="textSecondary">{empty}</Typography> : empty}
      </Box>
    )
  return (
    <Box
      ref={scroller}
      role="table"
      aria-label={label}
      aria-rowcount={count + 1}
      tabIndex={0}
      sx={{
        maxHeight,
        overflow: 'auto',
        borderTop: 1,
        borderBottom: 1,
        borderColor: 'divider',
        fontFamily: (theme) => theme.mono,
        fontSize: '0.8rem',
      }}
    >
      <Box sx={{ minWidth: width }}>
        <Box
          role="row"
          aria-rowindex={1}
          sx={{
            display: 'flex',
            position: 'sticky',
            top: 0,
            zIndex: 2,
            bgcolor: 'background.paper',
            borderBottom: 1,
            borderColor: 'divider',
            height: ROW,
            alignItems: 'center',
          }}
        >
          {placed.map((place) => {
            const at = sort?.findIndex((one) => one.key === place.column.key) ?? -1
            const sorted = sort?.[at]
            return (
              <Box
                key={place.column.key}
                role="columnheader"
                aria-sort={sorted ? (sorted.descending ? 'descending' : 'ascending') : undefined}
                sx={{ ...cell(place, true), lineHeight: `${ROW - 2}px` }}
              >
                {onSort && !place.column.fixed ? (
                  <Box
                    component="button"
                    onClick={(event: MouseEvent) => onSort(place.column.key, event.shiftKey)}
                    title={further ? 'With Shift: sort by this, too' : undefined}
                    sx={{
                      all: 'unset',
                      cursor: 'pointer',
                      color: 'text.secondary',
                      fontWeight: 600,
                      '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
                    }}
                  >
                    {place.column.title}
                    {sorted ? (sorted.descending ? ' ↓' : ' ↑') : ''}
                    {sorted && sort && sort.length > 1 ? <sup style={{ lineHeight: 0 }}>{at + 1}</sup> : null}
                  </Box>
                ) : (
                  <Box component="span" sx={{ color: 'text.secondary', fontWeight: 600 }}>
                    {place.column.title}
                  </Box>
                )}
              </Box>
            )
          })}
        </Box>
        <Box role="rowgroup" sx={{ height: virtual.getTotalSize(), position: 'relative' }}>
          {items.map((item) => {
            const value = row(item.index)
            return (
              <Box
                key={item.key}
                role="row"
                aria-rowindex={item.index + 2}
                data-index={item.index}
                tabIndex={!onOpen ? undefined : item.index === reached ? 0 : -1}
                onFocus={onOpen ? () => setActive(item.index) : undefined}
                onClick={onOpen && value ? () => onOpen(value) : undefined}
                onKeyDown={onOpen ? (event) => onKey(event, item.index, value) : undefined}
                sx={{
                  display: 'flex',
                  position: 'absolute',
                  top: 0,
                  left: 0,
                  width: '100%',
                  height: ROW,
                  alignItems: 'center',
                  transform: `translateY(${item.start}px)`,
                  borderBottom: 1,
                  borderColor: 'divider',
                  cursor: onOpen ? 'pointer' : undefined,
                  '&:hover': { bgcolor: 'action.hover' },
                }}
              >
                {placed.map((place) => (
                  <Box key={place.column.key} role="cell" sx={{ ...cell(place, false), lineHeight: `${ROW - 2}px` }}>
                    {value === undefined ? '·' : place.column.render(value)}
                  </Box>
                ))}
              </Box>
            )
          })}
        </Box>
      </Box>
    </Box>
  )
}
