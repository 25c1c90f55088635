import { Box, Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { usePeek } from '../api/hooks'
import { grouped, size } from '../ui/format'
import { Trouble, Wait } from '../ui/State'

const LINES = 100

interface PeekProps {
  job: string
  /** Its path below the folder of its place. */
  file: string
  onClose: () => void
}

/** Lines of a file as they are: the first, the last, or any, with invisible characters made visible. */
export function PeekDialog({ job, file, onClose }: PeekProps) {
  const [from, setFrom] = useState(1)
  const [typed, setTyped] = useState('')
  const peek = usePeek(job, file, from, LINES)
  const content = peek.data?.content
  const last = content?.lines[content.lines.length - 1]
  const go = () => /^[1-9]\d*$/.test(typed) && setFrom(Number(typed))
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="lg" aria-labelledby="peek-title">
      <DialogTitle id="peek-title" sx={{ pb: 1 }}>
        <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline', flexWrap: 'wrap' }}>
          <Typography component="span" variant="h2" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.95rem' }}>
            {file}
          </Typography>
          {peek.data && (
            <Typography component="span" variant="body2" color="textSecondary" sx={{ flex: 1 }}>
              {size(peek.data.size)}, {content?.kind || `shown as ${peek.data.encoding}`}
              {content?.packed ? `, unpacked from ${content.packed}` : ''}
              {content?.lineEnds ? `, lines end with ${content.lineEnds}` : ''}
            </Typography>
          )}
          <Button onClick={() => setFrom(1)}>First</Button>
          <Button onClick={() => setFrom(0)}>Last</Button>
          <TextField
            variant="standard"
            size="small"
            value={typed}
            placeholder="line"
            onChange={(event) => setTyped(event.target.value)}
            onKeyDown={(event) => event.key === 'Enter' && go()}
            sx={{ width: '6rem' }}
            slotProps={{ htmlInput: { 'aria-label': 'Go to line' } }}
          />
          <Button onClick={go} disabled={!/^[1-9]\d*$/.test(typed)}>
            Go
          </Button>
          <Button onClick={() => last && setFrom(last.number + 1)} disabled={!content?.more}>
            Next
          </Button>
          <Button onClick={onClose}>Close</Button>
        </Stack>
      </DialogTitle>
      <DialogContent tabIndex={0}>
        {peek.isPending && <Wait what={`Reading ${file}`} />}
        {peek.isError && <Trouble error={peek.error} />}
        {content && content.lines.length === 0 && (
          <Typography color="textSecondary">
            {peek.data?.size === 0 ? 'It is empty.' : 'It has no such line.'}
          </Typography>
        )}
        {content && content.lines.length > 0 && (
          <Box
            component="table"
            aria-label={`Lines of ${file}`}
            sx={{
              borderCollapse: 'collapse',
              fontFamily: (theme) => theme.mono,
              fontSize: '0.78rem',
              lineHeight: 1.55,
            }}
          >
            <tbody>
              {content.lines.map((line) => (
                <tr key={line.number}>
                  <Box
                    component="td"
                    sx={{
                      textAlign: 'right',
                      color: 'text.secondary',
                      pr: 1.5,
                      userSelect: 'none',
                      verticalAlign: 'top',
                    }}
                  >
                    {line.number < 0 ? `−${grouped(-line.number)}` : grouped(line.number)}
                  </Box>
                  <Box component="td" sx={{ whiteSpace: 'pre' }}>
                    {line.text}
                    {line.cut ? '…' : ''}
                  </Box>
                </tr>
              ))}
            </tbody>
          </Box>
        )}
      </DialogContent>
    </Dialog>
  )
}
