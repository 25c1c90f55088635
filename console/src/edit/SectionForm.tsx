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
        {shown.map(([key, one]) => (
          <KeyField key={key} name={key} schema={one} value={said[key]} onSet={(next) => onSet([...path, key], next)} />
        ))}
      </Box>
      {shown.length < keys.length && (
        <Button size="small" onClick={() => setAll(true)} sx={{ mt: 0.5 }}>
          {keys.length - shown.length} more
        </Button>
      )}
    </>
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

/** One key: a choice of words, a text, or a text with an entry on each line. */
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
  if (texts || steps || several)
    return (
      <TextKey
        key={written(value)}
        name={name}
        schema={schema}
        written={written(value)}
        several={several}
        onText={(text) => onSet(read(text, schema, several))}
      />
    )
  return (
    <Box>
      <Typography variant="caption" color="textSecondary" title={schema.description}>
        {name}
      </Typography>
      <Typography sx={{ fontFamily: (theme) => theme.mono, fontSize: '0.78rem', overflowWrap: 'anywhere' }}>
        {value === undefined ? 'not set' : JSON.stringify(value)}
      </Typography>
      <Typography variant="caption" color="textSecondary">
        changed in the text
      </Typography>
    </Box>
  )
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
