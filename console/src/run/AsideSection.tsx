import { Box, Link as Anchor, Stack, Typography } from '@mui/material'
import { download, type RuleCount } from '../api/client'
import { useAside, useAsideRows } from '../api/hooks'
import { counted, grouped } from '../ui/format'
import { Section, Trouble, Wait } from '../ui/State'

/** Rows that the job's own rules left out, by the rule. */
export function AsideSection({ run }: { run: number }) {
  const rules = useAside(run)
  return (
    <Section
      id="aside"
      title="Set aside, by rule"
      right={
        <Stack direction="row" sx={{ gap: 2 }}>
          <Anchor href={download.asideAs(run, 'csv')}>rows as CSV</Anchor>
          <Anchor href={download.asideAs(run, 'parquet')}>as Parquet</Anchor>
        </Stack>
      }
    >
      {rules.isPending ? (
        <Wait what="Reading what was set aside" />
      ) : rules.isError ? (
        <Trouble error={rules.error} />
      ) : (
        rules.data.map((rule) => <AsideRule key={rule.rule} run={run} rule={rule} />)
      )}
    </Section>
  )
}

const SHOWN = 200

function AsideRule({ run, rule }: { run: number; rule: RuleCount }) {
  const rows = useAsideRows(run, rule.rule, SHOWN)
  return (
    <Box sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
      <Typography variant="body2">
        <strong>{counted(rule.rows, 'row')}</strong> of {counted(rule.files, 'file')}{' '}
        <Box component="code" sx={{ fontFamily: (theme) => theme.mono, ml: 1 }}>
          {rule.rule}
        </Box>
      </Typography>
      {rows.isPending ? (
        <Wait what="Reading these rows" />
      ) : rows.isError ? (
        <Trouble error={rows.error} />
      ) : (
        <Box
          tabIndex={0}
          role="region"
          aria-label={`Rows set aside: ${rule.rule}`}
          sx={{
            maxHeight: 200,
            overflow: 'auto',
            mt: 0.5,
            fontFamily: (theme) => theme.mono,
            fontSize: '0.78rem',
            color: 'text.secondary',
          }}
        >
          {rows.data.map((row, index) => (
            <Box key={index}>
              <Box component="span" sx={{ color: 'text.primary', mr: 1.5 }}>
                {row.file}:{row.line}
              </Box>
              {row.original}
              {row.repeats && (
                <Box component="span" sx={{ ml: 1.5 }}>
                  as {row.repeats}
                </Box>
              )}
            </Box>
          ))}
          {rows.data.length < rule.rows && (
            <Typography variant="body2">
              {grouped(rows.data.length)} of {grouped(rule.rows)} shown; all of them are in the CSV file.
            </Typography>
          )}
        </Box>
      )}
    </Box>
  )
}
