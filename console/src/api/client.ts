import type { components } from '../generated/api'

type Schemas = components['schemas']
export type JobView = Schemas['JobView']
export type JobDetail = Schemas['JobDetail']
export type FoundFile = Schemas['FoundFile']
export type FindView = Schemas['FindView']
export type Bounds = Schemas['Bounds']
export type PeekView = Schemas['PeekView']
export type FitView = Schemas['FitView']
export type FitGroup = Schemas['GroupView']
export type FitCell = Schemas['CellView']
export type Used = Schemas['Used']
export type RuleCounts = Schemas['RuleCounts']
export type RunView = Schemas['RunView']
export type RunEvent = Schemas['RunEvent']
export type Progress = Schemas['Progress']
export type FileView = Schemas['FileView']
export type ReasonView = Schemas['ReasonView']
export type ReportView = Schemas['ReportView']
export type CheckView = Schemas['CheckView']
export type Reject = Schemas['Reject']
export type Trace = Schemas['Trace']
export type Mend = Schemas['Mend']
export type After = Schemas['AfterView']
export type RuleCount = Schemas['RuleCount']
export type Left = Schemas['Left']
export type Comparison = Schemas['Comparison']
export type Effect = Schemas['Effect']
export type StoreView = Schemas['StoreView']
export type DatasetView = Schemas['DatasetView']
export type DatasetDetail = Schemas['DatasetDetail']
export type FieldView = Schemas['FieldView']
export type Problem = Schemas['Problem']
/** A value of a row: text, number, true or false, or null where empty. */
export type Cell = string | number | boolean | null
export interface RowsView {
  dataset: string
  total: number
  offset: number
  fields: FieldView[]
  rows: Cell[][]
}
export interface CountsView {
  dataset: string
  by: string[]
  total: number
  groups: { values: Cell[]; rows: number }[]
}

/** What the service answers when something is wrong (RFC 9457). */
export class ProblemError extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly hint: string,
    readonly problems: Problem[],
  ) {
    super(detail)
  }
}

async function call<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response
  try {
    response = await fetch('/api/v1' + path, init)
  } catch (wrong) {
    if (init?.signal?.aborted) throw wrong
    throw new ProblemError(
      0,
      'No answer',
      'The service does not answer.',
      'Is it still running? Start it with: hapster serve',
      [],
    )
  }
  if (!response.ok) {
    const body = await response.json().catch(() => ({}))
    throw new ProblemError(
      response.status,
      body.title ?? 'Error',
      body.detail ?? `The service answered ${response.status}`,
      body.hint ?? '',
      body.problems ?? [],
    )
  }
  const text = await response.text()
  return (text ? JSON.parse(text) : undefined) as T
}

export const get = <T>(path: string): Promise<T> => call<T>(path)

/** A change to the places of a job, as the service makes it in the text of the file. */
export type Change =
  | { op: 'set'; place: number; key: string; value: unknown }
  | { op: 'remove'; place: number; key: string }
  | { op: 'move'; place: number; key: string; by: -1 | 1 }
  | { op: 'add_place'; value: Record<string, unknown> }
  | { op: 'remove_place'; place: number }
  | { op: 'text'; value: string }

/** Which files are asked for, and with what changes to the job's file. */
export interface FindQuestion {
  changes: Change[]
  set: Record<string, string>
  which: string
  search: string
  sort: string
  descending: boolean
}

export const put = <T>(path: string, body: unknown): Promise<T> =>
  call<T>(path, { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })

export const remove = <T>(path: string): Promise<T> => call<T>(path, { method: 'DELETE' })

export const post = <T>(path: string, body: unknown = {}, signal?: AbortSignal): Promise<T> =>
  call<T>(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body), signal })

/** A query string from pairs; lists give the name several times, what is empty is left out. */
export function query(pairs: Record<string, string | number | string[] | undefined>): string {
  const search = new URLSearchParams()
  for (const [name, value] of Object.entries(pairs)) {
    for (const one of Array.isArray(value) ? value : [value]) {
      if (one !== undefined && one !== '') search.append(name, String(one))
    }
  }
  const text = search.toString()
  return text ? '?' + text : ''
}
