import { Section } from '../ui/State'
import { RunTable } from './RunTable'

export function RunsPage() {
  return (
    <Section main title="Runs, newest first">
      <RunTable maxHeight="80vh" />
    </Section>
  )
}
