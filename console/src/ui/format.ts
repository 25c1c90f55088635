import type { After } from '../api/client'

/** A number with a thin space between groups of three digits. */
export const grouped = (number: number) => number.toString().replace(/\B(?=(\d{3})+(?!\d))/g, '\u202f')

const plural = (noun: string) => (noun.endsWith('y') ? noun.slice(0, -1) + 'ies' : noun + 's')

export const counted = (number: number, one: string) => `${grouped(number)} ${number === 1 ? one : plural(one)}`

/** A size for people, in units of 1000. */
export function size(bytes: number): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB']
  let value = bytes
  let unit = 0
  while (value >= 999.5 && unit < units.length - 1) {
    value /= 1000
    unit++
  }
  return unit > 0 && value < 10 ? `${value.toFixed(1)} ${units[unit]}` : `${Math.round(value)} ${units[unit]}`
}

const pad = (number: number) => String(number).padStart(2, '0')

/** A moment in the reader's zone: the day, the time, the offset from UTC. */
export function moment(instant: string | undefined): string {
  if (!instant) return ''
  const date = new Date(instant)
  const offset = -date.getTimezoneOffset()
  const zone =
    offset === 0
      ? 'UTC'
      : `UTC${offset < 0 ? '−' : '+'}${pad(Math.floor(Math.abs(offset) / 60))}:${pad(Math.abs(offset) % 60)}`
  return `${date.getFullYear()}-${pad(date.getMonth() + 1)}-${pad(date.getDate())} ${pad(date.getHours())}:${pad(date.getMinutes())} ${zone}`
}

/** A value of a row as it is shown: timestamps with a space, decimals with all the digits their type keeps. */
export function shown(value: string | number | boolean | null, type: string): string {
  if (value === null) return ''
  const scale = /^decimal\(\d+,(\d+)\)$/.exec(type)
  if (scale && typeof value === 'number') return value.toFixed(Number(scale[1]))
  if (type === 'timestamp' && typeof value === 'string') return value.replace('T', ' ')
  return String(value)
}

export const isNumber = (type: string) => type === 'integer' || type === 'double' || type.startsWith('decimal')

/** What was done with a file, or would be; of one that is taken elsewhere only the folder is named. */
export function afterwards(after: After) {
  const folder = after.to?.slice(0, after.to.lastIndexOf('/')) ?? ''
  if (after.action === 'move') return `moved to ${folder}`
  return after.action === 'copy' ? `copied to ${folder}` : after.words
}
