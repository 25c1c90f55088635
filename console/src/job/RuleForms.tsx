import {
  Autocomplete,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  IconButton,
  MenuItem,
  Stack,
  TextField,
  Tooltip,
  Typography,
} from '@mui/material'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import type { Bounds, RuleCounts } from '../api/client'
import { useFolders } from '../api/hooks'
import { size } from '../ui/format'

/** The rules that there are, as the service declares them; nothing below compiles where one has no form. */
export type RuleKey = Exclude<RuleCounts['steps'][number]['key'], ''>

export const MEANS: Record<RuleKey, string> = {
  take: 'only these names',
  skip: 'none of these names',
  size: 'only of a size',
  modified: 'only last written in a time',
  created: 'only created in a time',
  rank: 'only the newest, oldest, largest, smallest',
}
export const RULES = Object.keys(MEANS) as RuleKey[]

interface FormProps {
  /** As it stands in the file: texts, lists and maps of texts. */
  value: unknown
  onChange: (value: unknown) => void
  bounds?: Bounds
  label: string
}

/** What a person types stays as typed; what comes from elsewhere (undo, the text of the file) takes its place. */
function useTyped<T>(value: T): [T, (typed: T) => void] {
  const [typed, setTyped] = useState(value)
  const now = JSON.stringify(value)
  const seen = useRef(now)
  const sent = useRef(now)
  useEffect(() => {
    if (now !== seen.current) {
      seen.current = now
      if (now !== sent.current) setTyped(value)
    }
  }, [now, value])
  return [
    typed,
    (next) => {
      sent.current = JSON.stringify(next)
      setTyped(next)
    },
  ]
}

const mono = { fontFamily: '"IBM Plex Mono", monospace', fontSize: '0.8rem', padding: '2px 0' }

function Field({
  label,
  value,
  onChange,
  width,
  placeholder,
}: {
  label: string
  value: string
  onChange: (value: string) => void
  width: string
  placeholder?: string
}) {
  return (
    <TextField
      variant="standard"
      size="small"
      value={value}
      placeholder={placeholder}
      onChange={(event) => onChange(event.target.value)}
      sx={{ width }}
      slotProps={{ htmlInput: { 'aria-label': label, style: mono, spellCheck: false } }}
    />
  )
}

interface Name {
  text: string
  regex: boolean
}

const names = (value: unknown): Name[] =>
  (Array.isArray(value) ? value : [value]).map((one) =>
    typeof one === 'object' && one !== null
      ? { text: String((one as { regex?: unknown }).regex ?? ''), regex: true }
      : { text: String(one), regex: false },
  )

function NamesForm({ value, onChange, label }: FormProps) {
  const [typed, setTyped] = useTyped(names(value))
  const change = (next: Name[]) => {
    setTyped(next)
    const written = next.filter((one) => one.text !== '')
    if (written.length > 0) onChange(written.map((one) => (one.regex ? { regex: one.text } : one.text)))
  }
  const at = (index: number, name: Partial<Name>) =>
    change(typed.map((one, i) => (i === index ? { ...one, ...name } : one)))
  return (
    <Box>
      {typed.map((one, index) => (
        <Stack key={index} direction="row" sx={{ alignItems: 'center', gap: 0.5 }}>
          <Field
            label={`${label} ${index + 1}`}
            value={one.text}
            onChange={(text) => at(index, { text })}
            width="100%"
            placeholder={one.regex ? 'a regular expression' : 'a name, with * and ?'}
          />
          <Tooltip title="A regular expression instead of a pattern">
            <Button
              aria-label={`regex: ${label} ${index + 1} is a regular expression`}
              aria-pressed={one.regex}
              onClick={() => at(index, { regex: !one.regex })}
              sx={{
                minWidth: 0,
                px: 0.5,
                py: 0,
                color: one.regex ? 'primary.main' : 'text.secondary',
                fontFamily: (theme) => theme.mono,
                fontSize: '0.75rem',
              }}
            >
              regex
            </Button>
          </Tooltip>
          {typed.length > 1 && (
            <Cross label={`Remove ${label} ${index + 1}`} onClick={() => change(typed.filter((_, i) => i !== index))} />
          )}
        </Stack>
      ))}
      <Button
        onClick={() => setTyped([...typed, { text: '', regex: false }])}
        sx={{ px: 0, py: 0, minWidth: 0, fontSize: '0.8rem' }}
      >
        + name
      </Button>
    </Box>
  )
}

export function Cross({ label, onClick }: { label: string; onClick: () => void }) {
  return (
    <IconButton
      aria-label={label}
      onClick={onClick}
      size="small"
      sx={{ fontSize: '0.9rem', lineHeight: 1, p: 0.4, color: 'text.secondary' }}
    >
      ✕
    </IconButton>
  )
}

function SizeForm({ value, onChange, bounds, label }: FormProps) {
  const [typed, setTyped] = useTyped(value as { from?: string; to?: string })
  const change = (next: { from?: string; to?: string }) => {
    setTyped(next)
    const written = Object.fromEntries(Object.entries(next).filter(([, text]) => text))
    if (Object.keys(written).length > 0) onChange(written)
  }
  return (
    <Stack direction="row" sx={{ gap: 1, alignItems: 'baseline', flexWrap: 'wrap' }}>
      <Typography variant="body2">from</Typography>
      <Field
        label={`${label} from`}
        value={typed.from ?? ''}
        onChange={(from) => change({ ...typed, from })}
        width="5rem"
        placeholder="any"
      />
      <Typography variant="body2">to</Typography>
      <Field
        label={`${label} to`}
        value={typed.to ?? ''}
        onChange={(to) => change({ ...typed, to })}
        width="5rem"
        placeholder="any"
      />
      {bounds?.smallest !== undefined && (
        <Here>
          {size(bounds.smallest)} to {size(bounds.largest)}
        </Here>
      )}
    </Stack>
  )
}

function Here({ children }: { children: ReactNode }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ flexBasis: '100%' }}>
      here: {children}
    </Typography>
  )
}

const day = (instant: string) => {
  const date = new Date(instant)
  return `${date.getFullYear()}-${String(date.getMonth() + 1).padStart(2, '0')}-${String(date.getDate()).padStart(2, '0')}`
}

const ends = (key: string, bounds?: Bounds): [string, string] | undefined => {
  const [first, last] =
    key === 'created' ? [bounds?.firstCreated, bounds?.lastCreated] : [bounds?.oldest, bounds?.newest]
  return first && last ? [day(first), day(last)] : undefined
}

function TimeForm({ value, onChange, bounds, label, of }: FormProps & { of: string }) {
  const [typed, setTyped] = useTyped(String(value))
  const here = ends(of, bounds)
  const options = [
    'today',
    'yesterday',
    'last 7 days',
    'last 30 days',
    'this month',
    'last month',
    'since last month',
    'this year',
    ...(here ? [`since ${here[1]}`, `before ${here[1]}`, here.join(' to ')] : []),
  ]
  const change = (next: string) => {
    setTyped(next)
    if (next.trim() !== '') onChange(next)
  }
  return (
    <Box>
      <Autocomplete
        freeSolo
        disableClearable
        options={options}
        filterOptions={(all) => all}
        inputValue={typed}
        value={typed}
        onInputChange={(_, next, why) => why !== 'reset' && change(next)}
        onChange={(_, next) => change(next)}
        renderInput={(params) => (
          <TextField
            {...params}
            variant="standard"
            size="small"
            slotProps={{
              ...params.slotProps,
              htmlInput: { ...params.slotProps.htmlInput, 'aria-label': label, style: mono, spellCheck: false },
            }}
          />
        )}
      />
      {here && (
        <Here>
          {here[0]} to {here[1]}; write 2026-01-31 or 31.01.2026
        </Here>
      )}
    </Box>
  )
}

const ORDERS = ['newest', 'oldest', 'largest', 'smallest']

interface Rank {
  order: string
  count: string
  perFolder: boolean
}

function rank(value: unknown): Rank {
  const map =
    typeof value === 'object' && value !== null
      ? (value as { keep?: string; per?: string })
      : { keep: String(value), per: 'all' }
  const [order = 'newest', count = '1'] = (map.keep ?? '').split(/\s+/)
  return { order, count, perFolder: map.per === 'folder' }
}

function RankForm({ value, onChange, label }: FormProps) {
  const [typed, setTyped] = useTyped(rank(value))
  const change = (part: Partial<Rank>) => {
    const next = { ...typed, ...part }
    setTyped(next)
    const keep = `${next.order} ${next.count}`
    if (/^[1-9]\d*$/.test(next.count)) onChange(next.perFolder ? { keep, per: 'folder' } : keep)
  }
  return (
    <Stack direction="row" sx={{ gap: 1, alignItems: 'baseline', flexWrap: 'wrap' }}>
      <TextField
        select
        variant="standard"
        size="small"
        value={typed.order}
        onChange={(event) => change({ order: event.target.value })}
        slotProps={{ htmlInput: { 'aria-label': `${label} by` } }}
        sx={{ width: '6rem' }}
      >
        {ORDERS.map((one) => (
          <MenuItem key={one} value={one}>
            {one}
          </MenuItem>
        ))}
      </TextField>
      <Field label={`${label} how many`} value={typed.count} onChange={(count) => change({ count })} width="3rem" />
      <FormControlLabel
        control={
          <Checkbox
            size="small"
            checked={typed.perFolder}
            onChange={(event) => change({ perFolder: event.target.checked })}
            sx={{ p: 0.5 }}
          />
        }
        label={<Typography variant="body2">of each folder</Typography>}
      />
    </Stack>
  )
}

/** The form of one rule. */
export function RuleForm({ of, ...props }: FormProps & { of: RuleKey }) {
  switch (of) {
    case 'take':
    case 'skip':
      return <NamesForm {...props} />
    case 'size':
      return <SizeForm {...props} />
    case 'rank':
      return <RankForm {...props} />
    case 'modified':
    case 'created':
      return <TimeForm {...props} of={of} />
  }
}

/** A size in the words of a job file that is not over (or not under) a number of bytes. */
function sizeWord(bytes: number, up: boolean): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB']
  let value = bytes
  let unit = 0
  while (value >= 1000 && unit < units.length - 1) {
    value /= 1000
    unit++
  }
  const tenth = unit === 0 ? value : (up ? Math.ceil(value * 10) : Math.floor(value * 10)) / 10
  return `${tenth} ${units[unit]}`
}

/** What a new rule says at first: something that takes everything that is there, to be narrowed from. */
export function firstValue(of: RuleKey, bounds?: Bounds): unknown {
  switch (of) {
    case 'take':
      return ['*']
    case 'skip':
      return ['*copy*']
    case 'size':
      return bounds?.smallest === undefined
        ? { from: '0 B' }
        : { from: sizeWord(bounds.smallest, false), to: sizeWord(bounds.largest, true) }
    case 'rank':
      return `newest ${Math.max(1, bounds?.files ?? 1)}`
    default:
      return ends(of, bounds)?.join(' to ') ?? 'last 7 days'
  }
}

/** A folder, completed from what is there. */
export function FolderField({
  value,
  onChange,
  label,
}: {
  value: string
  onChange: (folder: string) => void
  label: string
}) {
  const [typed, setTyped] = useTyped(value)
  const folders = useFolders(typed.includes('${') ? '' : typed)
  const change = (next: string) => {
    setTyped(next)
    if (next.trim() !== '') onChange(next)
  }
  return (
    <Autocomplete
      freeSolo
      disableClearable
      fullWidth
      options={folders.data ?? []}
      filterOptions={(all) => all}
      inputValue={typed}
      value={typed}
      onInputChange={(_, next, why) => why !== 'reset' && change(next)}
      onChange={(_, next) => change(next)}
      renderInput={(params) => (
        <TextField
          {...params}
          variant="standard"
          size="small"
          placeholder="a folder"
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, 'aria-label': label, style: mono, spellCheck: false },
          }}
        />
      )}
    />
  )
}

/** A whole number, such as the depth. */
export function NumberField({
  value,
  onChange,
  label,
}: {
  value: string
  onChange: (number: number) => void
  label: string
}) {
  const [typed, setTyped] = useTyped(value)
  return (
    <Field
      label={label}
      value={typed}
      onChange={(next) => {
        setTyped(next)
        if (/^\d+$/.test(next)) onChange(Number(next))
      }}
      width="2.5rem"
    />
  )
}
