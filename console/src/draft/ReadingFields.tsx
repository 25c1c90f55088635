import { MenuItem, Stack, TextField, Typography } from '@mui/material'
import type { ReadingChoice } from '../api/client'

interface Props {
  reading: ReadingChoice
  onChange: (reading: ReadingChoice) => void
}

/** How text files are read where people know better; what is left empty is found out. The draft below shows the effect. */
export function ReadingFields({ reading, onChange }: Props) {
  const text = (field: 'separator' | 'encoding', label: string, width: number) => (
    <TextField
      size="small"
      label={label}
      placeholder="found"
      defaultValue={shown(reading[field])}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { spellCheck: false } }}
      sx={{ width }}
      onBlur={(event) => onChange({ ...reading, [field]: meant(event.target.value) })}
      onKeyDown={(event) => {
        if (event.key === 'Enter') {
          ;(event.target as HTMLInputElement).blur()
        }
      }}
    />
  )
  return (
    <Stack direction="row" sx={{ gap: 2, alignItems: 'center', flexWrap: 'wrap', mb: 2 }}>
      <Typography color="textSecondary">Text files are read with</Typography>
      {text('separator', 'Separator', 110)}
      {text('encoding', 'Encoding', 160)}
      <TextField
        size="small"
        type="number"
        label="Lines above"
        placeholder="found"
        defaultValue={reading.linesAbove ?? ''}
        slotProps={{ inputLabel: { shrink: true }, htmlInput: { min: 0 } }}
        sx={{ width: 120 }}
        onBlur={(event) =>
          onChange({ ...reading, linesAbove: event.target.value === '' ? undefined : Number(event.target.value) })
        }
      />
      <TextField
        select
        size="small"
        label="First row"
        value={reading.header === undefined ? '' : String(reading.header)}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
        sx={{ minWidth: 180 }}
        onChange={(event) =>
          onChange({ ...reading, header: event.target.value === '' ? undefined : event.target.value === 'true' })
        }
      >
        <MenuItem value="">as found</MenuItem>
        <MenuItem value="true">names the columns</MenuItem>
        <MenuItem value="false">is a row like all others</MenuItem>
      </TextField>
    </Stack>
  )
}

function shown(value?: string) {
  return value === '\t' ? '\\t' : (value ?? '')
}

function meant(written: string) {
  return written === '' ? undefined : written.replaceAll('\\t', '\t')
}
