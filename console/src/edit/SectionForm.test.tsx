import { describe, expect, it } from 'vitest'
import { pathAt, schemaAt, keysOf, type Schema } from './schema'
import { read, readPairs, written } from './SectionForm'

const scalar: Schema = { type: ['string', 'number', 'boolean'] }
const texts: Schema = { oneOf: [scalar, { type: 'array', items: scalar }] }
const step: Schema = {
  oneOf: [
    { enum: ['trim', 'upper'] },
    {
      type: 'object',
      properties: { remove: texts, replace: { type: 'object', additionalProperties: scalar } },
    },
  ],
}
const steps: Schema = { oneOf: [step, { type: 'array', items: step }] }

describe('what a field says', () => {
  it.each([
    ['a text', scalar, 'East', 'East'],
    ['a number', { type: 'integer' }, '3', 3],
    ['nothing', scalar, '', null],
    ['one entry', texts, ',', ','],
    ['several entries', texts, ',\n;', [',', ';']],
    ['an empty text and a dash', texts, '""\n-', ['', '-']],
    ['a tab', texts, '\\t', '\t'],
    ['steps', steps, 'trim\nremove: -\nreplace: ae = ä', ['trim', { remove: '-' }, { replace: { ae: 'ä' } }]],
  ] as [string, Schema, string, unknown][])('%s', (_, schema, text, value) => {
    const several = schema === texts || schema === steps
    expect(read(text, schema, several)).toEqual(value)
    expect(written(value)).toBe(text)
  })
})

describe('names with values', () => {
  it('stand on a line each', () => {
    const columns = { station: '1-6', note: '8-', 'a.b': 'urn:vessa' }
    expect(readPairs(written(columns))).toEqual(columns)
    expect(readPairs('')).toBeNull()
    expect(readPairs('station')).toBeNull()
  })
})

describe('where one is in a text', () => {
  const text = 'job: a\nread:\n  as: delimited\n  sep\nmap:\n  value: {from: Wert, dec\n'
  it('below a section', () => {
    expect(pathAt(text, text.indexOf('sep'))).toEqual({ path: ['read'], key: undefined })
    expect(pathAt(text, text.indexOf('delimited'))).toEqual({ path: ['read'], key: 'as' })
  })
  it('within brackets', () => {
    expect(pathAt(text, text.indexOf('dec'))).toEqual({ path: ['map', 'value'], key: undefined })
    expect(pathAt(text, text.indexOf('Wert'))).toEqual({ path: ['map', 'value'], key: 'from' })
  })
  it('knows the keys that may stand there', () => {
    const schema: Schema = {
      properties: {
        map: { additionalProperties: { oneOf: [scalar, { properties: { decimal: { enum: [',', '.'] } } }] } },
      },
    }
    expect(Object.keys(keysOf(schemaAt(schema, ['map', 'value'])))).toEqual(['decimal'])
  })
})
