import { Link as Anchor, Stack, Typography } from '@mui/material'
import { Link } from 'react-router'
import { useDatasets } from '../api/hooks'
import { counted } from '../ui/format'
import { Mistakes, Section, Trouble, Wait } from '../ui/State'
import { QueryList } from './SavedQueries'

export function DatasetsPage() {
  const datasets = useDatasets()
  if (datasets.isPending) return <Wait what="Reading the datasets" />
  if (datasets.isError) return <Trouble error={datasets.error} />
  return (
    <>
      <Section main title="Datasets">
        {datasets.data.length === 0 && (
          <Typography>No datasets yet. Each is a file in the workspace: datasets/NAME.yaml.</Typography>
        )}
        {datasets.data.map((dataset) => (
          <Stack key={dataset.name} sx={{ borderTop: 1, borderColor: 'divider', py: 1.25 }}>
            <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline' }}>
              <Anchor component={Link} to={`/datasets/${dataset.name}`} sx={{ fontWeight: 600, minWidth: '14rem' }}>
                {dataset.name}
              </Anchor>
              <Typography>
                {counted(dataset.rows, 'row')} in {counted(dataset.parts, 'part')}
              </Typography>
              <Typography color="textSecondary">{dataset.about}</Typography>
            </Stack>
            <Mistakes problems={dataset.problems} />
          </Stack>
        ))}
      </Section>
      <QueryList />
    </>
  )
}
