import {
  Box,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from '@mui/material'
import { useMutation } from '@tanstack/react-query'
import { useState } from 'react'
import { download, save, type DatasetDetail } from '../api/client'
import { Trouble } from '../ui/State'
import type { Question } from './question'

const FORMATS = {
  csv: 'CSV',
  xlsx: 'Workbook (xlsx)',
  json: 'JSON, one array',
  json_lines: 'JSON, a row on each line',
  xml: 'XML',
  parquet: 'Parquet',
}
const ENDINGS = { csv: 'csv', xlsx: 'xlsx', json: 'json', json_lines: 'jsonl', xml: 'xml', parquet: 'parquet' }
const SEPARATORS = { '': 'comma', ';': 'semicolon', tab: 'tab', '|': '|' }
const ENCODINGS = ['', 'ISO-8859-1', 'windows-1252', 'UTF-16']

interface Choices {
  as: keyof typeof FORMATS
  origins: boolean
  separator: string
  encoding: string
  decimal: string
  dates: string
  timestamps: string
  safe: boolean
  root: string
  element: string
  /** The pattern of the files that rows are split into; empty for one file. */
  split: string
}

const USUAL: Choices = {
  as: 'csv',
  origins: false,
  separator: '',
  encoding: '',
  decimal: '',
  dates: '',
  timestamps: '',
  safe: false,
  root: '',
  element: '',
  split: '',
}

/** Saves the rows that are shown as a file for others, with other names where these are wanted. */
export function ExportDialog({ dataset, question }: { dataset: DatasetDetail; question: Question }) {
  const [open, setOpen] = useState(false)
  const [choices, setChoices] = useState(USUAL)
  const [names, setNames] = useState<Record<string, string>>({})
  const saving = useMutation({ mutationFn: save, onSuccess: () => setOpen(false) })
  const choose = <K extends keyof Choices>(name: K, value: Choices[K]) => {
    saving.reset()
    setChoices({ ...choices, [name]: value })
  }
  const columns = question.columns.length > 0 ? question.columns : dataset.columns.map((column) => column.name)
  const renamed = columns.some((column) => names[column]?.trim())
  const { as, origins } = choices
  const csv = as === 'csv'
  const text = csv || as === 'xml' || as.startsWith('json')
  const pattern = choices.split.trim()
  const path = () =>
    (pattern ? download.split : download.rows)(dataset.name, {
      as,
      ...(pattern ? { to: pattern } : {}),
      origins: origins || undefined,
      where: question.where,
      sort: question.sort,
      columns:
        renamed || question.columns.length > 0
          ? columns.map((column) => (names[column]?.trim() ? `${column} as ${names[column].trim()}` : column))
          : [],
      ...(csv
        ? {
            separator: choices.separator,
            encoding: choices.encoding,
            decimal: choices.decimal,
            safe: choices.safe || undefined,
          }
        : {}),
      ...(text ? { dates: choices.dates, timestamps: choices.timestamps } : {}),
      ...(as === 'xml' ? { root: choices.root, element: choices.element } : {}),
    })
  const field = (
    name: 'dates' | 'timestamps' | 'root' | 'element' | 'split',
    label: string,
    placeholder: string,
    width?: number,
  ) => (
    <TextField
      variant="standard"
      size="small"
      label={label}
      placeholder={placeholder}
      value={choices[name]}
      onChange={(event) => choose(name, event.target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
      sx={{ minWidth: width }}
    />
  )
  const choice = (
    name: 'as' | 'separator' | 'encoding' | 'decimal',
    label: string,
    options: Record<string, string>,
  ) => (
    <TextField
      select
      variant="standard"
      size="small"
      label={label}
      value={choices[name]}
      onChange={(event) => choose(name, event.target.value as never)}
      slotProps={{ inputLabel: { shrink: true }, select: { displayEmpty: true } }}
      sx={{ minWidth: 140 }}
    >
      {Object.entries(options).map(([value, shown]) => (
        <MenuItem key={value} value={value} dense>
          {shown}
        </MenuItem>
      ))}
    </TextField>
  )
  return (
    <>
      <Button onClick={() => setOpen(true)}>Export …</Button>
      {open && (
        <Dialog open onClose={() => setOpen(false)} aria-labelledby="export-title" fullWidth maxWidth="sm">
          <DialogTitle id="export-title">Export {dataset.name}</DialogTitle>
          <DialogContent>
            <Typography variant="body2" color="textSecondary" sx={{ mb: 2 }}>
              {question.where.length > 0 ? 'The rows that match the conditions' : 'All rows'},{' '}
              {question.sort.length > 0 ? 'sorted as shown' : 'by source and line'}.
            </Typography>
            <Stack direction="row" sx={{ gap: 2, flexWrap: 'wrap', mb: 1 }}>
              {choice('as', 'Format', FORMATS)}
              {csv && choice('separator', 'Separator', SEPARATORS)}
              {csv &&
                choice('encoding', 'Encoding', Object.fromEntries(ENCODINGS.map((name) => [name, name || 'UTF-8'])))}
              {csv && choice('decimal', 'Decimal mark', { '': 'point', ',': 'comma' })}
              {text && field('dates', 'Dates', 'yyyy-MM-dd')}
              {text && field('timestamps', 'Timestamps', 'ISO 8601')}
              {as === 'xml' && field('root', 'Outermost element', 'rows')}
              {as === 'xml' && field('element', 'Element of a row', 'row')}
              {field('split', 'One file for each value', `{${columns[0]}}.${ENDINGS[as]}`, 300)}
            </Stack>
            {pattern && (
              <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
                You get a ZIP archive with the files. Pieces are columns, dates also as {'{column:yyyy-MM}'}, and
                {' {file.stem}'} for the file that rows are from.
              </Typography>
            )}
            <FormControlLabel
              control={
                <Checkbox
                  size="small"
                  checked={origins}
                  onChange={(event) => choose('origins', event.target.checked)}
                />
              }
              label="with file, line, run and time of loading"
            />
            {csv && (
              <FormControlLabel
                control={
                  <Checkbox
                    size="small"
                    checked={choices.safe}
                    onChange={(event) => choose('safe', event.target.checked)}
                  />
                }
                label="an apostrophe before texts that look like formulas"
              />
            )}
            <Typography variant="body2" color="textSecondary" sx={{ mt: 2 }}>
              Names of the columns
              {as === 'xml' || as.startsWith('json') ? '; a point makes a structure: site.name' : ''}
              {as === 'xml' ? ', @ an attribute: site.@id' : ''}
            </Typography>
            <Box sx={{ display: 'grid', gridTemplateColumns: 'max-content 1fr', columnGap: 2, alignItems: 'center' }}>
              {columns.map((column) => (
                <Box key={column} sx={{ display: 'contents' }}>
                  <Typography sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.82rem' }}>{column}</Typography>
                  <TextField
                    variant="standard"
                    size="small"
                    placeholder={column}
                    value={names[column] ?? ''}
                    onChange={(event) => {
                      saving.reset()
                      setNames({ ...names, [column]: event.target.value })
                    }}
                    slotProps={{ htmlInput: { 'aria-label': `Name of ${column}` } }}
                  />
                </Box>
              ))}
            </Box>
            {saving.isError && <Trouble error={saving.error} />}
          </DialogContent>
          <DialogActions>
            <Button onClick={() => setOpen(false)}>Cancel</Button>
            <Button variant="contained" disabled={saving.isPending} onClick={() => saving.mutate(path())}>
              {pattern ? 'Save the files' : 'Save the file'}
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  )
}
