import { Chip, Stack, Typography } from '@mui/material'
import { useOpenRejects } from '../api/hooks'
import { useAddress } from '../ui/address'
import { counted } from '../ui/format'
import { reasonKey, ReasonList } from './ReasonList'
import { Section, Trouble, Wait } from '../ui/State'

const FILTERS = ['job', 'code', 'level'] as const

/** Everything that is currently rejected, over all jobs, by reason. */
export function RejectsPage() {
  const rejects = useOpenRejects()
  const address = useAddress()
  if (rejects.isPending) return <Wait what="Reading what was rejected" />
  if (rejects.isError) return <Trouble error={rejects.error} />
  const filters = FILTERS.flatMap((name) => {
    const value = address.get(name)
    return value ? [{ name, value }] : []
  })
  const shown = rejects.data.filter((reason) => filters.every((filter) => reason[filter.name] === filter.value))
  const only = shown.length === 1 ? reasonKey(shown[0]!) : undefined
  return (
    <Section
      main
      title={`Currently rejected: ${counted(shown.length, 'reason')}`}
      right={
        <Stack direction="row" sx={{ gap: 1 }}>
          {filters.map((filter) => (
            <Chip
              key={filter.name}
              size="small"
              label={`${filter.name}: ${filter.value}`}
              onDelete={() => address.set(filter.name, undefined)}
            />
          ))}
        </Stack>
      }
    >
      <Typography variant="body2" color="textSecondary" sx={{ mb: 1 }}>
        Of each file, what its latest reading found. Files that were fixed and loaded since are not in it.
      </Typography>
      {shown.length === 0 ? (
        <Typography>Nothing is rejected{filters.length > 0 ? ' here' : ''}.</Typography>
      ) : (
        <ReasonList
          withJob
          reasons={shown}
          open={address.get('open') ?? only}
          onOpen={(key) => address.set('open', key)}
        />
      )}
    </Section>
  )
}
