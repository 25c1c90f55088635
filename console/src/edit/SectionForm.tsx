import { Box, Button, MenuItem, TextField, Typography } from '@mui/material'
import { useState } from 'react'
import { choices, keysOf, usual, wordsOf, type Schema } from './schema'

/** A change of one key; null takes it out. */
export type SetKey = (path: string[], value: unknown) => void

interface FormProps {
  /** Of the value whose keys are shown. */
  schema: Schema | undefined
  /** The path of that value. */
  path: string[]
  value: unknown
  onSet: SetKey
  /** Keys that are shown elsewhere. */
  without?: string[]
  /** The format of the files: keys that do not go with it are not offered. */
  format?: string
}

/** Keys that are shown even where the file does not have them. */
const FEW = 6

/** The keys of a section, each as what its schema says that it is. */
export function SectionForm({ schema, path, value, onSet, without = [], format }: FormProps) {
  const [all, setAll] = useState(false)
  const said = (value !== null && typeof value === 'object' && !Array.isArray(value) ? value : {}) as Record<
    string,
    unknown
  >
  const keys = Object.entries(keysOf(schema)).filter(
    ([key, one]) =>
      !without.includes(key) &&
      (!format || !one['x-formats'] || one['x-formats'].includes(format) || said[key] !== undefined),
  )
  const shown = keys.filter(([key], index) => all || index < FEW || said[key] !== undefined)
  return (
    <>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: 'repeat(auto-fill, minmax(11.5rem, 1fr))',
          columnGap: 2,
          rowGap: 1.5,
        }}
      >
        {shown.map(([key, one]) =>
          isNested(one) ? (
            <Nested key={key} name={key} schema={one} path={[...path, key]} value={said[key]} onSet={onSet} />
          ) : (
            <KeyField
              key={key}
              name={key}
              schema={one}
              value={said[key]}
              onSet={(next) => onSet([...path, key], next)}
            />
          ),
        )}
      </Box>
      {shown.length < keys.length && (
        <Button size="small" onClick={() => setAll(true)} sx={{ mt: 0.5 }}>
          {keys.length - shown.length} more
        </Button>
      )}
    </>
  )
}

/** What the values are whose names somebody chooses; undefined where the keys are known. */
function named(schema: Schema): Schema | undefined {
  const inner = choices(schema).map((one) => one.additionalProperties)
  return inner.length > 0 && inner.every((one) => typeof one === 'object') ? (inner[0] as Schema) : undefined
}

/** Whether a value has keys that have keys of their own, or whose names somebody chooses. */
function isNested(schema: Schema): boolean {
  const entry = named(schema)
  return entry ? choices(entry).every((one) => one.properties) : choices(schema).every((one) => one.properties)
}

interface NestedProps {
  name: string
  schema: Schema
  path: string[]
  value: unknown
  onSet: SetKey
}

/** A value with keys: as a form below its name, or as one for each of the names that somebody chose. */
function Nested({ name, schema, path, value, onSet }: NestedProps) {
  const [open, setOpen] = useState(value !== undefined)
  const [fresh, setFresh] = useState('')
  const entry = named(schema)
  const said = (value !== null && typeof value === 'object' ? value : {}) as Record<string, unknown>
  const [begun, setBegun] = useState<string[]>([])
  const names = [...new Set([...Object.keys(said), ...begun])]
  const begin = () => {
    if (fresh.trim()) setBegun([...begun, fresh.trim()])
    setFresh('')
  }
  if (!open)
    return (
      <Box sx={{ alignSelf: 'start', pt: 1 }}>
        <Button size="small" title={schema.description} onClick={() => setOpen(true)}>
          {name} …
        </Button>
      </Box>
    )
  return (
    <Box
      role="group"
      aria-label={name}
      sx={{ gridColumn: '1 / -1', borderLeft: 2, borderColor: 'divider', pl: 1.5, py: 0.5 }}
    >
      <Typography variant="body2" color="textSecondary" title={schema.description} sx={{ mb: 0.5 }}>
        {name}
      </Typography>
      {!entry && <SectionForm schema={schema} path={path} value={value} onSet={onSet} />}
      {entry &&
        names.map((one) => (
          <Box key={one} role="group" aria-label={one} sx={{ mb: 1 }}>
            <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 1 }}>
              <Typography sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.8rem', fontWeight: 600 }}>
                {one}
              </Typography>
              <Button
                size="small"
                aria-label={`Take out ${one}`}
                onClick={() => {
                  setBegun(begun.filter((other) => other !== one))
                  if (said[one] !== undefined) onSet([...path, one], null)
                }}
              >
                take out
              </Button>
            </Box>
            <SectionForm schema={entry} path={[...path, one]} value={said[one]} onSet={onSet} />
          </Box>
        ))}
      {entry && <NewName label={`a name for ${name}`} text={fresh} onText={setFresh} onDo={begin} />}
    </Box>
  )
}

/** Asks for the name of something that is to be added. */
export function NewName(props: { label: string; text: string; onText: (text: string) => void; onDo: () => void }) {
  const { label, text, onText, onDo } = props
  return (
    <Box sx={{ display: 'flex', alignItems: 'end', gap: 1 }}>
      <TextField
        variant="standard"
        size="small"
        label={label}
        value={text}
        onChange={(event) => onText(event.target.value)}
        onKeyDown={(event) => event.key === 'Enter' && onDo()}
      />
      <Button size="small" disabled={!text.trim()} onClick={onDo}>
        Add
      </Button>
    </Box>
  )
}

const isText = (schema: Schema) => {
  const types = Array.isArray(schema.type) ? schema.type : [schema.type]
  return types.includes('string') || types.includes('integer')
}

interface FieldProps {
  name: string
  schema: Schema
  value: unknown
  onSet: (value: unknown) => void
}

/** One key: a choice of words, a text, or a text with an entry or a pair on each line. */
export function KeyField({ name, schema, value, onSet }: FieldProps) {
  const words = wordsOf(schema)
  const all = choices(schema)
  const several = all.some((one) => one.type === 'array')
  const texts = all.some(isText)
  const steps = all.some((one) => one.properties) && !all.every((one) => one.properties)
  if (words.length > 0 && !several && !steps)
    return (
      <TextField
        select
        variant="standard"
        size="small"
        label={name}
        title={schema.description}
        value={typeof value === 'string' ? value : ''}
        onChange={(event) => onSet(event.target.value || null)}
        slotProps={{ select: { displayEmpty: true }, inputLabel: { shrink: true } }}
      >
        <MenuItem value="">
          <Box component="span" sx={{ color: 'text.secondary' }}>
            {usual(schema) || 'not set'}
          </Box>
        </MenuItem>
        {words.map((word) => (
          <MenuItem key={word} value={word}>
            {word}
          </MenuItem>
        ))}
      </TextField>
    )
  const pairs = named(schema)
  if (pairs || texts || steps || several)
    return (
      <TextKey
        key={written(value)}
        name={name}
        schema={schema}
        written={written(value)}
        several={several || pairs !== undefined}
        onText={(text) => onSet(pairs ? readPairs(text) : read(text, schema, several))}
      />
    )
  return null
}

function TextKey({
  name,
  schema,
  written: given,
  several,
  onText,
}: {
  name: string
  schema: Schema
  written: string
  several: boolean
  onText: (text: string) => void
}) {
  const [typed, setTyped] = useState(given)
  const done = () => typed !== given && onText(typed)
  return (
    <TextField
      variant="standard"
      size="small"
      label={name}
      title={schema.description + (several ? ' One on each line.' : '')}
      value={typed}
      multiline={several}
      placeholder={usual(schema) || 'not set'}
      onChange={(event) => setTyped(event.target.value)}
      onBlur={done}
      onKeyDown={(event) => event.key === 'Enter' && !several && done()}
      slotProps={{ inputLabel: { shrink: true }, htmlInput: { spellCheck: false } }}
      sx={{ '& textarea, & input': { fontFamily: (theme) => theme.mono, fontSize: '0.8rem' } }}
    />
  )
}

/** A value as lines: a step with a value as `remove: -`, a pair as `replace: old = new`. */
export function written(value: unknown): string {
  if (value === undefined || value === null) return ''
  if (Array.isArray(value)) return value.map(written).join('\n')
  if (typeof value === 'object')
    return Object.entries(value)
      .flatMap(([key, inner]) =>
        inner !== null && typeof inner === 'object' && !Array.isArray(inner)
          ? Object.entries(inner as Record<string, unknown>).map(([old, fresh]) => `${key}: ${old} = ${String(fresh)}`)
          : (Array.isArray(inner) ? inner : [inner]).map((one) => `${key}: ${String(one)}`),
      )
      .join('\n')
  const text = String(value)
  return text === '' ? '""' : text.replaceAll('\t', '\\t')
}

/** The other way: what the lines of a field say. */
export function read(text: string, schema: Schema, several: boolean): unknown {
  const all = choices(schema)
  const whole = all.some((one) => one.type === 'integer')
  if (text === '') return null
  if (!several) return whole && /^\d+$/.test(text.trim()) ? Number(text) : word(text.trim() || text)
  const items = all.flatMap((one) => (one.items ? choices(one.items) : []))
  const keys = Object.assign({}, ...items.map((one) => one.properties ?? {})) as Record<string, Schema>
  const lines = text
    .split('\n')
    .filter((line) => line !== '')
    .map((line) => step(line, keys))
  return lines.length === 1 && typeof lines[0] === 'string' ? lines[0] : lines
}

/** Lines such as `station: 1-6` as names with values. */
export function readPairs(text: string): Record<string, string> | null {
  const pairs = text
    .split('\n')
    .map((line) => /^\s*([^:]+?)\s*:\s*(.*)$/.exec(line))
    .filter((pair) => pair !== null)
    .map((pair) => [pair[1]!, word(pair[2]!)] as const)
  return pairs.length > 0 ? Object.fromEntries(pairs) : null
}

const word = (text: string) => (text === '""' ? '' : text.replaceAll('\\t', '\t'))

function step(line: string, keys: Record<string, Schema>): unknown {
  const key = Object.keys(keys).find((one) => line.startsWith(one + ':'))
  if (!key) return word(line)
  const rest = line.slice(key.length + 1).replace(/^ /, '')
  const pairs = choices(keys[key]!).some((one) => one.additionalProperties)
  const mark = rest.indexOf(' = ')
  const end = rest.endsWith(' =') ? rest.length - 2 : -1
  if (!pairs || (mark < 0 && end < 0)) return { [key]: rest }
  const at = mark < 0 ? end : mark
  return { [key]: { [rest.slice(0, at)]: rest.slice(at + 3) } }
}
