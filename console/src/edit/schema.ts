/** What the forms and the editor need of a JSON Schema (draft 2020-12), as the service gives it. */
export interface Schema {
  type?: string | string[]
  enum?: string[]
  description?: string
  properties?: Record<string, Schema>
  additionalProperties?: Schema | boolean
  items?: Schema
  oneOf?: Schema[]
  minimum?: number
  maximum?: number
  /** Of a key of `read`, the formats of files that it goes with; absent where it goes with all. */
  'x-formats'?: string[]
}

/** A choice of schemas as the ones that it allows. */
export const choices = (schema: Schema): Schema[] => (schema.oneOf ? schema.oneOf.flatMap(choices) : [schema])

/** The keys that may stand inside a value. */
export function keysOf(schema: Schema | undefined): Record<string, Schema> {
  if (!schema) return {}
  return Object.assign({}, ...choices(schema).map((one) => one.properties ?? {})) as Record<string, Schema>
}

/** What a key inside a value is; also where any key may stand there, or it is one in a list. */
export function inside(schema: Schema | undefined, key: string): Schema | undefined {
  if (!schema) return undefined
  for (const one of choices(schema)) {
    const known = one.properties?.[key]
    if (known) return known
    if (one.additionalProperties && typeof one.additionalProperties === 'object') return one.additionalProperties
    if (one.items) {
      const item = inside(one.items, key)
      if (item) return item
    }
  }
  return undefined
}

/** The words that a value may be. */
export const wordsOf = (schema: Schema | undefined): string[] =>
  schema ? choices(schema).flatMap((one) => one.enum ?? []) : []

/** The words of the default, as the description ends with them. */
export const usual = (schema: Schema): string => /Default: (.*?)\.?$/.exec(schema.description ?? '')?.[1] ?? ''

/**
 * The keys above a place in a YAML text, and the one that is being written: by indentation, and by the brackets that are
 * open on the line.
 */
export function pathAt(text: string, at: number): { path: string[]; key: string | undefined } {
  const start = text.lastIndexOf('\n', at - 1) + 1
  const line = text.slice(start, at)
  const path: string[] = []
  let indent = line.length - line.trimStart().length
  const own = /^\s*(- )?/.exec(line)![0].length
  for (let end = start - 1; end > 0 && indent > 0;) {
    const from = text.lastIndexOf('\n', end - 1) + 1
    const above = text.slice(from, end)
    end = from - 1
    const found = /^(\s*)(?:- )?([\w-]+):/.exec(above)
    if (!found || above.trimStart().startsWith('#')) continue
    if (found[1]!.length < indent) {
      path.unshift(found[2]!)
      indent = found[1]!.length
    }
  }
  // the open brackets of the line: `map: {value: {decimal: `
  const open: string[] = []
  let word = ''
  let key: string | undefined
  let quoted = ''
  for (const c of line.slice(own)) {
    if (quoted) {
      if (c === quoted) quoted = ''
    } else if (c === '"' || c === "'") quoted = c
    else if (c === '{' || c === '[') {
      open.push(key ?? '')
      word = ''
      key = undefined
    } else if (c === '}' || c === ']') {
      open.pop()
      key = undefined
      word = ''
    } else if (c === ',') {
      word = ''
      key = undefined
    } else if (c === ':') {
      key = word.trim()
      word = ''
    } else if (c === '#') break
    else word += c
  }
  return { path: [...path, ...open.filter((one) => one)], key }
}

/** The schema of the value in which the keys of a path stand. */
export const schemaAt = (root: Schema, path: string[]): Schema | undefined =>
  path.reduce<Schema | undefined>((schema, key) => inside(schema, key), root)
