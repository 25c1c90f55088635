import { Section } from '../parts/State'
import { RunTable } from './RunTable'

export function RunsPage() {
  return (
    <Section title="Runs, newest first">
      <RunTable maxHeight="80vh" />
    </Section>
  )
}
