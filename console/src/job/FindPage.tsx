import {
  Alert,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  Link as Anchor,
  Menu,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from '@mui/material'
import { useEffect, useMemo, useState } from 'react'
import { Link, useParams } from 'react-router'
import type { Bounds, Change, FindView, RuleCounts } from '../api/client'
import { useJob, useSave } from '../api/hooks'
import { counted, grouped } from '../ui/format'
import { Mistakes, Trouble, Wait } from '../ui/State'
import { FoundTable, FoundTroubles, useFound, whatRemains } from './FilesFound'
import { Given } from './Given'
import { Cross, firstValue, FolderField, NumberField, MEANS, RuleForm, RULES, type RuleKey } from './RuleForms'

/** The rules by which a job finds its files, as forms; beside them what they take at this moment. */
export function FindPage() {
  const name = useParams().job!
  return <Editor key={name} name={name} />
}

/** A later change of the same key takes the place of the one before. */
function withChange(changes: Change[], change: Change): Change[] {
  const last = changes[changes.length - 1]
  const same =
    (last?.op === 'set' && change.op === 'set' && last.place === change.place && last.key === change.key) ||
    (last?.op === 'text' && change.op === 'text')
  return [...(same ? changes.slice(0, -1) : changes), change]
}

function Editor({ name }: { name: string }) {
  const [changes, setChanges] = useState<Change[]>([])
  const [set, setSet] = useState<Record<string, string>>({})
  const [base, setBase] = useState<string>()
  const [asText, setAsText] = useState(false)
  const look = useMemo(() => ({ changes, set }), [changes, set])
  const found = useFound(name, look)
  const job = useJob(name)
  const save = useSave(name)
  const changed = changes.length > 0
  useEffect(() => {
    if (!changed) return
    const ask = (event: BeforeUnloadEvent) => event.preventDefault()
    addEventListener('beforeunload', ask)
    return () => removeEventListener('beforeunload', ask)
  }, [changed])
  const view = found.first.data
  if (!view)
    return found.first.isError ? (
      <Trouble error={found.first.error} />
    ) : (
      <Wait what={`Looking into the folders of ${name}`} />
    )
  const change = (next: Change) => {
    if (!changed) setBase(view.version)
    setChanges((before) => withChange(before, next))
  }
  const differs = changed && job.data !== undefined && view.text !== job.data.text
  // Forms change the file as it is by now; a text takes the place of the one that it was made from.
  const version = base && changes.some((one) => one.op === 'text') ? base : view.version
  const keep = () => save.mutate({ text: view.text, version, set }, { onSuccess: () => setChanges([]) })
  return (
    <>
      <Stack direction="row" sx={{ alignItems: 'baseline', gap: 2, mb: 1.5, flexWrap: 'wrap' }}>
        <Typography variant="h1">
          <Anchor component={Link} to={`/jobs/${name}`} underline="hover">
            {name}
          </Anchor>{' '}
          finds
        </Typography>
        <Typography color="textSecondary" sx={{ flex: 1 }} data-taken={view.taken}>
          {counted(view.taken, 'file')} taken{view.waiting > 0 ? `, ${grouped(view.waiting)} of them waiting` : ''},{' '}
          {grouped(view.skipped)} skipped
        </Typography>
        <Button onClick={() => setAsText(!asText)}>{asText ? 'As forms' : 'As text'}</Button>
        <Button onClick={() => setChanges(changes.slice(0, -1))} disabled={!changed}>
          Undo
        </Button>
        <Button onClick={() => setChanges([])} disabled={!changed}>
          Discard
        </Button>
        <Button
          variant="contained"
          onClick={keep}
          disabled={!differs || save.isPending || found.first.isPlaceholderData}
        >
          Save
        </Button>
      </Stack>
      {save.isError && <Trouble error={save.error} />}
      {found.first.isError && <Trouble error={found.first.error} />}
      <Given used={view.values} set={set} onSet={setSet} />
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: { xs: 'minmax(0, 1fr)', md: 'minmax(22rem, 29rem) minmax(0, 1fr)' },
          columnGap: 4,
        }}
      >
        <Box sx={{ maxHeight: { md: 'calc(100vh - 185px)' }, overflow: 'auto', pr: 1 }}>
          {view.problems.length > 0 && (
            <Alert severity="error" variant="outlined" sx={{ mb: 1.5 }}>
              <Mistakes problems={view.problems} />
            </Alert>
          )}
          {asText ? <TextForm name={name} view={view} onChange={change} /> : <Places view={view} onChange={change} />}
        </Box>
        <Box>
          <FoundTroubles view={view} />
          <FoundTable job={name} found={found} view={view} maxHeight="calc(100vh - 235px)" />
        </Box>
      </Box>
    </>
  )
}

function TextForm({ name, view, onChange }: { name: string; view: FindView; onChange: (change: Change) => void }) {
  const [typed, setTyped] = useState(view.text)
  return (
    <TextField
      multiline
      fullWidth
      value={typed}
      onChange={(event) => {
        setTyped(event.target.value)
        onChange({ op: 'text', value: event.target.value })
      }}
      slotProps={{
        htmlInput: {
          'aria-label': `jobs/${name}.yaml`,
          spellCheck: false,
          style: {
            fontFamily: '"IBM Plex Mono", monospace',
            fontSize: '0.78rem',
            lineHeight: 1.5,
            whiteSpace: 'pre',
            overflowX: 'auto',
          },
        },
      }}
    />
  )
}

function Places({ view, onChange }: { view: FindView; onChange: (change: Change) => void }) {
  const [folder, setFolder] = useState('')
  const add = () => {
    onChange({ op: 'add_place', value: { folder, take: ['*'] } })
    setFolder('')
  }
  return (
    <>
      {view.places.map((place, index) => (
        <PlaceForm
          key={index}
          number={index + 1}
          place={place}
          many={view.places.length > 1}
          onChange={onChange}
          counts={view.counts.find((counts) => counts.place === index + 1)}
          bounds={view.bounds.find((one) => one.place === index + 1)}
        />
      ))}
      <Stack direction="row" sx={{ gap: 1.5, alignItems: 'baseline', mt: 1 }}>
        <FolderField key={view.places.length} value={folder} onChange={setFolder} label="Folder of a new place" />
        <Button onClick={add} disabled={folder.trim() === ''} sx={{ whiteSpace: 'nowrap' }}>
          Look there {view.places.length > 0 ? 'too' : ''}
        </Button>
      </Stack>
    </>
  )
}

interface PlaceProps {
  number: number
  place: Record<string, unknown>
  many: boolean
  counts?: RuleCounts
  bounds?: Bounds
  onChange: (change: Change) => void
}

function PlaceForm({ number, place, many, counts, bounds, onChange }: PlaceProps) {
  const rules = Object.keys(place).filter((key): key is RuleKey => (RULES as string[]).includes(key))
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const set = (key: string, value: unknown) => onChange({ op: 'set', place: number, key, value })
  const prefix = many ? `Place ${number}, ` : ''
  const addRule = (key: RuleKey) => {
    setAnchor(null)
    set(key, firstValue(key, bounds))
  }
  const steps = new Map((counts?.steps ?? []).map((step) => [step.key, step]))
  return (
    <Box
      component="section"
      aria-label={`Place ${number}`}
      sx={{ borderTop: 1, borderColor: 'divider', pt: 1, mb: 2.5 }}
    >
      <Stack direction="row" sx={{ gap: 1, alignItems: 'baseline' }}>
        <Typography variant="body2" sx={{ width: '4.1rem', flexShrink: 0 }}>
          in
        </Typography>
        <FolderField
          value={String(place.folder ?? '')}
          onChange={(folder) => set('folder', folder)}
          label={`${prefix}folder`}
        />
        <Cross label={`Remove place ${number}`} onClick={() => onChange({ op: 'remove_place', place: number })} />
      </Stack>
      {place.list !== undefined ? (
        <Typography variant="body2" color="textSecondary" sx={{ mt: 0.5 }}>
          by the names in{' '}
          {typeof place.list === 'object' && place.list
            ? String((place.list as { file?: string }).file)
            : String(place.list)}
        </Typography>
      ) : (
        <Stack direction="row" sx={{ gap: 1, alignItems: 'center', mt: 0.5, flexWrap: 'wrap' }}>
          <Typography variant="body2" sx={{ width: '4.1rem' }}>
            depth
          </Typography>
          <NumberField
            value={String(place.depth ?? '0')}
            onChange={(depth) =>
              depth === 0 && place.depth !== undefined
                ? onChange({ op: 'remove', place: number, key: 'depth' })
                : set('depth', depth)
            }
            label={`${prefix}depth`}
          />
          <FormControlLabel
            control={
              <Checkbox
                size="small"
                checked={place.any_case === 'true'}
                onChange={(event) =>
                  event.target.checked
                    ? set('any_case', true)
                    : onChange({ op: 'remove', place: number, key: 'any_case' })
                }
                sx={{ p: 0.5 }}
              />
            }
            label={<Typography variant="body2">upper and lower case are the same</Typography>}
          />
        </Stack>
      )}
      <Box role="list" aria-label={counts ? `Rules of ${counts.folder}` : undefined} sx={{ mt: 1 }}>
        {counts && (
          <Typography role="listitem" variant="body2" color="textSecondary" sx={{ textAlign: 'right', pr: 8.5 }}>
            {counted(counts.seen, 'file')}
          </Typography>
        )}
        {rules.map((key, index) => {
          const step = steps.get(key)
          return (
            <Box
              key={key}
              role="listitem"
              data-rule={key}
              sx={{
                display: 'grid',
                gridTemplateColumns: '4.1rem minmax(0, 1fr) auto auto',
                columnGap: 1,
                borderTop: 1,
                borderColor: 'divider',
                py: 0.75,
                alignItems: 'start',
              }}
            >
              <Typography variant="body2" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.78rem', pt: '5px' }}>
                {key}
              </Typography>
              <RuleForm
                of={key}
                value={place[key]}
                onChange={(value) => set(key, value)}
                bounds={bounds}
                label={prefix + key}
              />
              <Typography
                variant="body2"
                sx={{
                  textAlign: 'right',
                  pt: '3px',
                  minWidth: '3.4rem',
                  color: step?.last ? 'error.main' : 'text.secondary',
                }}
              >
                {step && whatRemains(step)}
              </Typography>
              <Stack direction="row" sx={{ alignItems: 'center' }}>
                <Stack>
                  <Arrow
                    label={`Move ${key} up`}
                    off={index === 0}
                    onClick={() => onChange({ op: 'move', place: number, key, by: -1 })}
                  >
                    ▴
                  </Arrow>
                  <Arrow
                    label={`Move ${key} down`}
                    off={index === rules.length - 1}
                    onClick={() => onChange({ op: 'move', place: number, key, by: 1 })}
                  >
                    ▾
                  </Arrow>
                </Stack>
                <Cross label={`Remove ${key}`} onClick={() => onChange({ op: 'remove', place: number, key })} />
              </Stack>
            </Box>
          )
        })}
      </Box>
      {rules.length < RULES.length && (
        <>
          <Button
            onClick={(event) => setAnchor(event.currentTarget)}
            aria-haspopup="menu"
            sx={{ mt: 0.5, px: 0, minWidth: 0 }}
          >
            + rule
          </Button>
          <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
            {RULES.filter((key) => !rules.includes(key)).map((key) => (
              <MenuItem key={key} dense onClick={() => addRule(key)}>
                <Box component="span" sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem', width: '5.5rem' }}>
                  {key}
                </Box>
                <Typography variant="body2" color="textSecondary">
                  {MEANS[key]}
                </Typography>
              </MenuItem>
            ))}
          </Menu>
        </>
      )}
    </Box>
  )
}

function Arrow({
  label,
  off,
  onClick,
  children,
}: {
  label: string
  off: boolean
  onClick: () => void
  children: string
}) {
  return (
    <Box
      component="button"
      aria-label={label}
      disabled={off}
      onClick={onClick}
      sx={{
        all: 'unset',
        cursor: off ? 'default' : 'pointer',
        lineHeight: 0.9,
        fontSize: '0.75rem',
        px: 0.5,
        color: off ? 'text.disabled' : 'text.secondary',
        '&:focus-visible': { outline: '2px solid', outlineColor: 'primary.main' },
      }}
    >
      {children}
    </Box>
  )
}
