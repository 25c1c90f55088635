import { describe, expect, it } from 'vitest'
import { logWords } from './RunLog'

const line = { at: '2026-05-04T06:00:00Z', level: 'info', event: 'file' } as const

describe('a line of a log', () => {
  it('says of a file what became of it and its rows', () => {
    const rows = { read: 440, loaded: 433, aside: 4, repeated: 0, rejected: 3 }
    expect(logWords({ ...line, file: 'a.csv', outcome: 'loaded', rows, millis: 36 })).toBe(
      'loaded, 433 rows, 4 set aside, 3 rejected, 0.04 s',
    )
    expect(logWords({ ...line, file: 'b.csv', outcome: 'rejected', code: 'not-text', text: 'holds a NUL byte' })).toBe(
      'rejected not-text: holds a NUL byte',
    )
  })

  it('says of a run how many files there are, and how it ended', () => {
    expect(logWords({ ...line, event: 'found', files: 2, bytes: 28_000 })).toBe('2 files, 28 kB')
    const rows = { read: 1, loaded: 1, aside: 0, repeated: 2, rejected: 0 }
    expect(logWords({ ...line, event: 'ended', outcome: 'finished', files: 1, rows })).toBe(
      'finished, 1 file found, 1 row loaded, 2 repeated',
    )
    expect(logWords({ ...line, event: 'said', text: 'the connection broke off' })).toBe('the connection broke off')
  })
})
