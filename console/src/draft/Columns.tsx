import { Box, Button, Checkbox, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import type { ColumnChoice, ColumnDraft, Draft } from '../api/client'
import { grouped } from '../ui/format'

interface ColumnsProps {
  job: Draft['jobs'][number]
  /** Whether the dataset exists, so that its columns are what they are. */
  fixed: boolean
  onChoose: (header: string, choice: ColumnChoice) => void
}

/** From so many columns on, those that are sure are folded. */
const MANY = 24

/** One line a column: what it becomes, some of its values, and why. Doubtful ones stand first. */
export function Columns({ job, fixed, onChoose }: ColumnsProps) {
  const [all, setAll] = useState(false)
  const doubtful = job.columns.filter((column) => column.doubts.length > 0)
  const sure = job.columns.filter((column) => column.doubts.length === 0)
  const shown = all || job.columns.length <= MANY ? sure : sure.slice(0, Math.max(0, MANY - doubtful.length))
  return (
    <Box sx={{ mt: 2, overflowX: 'auto' }}>
      <Box
        component="table"
        aria-label={`Columns of ${job.name}`}
        sx={{
          borderCollapse: 'collapse',
          width: '100%',
          '& th': { textAlign: 'left', color: 'text.secondary', fontWeight: 400, fontSize: '0.85rem' },
          '& th, & td': { px: 1, py: 0.5, verticalAlign: 'top', borderBottom: 1, borderColor: 'divider' },
        }}
      >
        <thead>
          <tr>
            <th>In the files</th>
            <th>Column</th>
            <th>Type</th>
            <th>Required</th>
            <th>Take</th>
            <th>Values</th>
            <th>Why</th>
          </tr>
        </thead>
        <tbody>
          {[...doubtful, ...shown].map((column) => (
            <Column key={column.from.join(' ')} column={column} fixed={fixed} onChoose={onChoose} />
          ))}
        </tbody>
      </Box>
      {shown.length < sure.length && (
        <Button onClick={() => setAll(true)}>Show {grouped(sure.length - shown.length)} more that are sure</Button>
      )}
    </Box>
  )
}

interface ColumnProps {
  column: ColumnDraft
  fixed: boolean
  onChoose: (header: string, choice: ColumnChoice) => void
}

function Column({ column, fixed, onChoose }: ColumnProps) {
  const header = column.from[0]!
  const out = column.name === ''
  const mono = { fontFamily: 'monospace', fontSize: '0.85rem' }
  return (
    <tr>
      <Box component="td" sx={mono}>
        {column.from.join(', ')}
      </Box>
      <td>
        <TextField
          key={column.name}
          size="small"
          variant="standard"
          defaultValue={column.name}
          disabled={out && !fixed}
          onBlur={(event) => {
            if (event.target.value !== column.name) onChoose(header, { name: event.target.value.trim() })
          }}
          slotProps={{ htmlInput: { 'aria-label': `Name of ${header}`, style: mono } }}
          sx={{ minWidth: 130 }}
        />
      </td>
      <td>
        <TextField
          key={column.type}
          size="small"
          variant="standard"
          defaultValue={column.type}
          disabled={fixed || out}
          onBlur={(event) => {
            if (event.target.value !== column.type) onChoose(header, { type: event.target.value.trim() })
          }}
          slotProps={{ htmlInput: { 'aria-label': `Type of ${header}`, style: mono } }}
          sx={{ minWidth: 110 }}
        />
      </td>
      <td>
        <Checkbox
          size="small"
          sx={{ p: 0.25 }}
          checked={column.required}
          disabled={fixed || out}
          onChange={(event) => onChoose(header, { required: event.target.checked })}
          slotProps={{ input: { 'aria-label': `${header} is required` } }}
        />
      </td>
      <td>
        <Checkbox
          size="small"
          sx={{ p: 0.25 }}
          checked={!out}
          onChange={(event) => onChoose(header, { skip: !event.target.checked })}
          slotProps={{ input: { 'aria-label': `Take ${header}` } }}
        />
      </td>
      <Box component="td" sx={{ ...mono, color: 'text.secondary', maxWidth: 220, overflowWrap: 'anywhere' }}>
        {column.samples.slice(0, 3).join(' · ')}
      </Box>
      <td>
        {column.doubts.map((doubt) => (
          <Typography key={doubt} variant="body2">
            <b>?</b> {doubt}
          </Typography>
        ))}
        <Typography variant="body2" color="textSecondary">
          {column.why}
        </Typography>
      </td>
    </tr>
  )
}
