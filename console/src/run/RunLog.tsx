import { Box, Link as Anchor, Stack, ToggleButton, ToggleButtonGroup, Typography } from '@mui/material'
import { useEffect, useRef } from 'react'
import { download, type LogLevel, type LogLine } from '../api/client'
import { useLog } from '../api/hooks'
import { useAddress } from '../ui/address'
import { counted, grouped, size } from '../ui/format'
import { Section, Trouble } from '../ui/State'

const LEVELS: [LogLevel | 'none', string][] = [
  ['none', 'hidden'],
  ['info', 'all'],
  ['warn', 'warnings'],
]

/** What the run did, line by line: while it goes on, and afterwards where somebody asks for it. */
export function RunLog({ run, ended }: { run: number; ended: boolean }) {
  const address = useAddress()
  const level = (address.get('log') ?? (ended ? 'none' : 'info')) as LogLevel | 'none'
  return (
    <Section
      id="log"
      title="Log"
      right={
        <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline' }}>
          <Anchor href={download.log(run)} title="All of it, a JSON object on each line">
            as a file
          </Anchor>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={level}
            onChange={(_, value: string | null) => value && address.set('log', value)}
            aria-label="Which lines of the log"
          >
            {LEVELS.map(([value, name]) => (
              <ToggleButton key={value} value={value} sx={{ py: 0.25 }}>
                {name}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Stack>
      }
    >
      {level !== 'none' && <Lines key={`${run} ${level}`} run={run} level={level} />}
    </Section>
  )
}

function Lines({ run, level }: { run: number; level: LogLevel }) {
  const { lines, read, more, error } = useLog(run, level)
  const box = useRef<HTMLDivElement>(null)
  const atEnd = useRef(true)
  useEffect(() => {
    if (more && atEnd.current && box.current) box.current.scrollTop = box.current.scrollHeight
  }, [lines, more])
  return (
    <>
      {error ? <Trouble error={error} /> : null}
      {read > lines.length && (
        <Typography variant="body2" color="textSecondary">
          The last {grouped(lines.length)} of {counted(read, 'line')}
        </Typography>
      )}
      {lines.length === 0 && !error && (
        <Typography color="textSecondary">
          {more ? 'Nothing is logged yet.' : level === 'info' ? 'Nothing was logged of this run.' : 'No warnings.'}
        </Typography>
      )}
      <Box
        ref={box}
        role="log"
        aria-label="Log of the run"
        tabIndex={0}
        onScroll={(event) => {
          const { scrollHeight, scrollTop, clientHeight } = event.currentTarget
          atEnd.current = scrollHeight - scrollTop - clientHeight < 20
        }}
        sx={{ maxHeight: '45vh', overflowY: 'auto', fontFamily: (theme) => theme.mono, fontSize: '0.78rem' }}
      >
        {lines.map((line, index) => (
          <Line key={read - lines.length + index} line={line} />
        ))}
      </Box>
    </>
  )
}

function Line({ line }: { line: LogLine }) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '7.5rem 3.5rem minmax(0, 1fr)', py: 0.15 }}>
      <Box component="span" title={line.at} sx={{ color: 'text.secondary' }}>
        {clock(line.at)}
      </Box>
      <Box component="span" sx={{ color: 'error.main', fontWeight: 600 }}>
        {line.level === 'info' ? '' : line.level}
      </Box>
      <Box component="span" sx={{ overflowWrap: 'anywhere' }}>
        {line.file ? <span title={line.path}>{line.file}&ensp;</span> : null}
        {logWords(line)}
      </Box>
    </Box>
  )
}

const pad = (number: number, digits: number) => String(number).padStart(digits, '0')

function clock(instant: string) {
  const at = new Date(instant)
  return `${pad(at.getHours(), 2)}:${pad(at.getMinutes(), 2)}:${pad(at.getSeconds(), 2)}.${pad(at.getMilliseconds(), 3)}`
}

/** What a line says of a file, of all files or of the run. */
export function logWords(line: LogLine): string {
  const { outcome, code, files, bytes, rows, millis, text } = line
  const counts = [
    outcome && (code ? `${outcome} ${code}` : outcome),
    files !== undefined && (bytes === undefined ? `${counted(files, 'file')} found` : counted(files, 'file')),
    bytes !== undefined && size(bytes),
    rows && counted(rows.loaded, 'row') + (line.file ? '' : ' loaded'),
    rows && rows.aside > 0 && `${grouped(rows.aside)} set aside`,
    rows && rows.repeated > 0 && `${grouped(rows.repeated)} repeated`,
    rows && rows.rejected > 0 && `${grouped(rows.rejected)} rejected`,
    millis !== undefined && `${(millis / 1000).toFixed(2)} s`,
  ]
    .filter(Boolean)
    .join(', ')
  return [counts, text].filter(Boolean).join(': ')
}
