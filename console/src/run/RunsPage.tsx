import { Link as Anchor } from '@mui/material'
import { Link } from 'react-router'
import { Section } from '../ui/State'
import { RunTable } from './RunTable'

export function RunsPage() {
  return (
    <Section
      main
      title="Runs, newest first"
      right={
        <Anchor component={Link} to="/messages">
          Messages →
        </Anchor>
      }
    >
      <RunTable maxHeight="80vh" />
    </Section>
  )
}
