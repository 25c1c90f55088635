import { Box, Link as Anchor, Stack, Typography } from '@mui/material'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import type { FitCell, FitGroup, FitView } from '../api/client'
import { useFit } from '../api/hooks'
import { counted, grouped } from '../ui/format'
import { Words } from '../rejects/ReasonList'
import { Mistakes, Trouble, Wait } from '../ui/State'
import { PeekDialog } from './PeekDialog'

/** Files against columns: those of equal structure are one row. */
export function FitPage() {
  const job = useParams().job!
  const fit = useFit(job)
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 2, flexWrap: 'wrap' }}>
        <Typography variant="h1">
          <Anchor component={Link} to={`/jobs/${job}`} color="inherit">
            {job}
          </Anchor>
          : fit
        </Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }}>
          {fit.data &&
            fit.data.canRun &&
            `${counted(fit.data.files, 'file')} of ${counted(fit.data.groups.length, 'structure')}${fit.data.clean ? ', all fit' : ''}${fit.data.waiting ? `; ${grouped(fit.data.waiting)} waiting, not looked at` : ''}`}
        </Typography>
        <Anchor component={Link} to={`/jobs/${job}/find`}>
          which files →
        </Anchor>
      </Stack>
      {fit.isPending && <Wait what="Reading the header and the first rows of every file" />}
      {fit.isError && <Trouble error={fit.error} />}
      {fit.data && fit.data.problems.length > 0 && (
        <Box sx={{ color: 'error.main' }}>
          <Mistakes problems={fit.data.problems} />
        </Box>
      )}
      {fit.data &&
        fit.data.canRun &&
        (fit.data.groups.length === 0 ? (
          <Typography color="textSecondary">No file is taken, so there is nothing to compare.</Typography>
        ) : (
          <Matrix job={job} fit={fit.data} />
        ))}
    </>
  )
}

const MARKS: Record<string, string> = { present: '', fixed: '=', moved: '↔', empty: '–', missing: '✕', other_type: '≠' }
const MEANINGS: [string, string][] = [
  ['=', 'the same in every row'],
  ['↔', 'in another place than in most files'],
  ['–', 'not there, left empty'],
  ['✕', 'missing'],
  ['≠', 'looks like another type'],
  ['+', 'not mapped'],
]

function Matrix({ job, fit }: { job: string; fit: FitView }) {
  const [peeked, setPeeked] = useState<string | null>(null)
  return (
    <>
      <Box sx={{ overflowX: 'auto', border: 1, borderColor: 'divider' }}>
        <Box
          component="table"
          aria-label="Files against columns"
          sx={{
            borderCollapse: 'collapse',
            fontSize: '0.8rem',
            minWidth: '100%',
            '& th, & td': {
              textAlign: 'left',
              verticalAlign: 'top',
              px: 1.25,
              py: 0.75,
              borderBottom: 1,
              borderColor: 'divider',
            },
          }}
        >
          <thead>
            <tr>
              <Box
                component="th"
                sx={{ position: 'sticky', left: 0, bgcolor: 'background.paper', zIndex: 1, color: 'text.secondary' }}
              >
                Files
              </Box>
              {fit.columns.map((column) => (
                <Box component="th" key={column} sx={{ fontFamily: (theme) => theme.mono, color: 'text.secondary' }}>
                  {column}
                </Box>
              ))}
              <Box component="th" sx={{ color: 'text.secondary' }}>
                further columns
              </Box>
            </tr>
          </thead>
          <tbody>
            {fit.groups.map((group, index) => (
              <Row key={index} number={index + 1} group={group} columns={fit.columns} onPeek={setPeeked} />
            ))}
          </tbody>
        </Box>
      </Box>
      <Typography variant="body2" color="textSecondary" sx={{ mt: 1 }}>
        {MEANINGS.map(([mark, meaning]) => `${mark} ${meaning}`).join(' · ')}. Names are as they stand in the files; the
        small number is the place in the row.
      </Typography>
      <Box sx={{ mt: 3 }}>
        {fit.groups
          .filter((group) => group.sentence || group.changes.length > 0)
          .map((group) => {
            const number = fit.groups.indexOf(group) + 1
            return (
              <Box
                key={number}
                sx={{
                  borderTop: 1,
                  borderColor: 'divider',
                  py: 1,
                  display: 'grid',
                  gridTemplateColumns: '7rem 1fr',
                  columnGap: 2,
                }}
              >
                <Typography variant="body2" color="textSecondary">
                  structure {number}
                </Typography>
                <Stack sx={{ gap: 0.5 }}>
                  {group.sentence && (
                    <Typography variant="body2" sx={{ color: 'error.main' }}>
                      {group.files === 1 ? group.names[0]?.name : counted(group.files, 'file')} {group.sentence}
                    </Typography>
                  )}
                  {group.changes.map((change) => (
                    <Typography key={change} variant="body2">
                      <Words text={change} />
                    </Typography>
                  ))}
                </Stack>
              </Box>
            )
          })}
      </Box>
      {peeked !== null && <PeekDialog job={job} file={peeked} onClose={() => setPeeked(null)} />}
    </>
  )
}

const SHOWN = 3

interface RowProps {
  number: number
  group: FitGroup
  columns: string[]
  onPeek: (file: string) => void
}

function Row({ number, group, columns, onPeek }: RowProps) {
  const [all, setAll] = useState(false)
  const unfit = group.verdict === 'does not fit'
  const names = all ? group.names : group.names.slice(0, SHOWN)
  const more = group.files - names.length
  return (
    <tr>
      <Box
        component="td"
        sx={{
          position: 'sticky',
          left: 0,
          bgcolor: 'background.paper',
          zIndex: 1,
          minWidth: '14rem',
          boxShadow: (theme) =>
            `inset ${unfit ? 6 : 3}px 0 0 ${unfit ? theme.palette.error.main : theme.palette.primary.main}`,
        }}
      >
        <Box sx={{ fontWeight: 600, color: unfit ? 'error.main' : undefined }}>
          {number}. {counted(group.files, 'file')},{' '}
          {group.files === 1 || group.verdict === 'fits with differences'
            ? group.verdict
            : unfit
              ? 'do not fit'
              : 'fit'}
        </Box>
        {names.map((name) => (
          <Box key={name.place + name.relative}>
            <Box
              component="button"
              onClick={() => onPeek(name.relative)}
              title="Look at it"
              sx={{
                all: 'unset',
                cursor: 'pointer',
                fontFamily: (theme) => theme.mono,
                fontSize: '0.75rem',
                '&:hover': { textDecoration: 'underline' },
                '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
              }}
            >
              {name.relative}
            </Box>
          </Box>
        ))}
        {more > 0 &&
          (group.names.length > names.length ? (
            <Box
              component="button"
              onClick={() => setAll(true)}
              sx={{ all: 'unset', cursor: 'pointer', color: 'primary.main', fontSize: '0.75rem' }}
            >
              and {grouped(more)} more
            </Box>
          ) : (
            <Box component="span" sx={{ color: 'text.secondary', fontSize: '0.75rem' }}>
              and {grouped(more)} more
            </Box>
          ))}
        {group.rows > 0 && (
          <Box sx={{ color: 'text.secondary', fontSize: '0.75rem' }}>
            {group.rejected === 0 ? 'none' : grouped(group.rejected)} of {grouped(group.rows)} rows looked at would be
            rejected
          </Box>
        )}
      </Box>
      {group.cells.length === 0 ? (
        <Box component="td" colSpan={columns.length + 1} sx={{ color: 'text.secondary' }}>
          its columns cannot be read
          {group.header.length > 0 && (
            <>
              :{' '}
              <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.75rem' }}>
                {group.header.join(' · ')}
              </Box>
            </>
          )}
        </Box>
      ) : (
        group.cells.map((cell) => <CellView key={cell.column} cell={cell} />)
      )}
      {group.cells.length > 0 && (
        <Box component="td">
          {group.extra.map((extra) => (
            <Box
              key={extra.name + extra.position}
              sx={{
                fontFamily: (theme) => theme.mono,
                fontSize: '0.75rem',
                color: extra.passed ? 'text.secondary' : 'error.main',
                maxWidth: '18rem',
                overflow: 'hidden',
                textOverflow: 'ellipsis',
              }}
              title={extra.passed ? 'skipped as declared' : 'not mapped: the file is rejected'}
            >
              {extra.passed ? '' : '+ '}
              {extra.name}
            </Box>
          ))}
        </Box>
      )}
    </tr>
  )
}

function CellView({ cell }: { cell: FitCell }) {
  const wrong = cell.state === 'missing' || cell.state === 'other_type'
  const title =
    cell.state === 'moved' ? `at place ${cell.usual} in most files${cell.looks ? `; ${cell.looks}` : ''}` : cell.looks
  return (
    <Box
      component="td"
      title={title}
      aria-label={`${cell.column}: ${cell.state.replace('_', ' ')}`}
      sx={{
        bgcolor: wrong ? 'action.selected' : undefined,
        color: wrong ? 'error.main' : cell.state === 'fixed' || cell.state === 'empty' ? 'text.secondary' : undefined,
        whiteSpace: 'nowrap',
        maxWidth: '10.5rem',
        overflow: 'hidden',
        textOverflow: 'ellipsis',
      }}
    >
      {MARKS[cell.state] && (
        <Box component="span" sx={{ mr: 0.5 }}>
          {MARKS[cell.state]}
        </Box>
      )}
      {cell.header || (cell.state === 'fixed' ? cell.looks : '')}
      {cell.position > 0 && (
        <Box component="sup" sx={{ color: 'text.secondary', ml: 0.4 }}>
          {cell.position}
        </Box>
      )}
      {cell.looks && cell.header && (
        <Box
          sx={{
            color: wrong ? 'error.main' : 'text.secondary',
            fontSize: '0.72rem',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          }}
        >
          {cell.looks}
        </Box>
      )}
    </Box>
  )
}
