import { Box, Link as Anchor, Stack, Typography } from '@mui/material'
import { useAside, useAsideRows } from '../api/hooks'
import { counted } from '../parts/format'
import { Section, Trouble, Wait } from '../parts/State'

/** Rows that the job's own rules left out, by the rule. */
export function AsideSection({ run }: { run: number }) {
  const rules = useAside(run)
  const rows = useAsideRows(run)
  return (
    <Section
      id="aside"
      title="Set aside, by rule"
      right={
        <Stack direction="row" sx={{ gap: 2 }}>
          <Anchor href={`/api/v1/runs/${run}/aside/export?as=csv`}>rows as CSV</Anchor>
          <Anchor href={`/api/v1/runs/${run}/aside/export?as=parquet`}>as Parquet</Anchor>
        </Stack>
      }
    >
      {rules.isPending ? (
        <Wait what="Reading what was set aside" />
      ) : rules.isError ? (
        <Trouble error={rules.error} />
      ) : (
        rules.data.map((rule) => (
          <Box key={rule.rule} sx={{ borderTop: 1, borderColor: 'divider', py: 0.75 }}>
            <Typography variant="body2">
              <strong>{counted(rule.rows, 'row')}</strong> of {counted(rule.files, 'file')}{' '}
              <Box component="code" sx={{ fontFamily: (theme) => theme.mono, ml: 1 }}>
                {rule.rule}
              </Box>
            </Typography>
            <Box
              sx={{
                maxHeight: 200,
                overflow: 'auto',
                mt: 0.5,
                fontFamily: (theme) => theme.mono,
                fontSize: '0.78rem',
                color: 'text.secondary',
              }}
            >
              {(rows.data ?? [])
                .filter((row) => row.rule.startsWith(rule.rule))
                .map((row, index) => (
                  <Box key={index}>
                    <Box component="span" sx={{ color: 'text.primary', mr: 1.5 }}>
                      {row.file}:{row.line}
                    </Box>
                    {row.original}
                  </Box>
                ))}
            </Box>
          </Box>
        ))
      )}
    </Section>
  )
}
