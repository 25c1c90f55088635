import { Box, TextField, Typography } from '@mui/material'
import type { Used } from '../api/client'

interface GivenProps {
  used: Used[]
  set: Record<string, string>
  onSet: (set: Record<string, string>) => void
}

/** The values that a job's file refers to, where each came from, and another one for this time. */
export function Given({ used, set, onSet }: GivenProps) {
  const names = [...new Set([...used.map((value) => value.name), ...Object.keys(set)])]
  if (names.length === 0) return null
  const change = (name: string, value: string) => {
    const rest = Object.entries(set).filter(([other]) => other !== name)
    onSet(Object.fromEntries(value === '' ? rest : [...rest, [name, value]]))
  }
  return (
    <Box
      role="list"
      aria-label="Values"
      sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 3, rowGap: 0.5, mb: 2, alignItems: 'baseline' }}
    >
      {names.map((name) => {
        const value = used.find((one) => one.name === name)
        return (
          <Box key={name} role="listitem" sx={{ display: 'flex', gap: 1, alignItems: 'baseline' }}>
            <Typography variant="body2" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem' }}>
              {name} =
            </Typography>
            <TextField
              variant="standard"
              size="small"
              value={set[name] ?? ''}
              placeholder={value?.value ?? ''}
              onChange={(event) => change(name, event.target.value)}
              sx={{ width: `${Math.max(10, (set[name] ?? value?.value ?? '').length + 3)}ch` }}
              slotProps={{ htmlInput: { 'aria-label': `Value of ${name}`, style: { padding: '1px 0' } } }}
            />
            <Typography variant="body2" color="textSecondary">
              {value ? value.from : 'not used'}
            </Typography>
          </Box>
        )
      })}
    </Box>
  )
}
