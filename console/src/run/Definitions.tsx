import { Box, Typography } from '@mui/material'
import type { DefinitionMoment, DefinitionSide, RunView } from '../api/client'
import { useDefinitions } from '../api/hooks'
import { useAddress } from '../ui/address'
import { Difference } from '../ui/Difference'
import { Section, Trouble, Wait } from '../ui/State'

const SHORT_COMMIT = 10

/** By which definitions the run went, and what changed in them since; nothing as long as the address does not ask. */
export function Definitions({ run }: { run: RunView }) {
  const asked = useAddress().get('definitions') !== undefined
  const changes = useDefinitions(run.run, asked)
  if (!asked) return null
  return (
    <Section title="Definitions, and what changed since" id="definitions">
      {changes.isPending && <Wait what="Reading the definitions" />}
      {changes.isError && <Trouble error={changes.error} />}
      {changes.data && (
        <>
          <Commit name={`Run ${run.run}`} moment={changes.data.before} />
          <Commit name="Now" moment={changes.data.now} />
          {changes.data.values.map((value) => (
            <Typography key={value.name} variant="body2">
              {value.name}: {(value.before as { value?: string } | undefined)?.value ?? '(none)'} →{' '}
              {(value.now as { value?: string } | undefined)?.value ?? '(none)'}
            </Typography>
          ))}
          {changes.data.files.map((file) => (
            <Box key={file.kind} sx={{ mt: 1 }}>
              <Typography>
                <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.84rem' }}>
                  {file.file}
                </Box>{' '}
                <Box component="span" sx={{ fontWeight: 600 }}>
                  {said(file.same, file.before, file.now)}
                </Box>{' '}
                <Typography component="span" variant="body2" color="textSecondary">
                  {[file.before, file.now].map((side: DefinitionSide) => side.version ?? '–').join(' → ')}
                </Typography>
              </Typography>
              {!file.same && file.before.text !== undefined && file.now.text !== undefined && (
                <Difference before={file.before.text} now={file.now.text} label={`What changed in ${file.file}`} />
              )}
            </Box>
          ))}
        </>
      )}
    </Section>
  )
}

function said(same: boolean, before: DefinitionSide, now: DefinitionSide) {
  const trouble = before.trouble ?? now.trouble
  return trouble ?? (same ? 'is the same' : now.text === undefined ? 'is not there any more' : 'changed')
}

function Commit({ name, moment }: { name: string; moment: DefinitionMoment }) {
  if (!moment.commit) return null
  const { id, uncommitted } = moment.commit
  return (
    <Typography variant="body2">
      {name}: commit <span title={id}>{id.slice(0, SHORT_COMMIT)}</span>
      {uncommitted.length > 0 &&
        `, from which ${uncommitted.join(' and ')} ${uncommitted.length > 1 ? 'differ' : 'differs'}`}
    </Typography>
  )
}
