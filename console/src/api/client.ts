import createClient from 'openapi-fetch'
import type { components, paths } from '../generated/api'

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
export type Fix = Schemas['Fix']
export type After = Schemas['AfterView']
export type RuleCount = Schemas['RuleCount']
export type Left = Schemas['Left']
export type Comparison = Schemas['Comparison']
export type FileSide = Schemas['FileSide']
export type LogLine = Partial<Schemas['LogLine']> & Pick<Schemas['LogLine'], 'at' | 'level' | 'event'>
export type LogLevel = Schemas['LogLevel']
export type DefinitionMoment = Partial<Schemas['DefinitionMoment']>
export type DefinitionSide = Partial<Schemas['DefinitionSide']>
export type TrendPoint = Schemas['TrendPoint']
export type Effect = Schemas['Effect']
export type Draft = Schemas['Draft']
export type ColumnDraft = Schemas['ColumnDraft']
/** What was decided for a column of a draft; what is absent stays as it is proposed. */
export type ColumnChoice = Partial<Schemas['ColumnChoice']>
export type ReadingChoice = Partial<Schemas['ReadingChoice']>
/** What a draft is asked for; an empty name means none. */
export type DraftQuestion = Omit<Schemas['NewDraft'], 'columns' | 'reading'> & {
  reading: ReadingChoice
  columns: Record<string, ColumnChoice>
}
export type StoreView = Schemas['StoreView']
export type DatasetView = Schemas['DatasetView']
export type DatasetDetail = Schemas['DatasetDetail']
export type FieldView = Schemas['FieldView']
export type Problem = Schemas['Problem']
export type RowsView = Schemas['RowsView']
export type CountsView = Schemas['CountsView']
export type ColumnProfile = Schemas['ColumnProfileView']
export type FileColumn = Schemas['FileColumnView']
export type FilesProfile = Schemas['FilesProfileView']
export type CountGroup = Schemas['CountGroup']
export type Delivery = Schemas['DeliveryView']
export type Calendar = Schemas['CalendarView']
export type CalendarCell = Schemas['ArrivalCell']
export type MessageView = Schemas['MessageView']
export type Schedule = Schemas['ScheduleView']
export type Handover = Schemas['HandoverView']
export type SavedQuery = Schemas['QueryView']
export type NewQuery = Partial<Schemas['SaveQueryRequest']> & { dataset: string }
/** A definition as somebody is writing it. */
export type EditView = Schemas['EditView']
/** Rows of a job's files at a stage. */
export type StageRows = Schemas['StageRowsView']
export type StageRow = Schemas['StageRowView']
export type StageQuestion = Partial<Schemas['RowsQuestion']>
/** Which files are asked for, and with what changes to the job's file. */
export type FindQuestion = Omit<Schemas['FindRequest'], 'offset' | 'limit' | 'changes'> & { changes: Change[] }
/** A value of a row: text, number, true or false, or null where empty. */
export type Value = Schemas['Value']

/** A change to the places of a job, as the service makes it in the text of the file. */
export type Change =
  | { op: 'set'; place: number; key: string; value: unknown }
  | { op: 'remove'; place: number; key: string }
  | { op: 'move'; place: number; key: string; by: -1 | 1 }
  | { op: 'add_place'; value: Record<string, unknown> }
  | { op: 'remove_place'; place: number }
  | { op: 'text'; value: string }

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

const unanswered = () =>
  new ProblemError(
    0,
    'No answer',
    'The service does not answer.',
    'Is it still running? Start it with: hapster serve',
    [],
  )

async function asked(request: Request): Promise<Response> {
  let response: Response
  try {
    if (request.method !== 'GET') request.headers.set('Content-Type', 'application/json')
    response = await fetch(request)
  } catch (wrong) {
    throw request.signal.aborted ? wrong : unanswered()
  }
  if (response.ok) return response
  const body = await response.json().catch(() => ({}))
  throw new ProblemError(
    response.status,
    body.title ?? 'Error',
    body.detail ?? `The service answered ${response.status}`,
    body.hint ?? '',
    body.problems ?? [],
  )
}

/** A query string from pairs; lists give the name several times, what is empty is left out. */
function querySerializer(pairs: object): string {
  const search = new URLSearchParams()
  for (const [name, value] of Object.entries(pairs)) {
    for (const one of Array.isArray(value) ? value : [value]) {
      if (one !== undefined && one !== '') search.append(name, String(one))
    }
  }
  return search.toString()
}

/** The service, with the paths, parameters and answers that its own document declares. */
export const service = createClient<paths>({ baseUrl: window.location.origin, fetch: asked, querySerializer })

/** What a call answered; whatever is wrong was thrown as a {@link ProblemError}. */
export async function answer<T>(call: Promise<{ data?: T }>): Promise<T> {
  return (await call).data as T
}

/** Where a browser gets a file from the service. */
export const download = {
  rejects: (run: number) => `/api/v1/runs/${run}/rejects.csv`,
  rejectsAs: (run: number, format: 'csv' | 'parquet' | 'source') => `/api/v1/runs/${run}/rejects/export?as=${format}`,
  asideAs: (run: number, format: 'csv' | 'parquet') => `/api/v1/runs/${run}/aside/export?as=${format}`,
  log: (run: number) => `/api/v1/runs/${run}/log.jsonl`,
  events: (run: number) => `/api/v1/runs/${run}/events`,
  rows: (dataset: string, options: object) =>
    `/api/v1/datasets/${encodeURIComponent(dataset)}/export?${querySerializer(options)}`,
  split: (dataset: string, options: object) =>
    `/api/v1/datasets/${encodeURIComponent(dataset)}/split/zip?${querySerializer(options)}`,
}

/** Lets the browser save a file, once the service has said that it can be written. */
export async function save(path: string): Promise<void> {
  const stop = new AbortController()
  await asked(new Request(new URL(path, window.location.origin), { signal: stop.signal }))
  stop.abort()
  window.location.assign(path)
}
