import {
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  IconButton,
  Stack,
} from '@mui/material'
import { useState } from 'react'

interface ChoiceProps {
  all: string[]
  /** Those that are shown, in their order; empty for all. */
  chosen: string[]
  onChoose: (columns: string[]) => void
}

/** Which columns are shown, and in which order. */
export function ColumnChoice({ all, chosen, onChoose }: ChoiceProps) {
  const [order, setOrder] = useState<string[] | null>(null)
  const [shown, setShown] = useState<ReadonlySet<string>>(new Set())
  const open = () => {
    const known = chosen.filter((column) => all.includes(column))
    setOrder([...known, ...all.filter((column) => !known.includes(column))])
    setShown(new Set(known.length > 0 ? known : all))
  }
  const move = (index: number, by: number) => {
    const next = [...order!]
    next.splice(index + by, 0, ...next.splice(index, 1))
    setOrder(next)
  }
  const done = () => {
    const columns = order!.filter((column) => shown.has(column))
    onChoose(columns.length === all.length && columns.every((column, i) => column === all[i]) ? [] : columns)
    setOrder(null)
  }
  return (
    <>
      <Button onClick={open}>{chosen.length > 0 ? `${chosen.length} of ${all.length} columns …` : 'Columns …'}</Button>
      {order && (
        <Dialog open onClose={() => setOrder(null)} aria-labelledby="columns-title" fullWidth maxWidth="xs">
          <DialogTitle id="columns-title">Columns</DialogTitle>
          <DialogContent>
            {order.map((column, index) => (
              <Stack key={column} direction="row" sx={{ alignItems: 'center' }}>
                <FormControlLabel
                  sx={{ flex: 1 }}
                  control={
                    <Checkbox
                      size="small"
                      checked={shown.has(column)}
                      onChange={(event) => {
                        const next = new Set(shown)
                        if (event.target.checked) next.add(column)
                        else next.delete(column)
                        setShown(next)
                      }}
                    />
                  }
                  label={column}
                />
                <IconButton
                  size="small"
                  aria-label={`Move ${column} up`}
                  disabled={index === 0}
                  onClick={() => move(index, -1)}
                >
                  ↑
                </IconButton>
                <IconButton
                  size="small"
                  aria-label={`Move ${column} down`}
                  disabled={index === order.length - 1}
                  onClick={() => move(index, 1)}
                >
                  ↓
                </IconButton>
              </Stack>
            ))}
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setOrder(null)}>Cancel</Button>
            <Button variant="contained" onClick={done} disabled={shown.size === 0}>
              Show
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  )
}
