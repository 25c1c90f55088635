import { Box, Button, Dialog, DialogContent, DialogTitle, Stack, TextField, Typography } from '@mui/material'
import { Fragment, useState } from 'react'
import { Link } from 'react-router'
import { usePeek } from '../api/hooks'
import { counted, grouped, size } from '../ui/format'
import { Trouble, Wait } from '../ui/State'

const LINES = 100
/** Merged areas that are named. */
const MERGED = 8

interface PeekProps {
  job: string
  /** Its path below the folder of its place. */
  file: string
  onClose: () => void
}

/** What the columns of a sheet are called: A to Z, AA and so on. */
function letters(column: number): string {
  let name = ''
  for (let rest = column; rest > 0; rest = Math.floor((rest - 1) / 26)) {
    name = String.fromCharCode(65 + ((rest - 1) % 26)) + name
  }
  return name
}

/** Lines of a file as they are: the first, the last, or any, with invisible characters made visible. */
export function PeekDialog({ job, file, onClose }: PeekProps) {
  const [from, setFrom] = useState(1)
  const [typed, setTyped] = useState('')
  const peek = usePeek(job, file, from, LINES)
  const content = peek.data?.content
  const columns = Math.max(0, ...(content?.lines ?? []).map((line) => line.cells.length))
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
          <Button component={Link} to={`/jobs/${job}/rows?file=${encodeURIComponent(file)}`}>
            Rows
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
        {content && content.merged.length > 0 && (
          <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
            Merged into one cell: {content.merged.slice(0, MERGED).join(', ')}
            {content.merged.length > MERGED ? ` and ${content.merged.length - MERGED} more` : ''}
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
            {columns > 0 && (
              <thead>
                <tr>
                  <td />
                  {Array.from({ length: columns }, (_, index) => (
                    <Box component="th" key={index} sx={{ color: 'text.secondary', fontWeight: 400, px: 1 }}>
                      {letters(index + 1)}
                    </Box>
                  ))}
                </tr>
              </thead>
            )}
            <tbody>
              {content.lines.map((line, at) => (
                <Fragment key={line.number}>
                  {columns > 0 && at > 0 && line.number > content.lines[at - 1]!.number + 1 && (
                    <tr>
                      <td />
                      <Box component="td" colSpan={columns} sx={{ color: 'text.secondary', px: 1 }}>
                        {counted(line.number - content.lines[at - 1]!.number - 1, 'row')} without cells
                      </Box>
                    </tr>
                  )}
                  <tr>
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
                    {columns > 0 ? (
                      Array.from({ length: columns }, (_, index) => (
                        <Box
                          component="td"
                          key={index}
                          title={line.cells[index]}
                          sx={{
                            px: 1,
                            border: 1,
                            borderColor: 'divider',
                            whiteSpace: 'pre',
                            maxWidth: '24rem',
                            overflow: 'hidden',
                            textOverflow: 'ellipsis',
                          }}
                        >
                          {line.cells[index] ?? ''}
                        </Box>
                      ))
                    ) : (
                      <Box component="td" sx={{ whiteSpace: 'pre' }}>
                        {line.text}
                        {line.cut ? '…' : ''}
                      </Box>
                    )}
                  </tr>
                </Fragment>
              ))}
            </tbody>
          </Box>
        )}
      </DialogContent>
    </Dialog>
  )
}
