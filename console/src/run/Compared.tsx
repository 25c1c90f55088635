import { Box, Button, Link as Anchor, Stack, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { Link } from 'react-router'
import type { Comparison, FileSide, RunView } from '../api/client'
import { useComparison } from '../api/hooks'
import { useAddress } from '../ui/address'
import { counted, grouped } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'

const COUNTS: [string, (run: RunView) => number][] = [
  ['files', (run) => run.files.found],
  ['rows loaded', (run) => run.rows.loaded],
  ['rejected', (run) => run.rows.rejected],
  ['rows in the dataset', (run) => run.dataset.rows],
]

const MOST_FILES = 200

/** The run beside the one before it, in a line: what differs. */
export function Compared({ run }: { run: number }) {
  const comparison = useComparison(run).data
  const address = useAddress()
  if (!comparison?.before) return null
  return (
    <Typography variant="body2" color="textSecondary">
      beside{' '}
      <Anchor component={Link} to={`/runs/${comparison.before.run}`}>
        run {comparison.before.run}
      </Anchor>
      : {differences(comparison)}{' '}
      <Button onClick={() => address.set('beside', address.get('beside') ? undefined : String(comparison.before.run))}>
        {address.get('beside') ? 'not file by file' : 'File by file'}
      </Button>
    </Typography>
  )
}

function differences({ run: now, before }: Comparison) {
  const all = COUNTS.flatMap(([name, of]) =>
    of(now) === of(before)
      ? []
      : [`${of(now) > of(before) ? '+' : '−'}${grouped(Math.abs(of(now) - of(before)))} ${name}`],
  )
  return all.join(', ') || 'the same numbers'
}

/** The run beside another one, file by file; nothing as long as the address does not ask for it. */
export function FileByFile({ run }: { run: number }) {
  const address = useAddress()
  const beside = Number(address.get('beside') ?? '')
  if (!beside) return null
  return <Beside key={beside} run={run} beside={beside} />
}

function Beside({ run, beside }: { run: number; beside: number }) {
  const address = useAddress()
  const [other, setOther] = useState(String(beside))
  const comparison = useComparison(run, beside)
  return (
    <Section
      title={`Beside run ${beside}, file by file`}
      right={
        <Stack
          component="form"
          direction="row"
          sx={{ gap: 1, alignItems: 'baseline' }}
          onSubmit={(event) => {
            event.preventDefault()
            address.set('beside', other)
          }}
        >
          <TextField
            variant="standard"
            label="beside run"
            value={other}
            onChange={(event) => setOther(event.target.value.replace(/\D/g, ''))}
            sx={{ width: '8rem' }}
          />
          <Button type="submit">Compare</Button>
        </Stack>
      }
    >
      {comparison.isPending && <Wait what="Comparing the runs" />}
      {comparison.isError && <Trouble error={comparison.error} />}
      {comparison.data && <Files comparison={comparison.data} />}
    </Section>
  )
}

const said = (side: FileSide | undefined) =>
  !side
    ? ''
    : side.outcome === 'loaded' || side.outcome === 'replaced'
      ? counted(side.loaded, 'row') + (side.rejected > 0 ? `, ${grouped(side.rejected)} rejected` : '')
      : side.outcome + (side.sentence ? `: ${side.sentence}` : '')

function Files({ comparison }: { comparison: Comparison }) {
  const { files, same, unnamed, untold } = comparison
  return (
    <>
      <Typography color="textSecondary">
        {differences(comparison)}. {counted(same, 'file')} the same in both
        {unnamed > 0 &&
          `; ${counted(unnamed, 'file')} of run ${comparison.before.run} gone, which names those without news only as long as it is the latest`}
        {untold > 0 &&
          `; of ${grouped(untold)} of the older run, run ${comparison.run.run} no longer says whether they were there: it lists those without news only as long as it is the latest`}
        .
      </Typography>
      {files.length > 0 && (
        <Box
          component="table"
          aria-label="Files that differ"
          sx={{
            mt: 1,
            borderCollapse: 'collapse',
            fontSize: '0.84rem',
            '& th, & td': { textAlign: 'left', pr: 3, py: 0.4, fontWeight: 400, verticalAlign: 'top' },
            '& tr': { borderBottom: 1, borderColor: 'divider' },
          }}
        >
          <thead>
            <tr>
              <td />
              <th>File</th>
              <th>Run {comparison.before.run}</th>
              <th>Run {comparison.run.run}</th>
            </tr>
          </thead>
          <tbody>
            {files.slice(0, MOST_FILES).map((file) => (
              <tr key={`${file.kind} ${file.name}`}>
                <Box component="td" sx={{ fontWeight: '600 !important' }}>
                  {file.kind}
                </Box>
                <Box component="td" sx={{ fontFamily: (theme) => theme.mono }}>
                  {file.name}
                </Box>
                <td>{said(file.before)}</td>
                <td>{said(file.now)}</td>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
      {files.length > MOST_FILES && (
        <Typography color="textSecondary">and {grouped(files.length - MOST_FILES)} more</Typography>
      )}
    </>
  )
}
