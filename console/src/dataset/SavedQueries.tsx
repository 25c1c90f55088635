import { Button, Divider, Link as Anchor, ListItemText, Menu, MenuItem, Stack, Typography } from '@mui/material'
import { useState } from 'react'
import { Link, Navigate, useParams } from 'react-router'
import type { SavedQuery } from '../api/client'
import { useDeleteQuery, useSavedQueries, useSavedQuery, useSaveQuery } from '../api/hooks'
import { NameDialog } from '../ui/NameDialog'
import { Mistakes, Section, Trouble, Wait } from '../ui/State'
import { addressed, linkTo, type Question } from './question'

/** What a query asks, in a few words. */
function asks(query: SavedQuery): string {
  const counts = query.by.length > 0 || query.measures.length > 0
  return [
    counts ? ['rows', ...query.measures].join(', ') : query.columns.join(', ') || 'all columns',
    query.by.length > 0 ? `by ${query.by.join(', ')}` : '',
    query.where.length > 0 ? `where ${query.where.join(' and ')}` : '',
  ]
    .filter(Boolean)
    .join(' ')
}

/** Opens a saved query of a dataset, or saves what is asked now. */
export function QueryMenu({
  dataset,
  question,
  onAsk,
}: {
  dataset: string
  question: Question
  onAsk: (address: Record<string, string | string[] | undefined>) => void
}) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [saving, setSaving] = useState(false)
  const queries = useSavedQueries()
  const save = useSaveQuery()
  const ours = (queries.data ?? []).filter((query) => query.dataset === dataset && query.problems.length === 0)
  const { view, ...asked } = question
  const counts = view === 'counts'
  const empty = counts ? asked.by.length === 0 && asked.measures.length === 0 : false
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)} aria-haspopup="menu">
        Queries …
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {ours.map((query) => (
          <MenuItem
            key={query.name}
            dense
            onClick={() => {
              setAnchor(null)
              onAsk(addressed(query))
            }}
          >
            <ListItemText primary={query.name} secondary={query.about || asks(query)} />
          </MenuItem>
        ))}
        {ours.length === 0 && (
          <MenuItem dense disabled>
            No query of this dataset is saved yet
          </MenuItem>
        )}
        <Divider />
        <MenuItem
          dense
          disabled={empty}
          onClick={() => {
            setAnchor(null)
            save.reset()
            setSaving(true)
          }}
        >
          Save what is asked now …
        </MenuItem>
      </Menu>
      {saving && (
        <NameDialog
          title="Save the query"
          label="Name"
          button="Save"
          busy={save.isPending}
          error={save.error}
          onClose={() => setSaving(false)}
          onDo={(name) =>
            save.mutate(
              {
                name,
                dataset,
                where: asked.where,
                sort: asked.sort,
                ...(counts ? { by: asked.by, measures: asked.measures, top: asked.top } : { columns: asked.columns }),
              },
              { onSuccess: () => setSaving(false) },
            )
          }
        >
          {`It becomes queries/NAME.yaml in the workspace, and hapster query NAME asks it.`}
        </NameDialog>
      )}
    </>
  )
}

/** All saved queries, below the datasets. */
export function QueryList() {
  const queries = useSavedQueries()
  const remove = useDeleteQuery()
  if (queries.isError) return <Trouble error={queries.error} />
  if (!queries.data || queries.data.length === 0) return null
  return (
    <Section title="Saved queries">
      {remove.isError && <Trouble error={remove.error} />}
      {queries.data.map((query) => (
        <Stack key={query.name} sx={{ borderTop: 1, borderColor: 'divider', py: 1 }}>
          <Stack direction="row" sx={{ gap: 2, alignItems: 'baseline' }}>
            {query.problems.length === 0 ? (
              <Anchor component={Link} to={linkTo(query)} sx={{ fontWeight: 600, minWidth: '14rem' }}>
                {query.name}
              </Anchor>
            ) : (
              <Typography sx={{ fontWeight: 600, minWidth: '14rem' }}>{query.name}</Typography>
            )}
            <Typography>{query.dataset}</Typography>
            <Typography color="textSecondary" sx={{ flex: 1 }}>
              {query.problems.length === 0 ? [asks(query), query.about].filter(Boolean).join(' — ') : ''}
            </Typography>
            <Button size="small" onClick={() => remove.mutate(query.name)} aria-label={`Delete query ${query.name}`}>
              Delete
            </Button>
          </Stack>
          <Mistakes problems={query.problems} />
        </Stack>
      ))}
    </Section>
  )
}

/** Opens a saved query by its name. */
export function QueryPage() {
  const query = useSavedQuery(useParams().query!)
  if (query.isPending) return <Wait what="Reading the query" />
  if (query.isError) return <Trouble error={query.error} />
  if (query.data.problems.length > 0) return <Mistakes problems={query.data.problems} />
  return <Navigate to={linkTo(query.data)} replace />
}
