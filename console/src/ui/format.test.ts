import { describe, expect, it } from 'vitest'
import { afterwards, counted, grouped, moment, shown, size } from './format'

describe('numbers and moments for people', () => {
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1000, '1.0 kB'],
    [24_300, '24 kB'],
    [999_600, '1.0 MB'],
    [3_200_000_000, '3.2 GB'],
  ])('%d bytes are %s', (bytes, words) => expect(size(bytes)).toBe(words))

  it('groups digits with a narrow space that does not break', () => {
    expect(grouped(1234567)).toBe('1\u202f234\u202f567')
    expect(counted(1, 'row')).toBe('1 row')
    expect(counted(0, 'row')).toBe('0 rows')
  })

  it('says a moment with its zone', () => {
    expect(moment('2026-03-15T12:05:00Z')).toMatch(/^2026-03-1[456] \d\d:\d5 UTC([+−]\d\d:\d\d)?$/)
    expect(moment(undefined)).toBe('')
  })

  it('keeps the digits of a decimal and the space of a timestamp', () => {
    expect(shown(1.5, 'decimal(12,4)')).toBe('1.5000')
    expect(shown('2026-03-15T12:00:00', 'timestamp')).toBe('2026-03-15 12:00:00')
    expect(shown(null, 'text')).toBe('')
  })

  it('names the folder of what is taken elsewhere, and says everything else as the service does', () => {
    expect(afterwards({ action: 'move', to: '/w/done/a.csv', words: 'moved to /w/done/a.csv' })).toBe(
      'moved to /w/done',
    )
    expect(afterwards({ action: 'delete', words: 'deleted, unless rows of it are rejected' } as never)).toBe(
      'deleted, unless rows of it are rejected',
    )
  })
})
