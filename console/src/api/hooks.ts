import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import {
  answer,
  download,
  service,
  type Draft,
  type DraftQuestion,
  type EditView,
  type Fix,
  type FindQuestion,
  type FindView,
  type LogLevel,
  type LogLine,
  type NewQuery,
  type Progress,
  type RunEvent,
  type StageQuestion,
  type StageRows,
} from './client'

export const useJobs = () =>
  useQuery({
    queryKey: ['jobs'],
    queryFn: () => answer(service.GET('/api/v1/jobs')),
    refetchInterval: (state) => (state.state.data?.some((job) => job.running) ? 1000 : 10_000),
  })

type Values = Record<string, string>

const pairs = (set: Values) => Object.entries(set).map(([name, value]) => `${name}=${value}`)

export const useJob = (job: string, set: Values = {}) =>
  useQuery({
    queryKey: ['job', job, set],
    queryFn: () => answer(service.GET('/api/v1/jobs/{job}', { params: { path: { job }, query: { set: pairs(set) } } })),
    refetchInterval: 10_000,
    placeholderData: (before) => before,
  })

/** How many files are fetched at once. */
export const FILES = 200

/** A part of what a job would take; the folders are looked into again every few seconds. */
export const findPage = (job: string, question: FindQuestion, page: number) => ({
  queryKey: ['find', job, question, page],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answer(
      service.POST('/api/v1/jobs/{job}/find', {
        params: { path: { job } },
        body: { ...question, offset: page * FILES, limit: FILES },
        signal,
      }),
    ),
  refetchInterval: 5_000,
  placeholderData: (before: FindView | undefined) => before,
})

export const useFolders = (begin: string) =>
  useQuery({
    queryKey: ['folders', begin],
    queryFn: () => answer(service.GET('/api/v1/folders', { params: { query: { begin } } })),
    staleTime: 10_000,
    placeholderData: (before) => before,
  })

/** @param folder its path; empty for the folders that may be read */
export const useFolder = (folder: string) =>
  useQuery({
    queryKey: ['folder', folder],
    queryFn: () => answer(service.GET('/api/v1/folders/content', { params: { query: { folder } } })),
    placeholderData: (before) => before,
  })

/** A proposal, which is made anew with each decision. */
export const useDraft = (question: DraftQuestion) =>
  useQuery<Draft>({
    queryKey: ['draft', question],
    queryFn: ({ signal }) => answer(service.POST('/api/v1/drafts', { body: question as never, signal })),
    staleTime: Infinity,
    placeholderData: (before) => before,
  })

/** Saves definitions that are new, the datasets first. */
export function useSaveDraft() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (files: { kind: 'datasets' | 'jobs'; name: string; text: string }[]) => {
      for (const file of files) {
        const body = { text: file.text } as never
        if (file.kind === 'datasets')
          await answer(service.PUT('/api/v1/datasets/{dataset}', { params: { path: { dataset: file.name } }, body }))
        else await answer(service.PUT('/api/v1/jobs/{job}', { params: { path: { job: file.name } }, body }))
      }
    },
    onSuccess: () => client.invalidateQueries(),
  })
}

export function useStartDrafted() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (job: string) =>
      answer(service.POST('/api/v1/jobs/{job}/runs', { params: { path: { job } }, body: {} as never })),
    onSuccess: () => client.invalidateQueries(),
  })
}

/** @param from the first line wanted, counted from 1; below 1 the last lines */
export const usePeek = (job: string, file: string, from: number, count: number) =>
  useQuery({
    queryKey: ['peek', job, file, from, count],
    queryFn: () =>
      answer(service.GET('/api/v1/jobs/{job}/peek', { params: { path: { job }, query: { file, from, count } } })),
    placeholderData: (before) => before,
  })

/** Files against columns; read when the page is opened, since every file is looked into. */
export const useFit = (job: string) =>
  useQuery({
    queryKey: ['fit', job],
    queryFn: () => answer(service.GET('/api/v1/jobs/{job}/fit', { params: { path: { job } } })),
    staleTime: 30_000,
  })

/** Every row of its files is read, which may take a while; so it is not done again without need. */
export const useJobProfile = (job: string) =>
  useQuery({
    queryKey: ['job-profile', job],
    queryFn: () => answer(service.GET('/api/v1/jobs/{job}/profile', { params: { path: { job } } })),
    staleTime: 300_000,
    refetchOnWindowFocus: false,
  })

export function useSave(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: { text: string; version: string; set: Values }) =>
      answer(service.PUT('/api/v1/jobs/{job}', { params: { path: { job } }, body: change })),
    onSuccess: (saved) => {
      client.setQueryData(['job', job, {}], saved)
      void client.invalidateQueries()
    },
  })
}

export function useCopy(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (name: string) =>
      answer(service.POST('/api/v1/jobs/{job}/copy', { params: { path: { job } }, body: { name } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

/** Says of rejects that they need nobody's attention any more. */
export function useDismiss(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (body: { file: string; why: string }) =>
      answer(service.POST('/api/v1/jobs/{job}/dismissals', { params: { path: { job } }, body })),
    onSuccess: () => void client.invalidateQueries(),
  })
}

/** Gives a job or a dataset another name. */
export function useRename(kind: 'jobs' | 'datasets', name: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (to: string) =>
      kind === 'jobs'
        ? answer(service.POST('/api/v1/jobs/{job}/rename', { params: { path: { job: name } }, body: { name: to } }))
        : answer(
            service.POST('/api/v1/datasets/{dataset}/rename', {
              params: { path: { dataset: name } },
              body: { name: to },
            }),
          ),
    onSuccess: () => void client.invalidateQueries(),
  })
}

export function useCopyDataset(dataset: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (name: string) =>
      answer(service.POST('/api/v1/datasets/{dataset}/copy', { params: { path: { dataset } }, body: { name } })),
    onSuccess: () => void client.invalidateQueries(),
  })
}

/** Deletes a dataset, and before it the rows that jobs brought, where some are named. */
export function useDeleteDataset(dataset: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (jobs: string[]) => {
      for (const job of jobs)
        await answer(
          service.DELETE('/api/v1/datasets/{dataset}/rows', { params: { path: { dataset }, query: { job } } }),
        )
      await service.DELETE('/api/v1/datasets/{dataset}', { params: { path: { dataset } } })
    },
    onSettled: () => void client.invalidateQueries(),
  })
}

export const useRuns = (job?: string) =>
  useQuery({
    queryKey: ['runs', job ?? ''],
    queryFn: () => answer(service.GET('/api/v1/runs', { params: { query: { job, limit: 100 } } })),
    refetchInterval: 10_000,
  })

/** Calls a run by a label. */
export function useLabel(run: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (label: string) =>
      answer(service.POST('/api/v1/runs/{run}/label', { params: { path: { run } }, body: { label } })),
    onSettled: () => void client.invalidateQueries({ queryKey: ['run'] }),
  })
}

export const useRun = (run: number) =>
  useQuery({
    queryKey: ['run', run],
    queryFn: () => answer(service.GET('/api/v1/runs/{run}', { params: { path: { run } } })),
  })

export const useRunFiles = (run: number, enabled: boolean) =>
  useQuery({
    queryKey: ['run', run, 'files'],
    queryFn: () => answer(service.GET('/api/v1/runs/{run}/files', { params: { path: { run } } })),
    enabled,
  })

export const useRunReasons = (run: number, enabled: boolean) =>
  useQuery({
    queryKey: ['run', run, 'reasons'],
    queryFn: () => answer(service.GET('/api/v1/runs/{run}/rejects', { params: { path: { run } } })),
    enabled,
  })

export const useRejectedRows = (run: number, code: string, column: string, limit: number) =>
  useQuery({
    queryKey: ['run', run, 'rejected', code, column, limit],
    queryFn: () =>
      answer(
        service.GET('/api/v1/runs/{run}/rejects/rows', { params: { path: { run }, query: { code, column, limit } } }),
      ),
  })

export const useTrace = (run: number, file: string, row: number) =>
  useQuery({
    queryKey: ['run', run, 'trace', file, row],
    queryFn: () =>
      answer(service.GET('/api/v1/rejects/{run}/trace', { params: { path: { run }, query: { path: file, row } } })),
  })

/** Changes to the definitions by which rejected rows would fit. */
export const useFixes = (run: number, code: string, column: string) =>
  useQuery({
    queryKey: ['run', run, 'fixes', code, column],
    queryFn: () =>
      answer(service.GET('/api/v1/rejects/{run}/mends', { params: { path: { run }, query: { code, column } } })),
    staleTime: 10_000,
  })

export function useApplyFix() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (fix: Fix) => {
      const [folder, name] = fix.file.replace('.yaml', '').split('/') as [string, string]
      const body = { text: fix.text, version: fix.version }
      await (folder === 'jobs'
        ? service.PUT('/api/v1/jobs/{job}', { params: { path: { job: name } }, body })
        : service.PUT('/api/v1/datasets/{dataset}', { params: { path: { dataset: name } }, body }))
    },
    onSettled: () => client.invalidateQueries(),
  })
}

export function useRetry(run: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => answer(service.POST('/api/v1/runs/{run}/retry', { params: { path: { run } }, body: {} })),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

export function useUndo(run: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => answer(service.POST('/api/v1/runs/{run}/undo', { params: { path: { run } } })),
    onSettled: () => void client.invalidateQueries(),
  }) // not waited for: what it changes takes the button away
}

/** What would come of taking an entry of the history back; asked while the dialog is open. */
export const useUndoEffect = (run: number, open: boolean) =>
  useQuery({
    queryKey: ['run', run, 'undo'],
    queryFn: () => answer(service.GET('/api/v1/runs/{run}/undo', { params: { path: { run } } })),
    enabled: open,
    gcTime: 0,
  })

/** What would come of taking the rows of a job out of a dataset. */
export const useRemovalEffect = (dataset: string, job: string, open: boolean) =>
  useQuery({
    queryKey: ['dataset', dataset, 'removal', job],
    queryFn: () =>
      answer(service.GET('/api/v1/datasets/{dataset}/removal', { params: { path: { dataset }, query: { job } } })),
    enabled: open,
    gcTime: 0,
  })

/** What is wrong with the store as a whole. */
export const useStore = () =>
  useQuery({ queryKey: ['store'], queryFn: () => answer(service.GET('/api/v1/store')), refetchInterval: 30_000 })

/** Takes the rows of a job out of a dataset. */
export function useRemoveRows(dataset: string, job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () =>
      answer(service.DELETE('/api/v1/datasets/{dataset}/rows', { params: { path: { dataset }, query: { job } } })),
    onSettled: () => void client.invalidateQueries(),
  })
}

/** Deletes a job, and takes its rows out before where that is wanted. */
export function useDeleteJob(job: string, into: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (rows: boolean) => {
      if (rows)
        await service.DELETE('/api/v1/datasets/{dataset}/rows', { params: { path: { dataset: into }, query: { job } } })
      await service.DELETE('/api/v1/jobs/{job}', { params: { path: { job } } })
    },
    onSettled: () => void client.invalidateQueries(),
  })
}

export const useAside = (run: number) =>
  useQuery({
    queryKey: ['run', run, 'aside'],
    queryFn: () => answer(service.GET('/api/v1/runs/{run}/aside', { params: { path: { run } } })),
  })

/** The first rows that a rule set aside. */
export const useAsideRows = (run: number, rule: string, limit: number) =>
  useQuery({
    queryKey: ['run', run, 'aside', rule, limit],
    queryFn: () =>
      answer(service.GET('/api/v1/runs/{run}/aside/rows', { params: { path: { run }, query: { rule, limit } } })),
  })

/** @param beside the other run; the one before it where it is not said */
export const useComparison = (run: number, beside?: number) =>
  useQuery({
    queryKey: ['run', run, 'comparison', beside],
    queryFn: () =>
      answer(
        service.GET('/api/v1/runs/{run}/comparison', {
          params: { path: { run }, query: beside ? { with: beside } : {} },
        }),
      ),
  })

/** By which definitions a run went, and what changed in them since. */
export const useDefinitions = (run: number, enabled: boolean) =>
  useQuery({
    queryKey: ['run', run, 'definitions'],
    queryFn: () => answer(service.GET('/api/v1/runs/{run}/definitions', { params: { path: { run } } })),
    enabled,
  })

/** How the latest runs of a job went. */
export const useTrend = (job: string) =>
  useQuery({
    queryKey: ['job', job, 'trend'],
    queryFn: () => answer(service.GET('/api/v1/jobs/{job}/trend', { params: { path: { job } } })),
  })

/** Lines of a log that are kept at once; of more the last ones. */
const MOST_LINES = 2000
const LOG_PAUSE = 500

export interface Log {
  lines: LogLine[]
  /** All lines that were read, also those that are kept no more. */
  read: number
  /** Whether there may be more: the run goes on, or not all is read yet. */
  more: boolean
  error: unknown
}

/** A run's log, followed as long as the run goes on. Another run or level wants another component. */
export function useLog(run: number, level: LogLevel): Log {
  const [log, setLog] = useState<Log>({ lines: [], read: 0, more: true, error: null })
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined
    let left = false
    const read = async (at: number) => {
      const call = service.GET('/api/v1/runs/{run}/log', { params: { path: { run }, query: { at, level } } })
      try {
        const piece = await answer(call)
        if (left) return
        setLog((log) => ({
          lines: [...log.lines, ...piece.lines].slice(-MOST_LINES),
          read: log.read + piece.lines.length,
          more: piece.more,
          error: null,
        }))
        if (piece.more) timer = setTimeout(() => void read(piece.next), piece.next === at ? LOG_PAUSE : 0)
      } catch (error) {
        if (!left) setLog((log) => ({ ...log, more: false, error }))
      }
    }
    void read(0)
    return () => {
      left = true
      clearTimeout(timer)
    }
  }, [run, level])
  return log
}

export const useOpenRejects = () =>
  useQuery({ queryKey: ['rejects'], queryFn: () => answer(service.GET('/api/v1/rejects')), refetchInterval: 10_000 })

export const useDatasets = () =>
  useQuery({ queryKey: ['datasets'], queryFn: () => answer(service.GET('/api/v1/datasets')), refetchInterval: 15_000 })

export const useDataset = (dataset: string) =>
  useQuery({
    queryKey: ['dataset', dataset],
    queryFn: () => answer(service.GET('/api/v1/datasets/{dataset}', { params: { path: { dataset } } })),
  })

/** How many rows are fetched at once. */
export const ROWS = 200

/** A part of the rows of a dataset. */
export const rowsPage = (dataset: string, where: string[], sort: string[], columns: string[], page: number) => ({
  queryKey: ['rows', dataset, where, sort, columns, page],
  queryFn: () =>
    answer(
      service.GET('/api/v1/datasets/{dataset}/rows', {
        params: {
          path: { dataset },
          query: { offset: page * ROWS, limit: ROWS, sort, columns, where, total: false },
        },
      }),
    ),
  staleTime: 30_000,
})

/** How many rows satisfy conditions, where the first page does not say it. */
export const useTotal = (dataset: string, where: string[], enabled: boolean) =>
  useQuery({
    queryKey: ['rows', dataset, where, 'total'],
    queryFn: () =>
      answer(
        service.GET('/api/v1/datasets/{dataset}/rows', { params: { path: { dataset }, query: { limit: 0, where } } }),
      ),
    enabled,
    staleTime: 30_000,
  })

const askEdit = (kind: 'jobs' | 'datasets', name: string, body: object, signal?: AbortSignal) =>
  (kind === 'jobs'
    ? answer(
        service.POST('/api/v1/jobs/{job}/edit', {
          params: { path: { job: name } },
          body: body as never,
          ...(signal ? { signal } : {}),
        }),
      )
    : answer(
        service.POST('/api/v1/datasets/{dataset}/edit', {
          params: { path: { dataset: name } },
          body: body as never,
          ...(signal ? { signal } : {}),
        }),
      )) as Promise<EditView>

/** What the service says of a definition; without a text of the saved one. */
export const useEdit = (kind: 'jobs' | 'datasets', name: string, text?: string, enabled = true, staleTime?: number) =>
  useQuery<EditView>({
    queryKey: ['edit', kind, name, text],
    queryFn: ({ signal }) => askEdit(kind, name, text === undefined ? {} : { text }, signal),
    gcTime: 10_000,
    placeholderData: (before) => before,
    enabled,
    ...(staleTime !== undefined && { staleTime }),
  })

/** Lets the service change keys in a text; nothing is saved. */
export const useEditChange = (kind: 'jobs' | 'datasets', name: string) =>
  useMutation({
    mutationFn: (change: { text: string; changes: { path: string[]; value: unknown }[] }) =>
      askEdit(kind, name, change),
  })

/** Saves a definition, if nobody else has saved it since. */
export function useSaveText(kind: 'jobs' | 'datasets', name: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: async (body: { text: string; version: string }) => {
      if (kind === 'jobs')
        await answer(service.PUT('/api/v1/jobs/{job}', { params: { path: { job: name } }, body: body as never }))
      else
        await answer(
          service.PUT('/api/v1/datasets/{dataset}', { params: { path: { dataset: name } }, body: body as never }),
        )
      return askEdit(kind, name, {})
    },
    onSuccess: () => client.invalidateQueries(),
  })
}

/** The JSON Schema of a kind of definition. */
export const useSchema = (name: 'job' | 'dataset') =>
  useQuery({
    queryKey: ['schema', name],
    queryFn: async () => {
      const response = await fetch(`/api/v1/schemas/${name}.schema.json`)
      return (await response.json()) as object
    },
    staleTime: Infinity,
  })

/** Rows of a job's files at a stage; asked again while the place in the file is being looked for. */
export const useStageRows = (job: string, question: StageQuestion, enabled = true) =>
  useQuery<StageRows>({
    queryKey: ['stage rows', job, question],
    queryFn: ({ signal }) =>
      answer(
        service.POST('/api/v1/jobs/{job}/rows', { params: { path: { job } }, body: question as never, signal }),
      ) as Promise<StageRows>,
    refetchInterval: (state) => (state.state.data?.busy ? 400 : false),
    placeholderData: (before) => before,
    enabled,
  })

export const useRowTrace = (job: string, question: StageQuestion) =>
  useQuery({
    queryKey: ['row trace', job, question],
    queryFn: ({ signal }) =>
      answer(
        service.POST('/api/v1/jobs/{job}/rows/trace', { params: { path: { job } }, body: question as never, signal }),
      ),
  })

export interface Grouping {
  by: string[]
  measures: string[]
  sort: string[]
  /** How many groups are listed; 0 for all. */
  top: number
}

export const useCounts = (dataset: string, where: string[], { by, measures, sort, top }: Grouping) =>
  useQuery({
    queryKey: ['counts', dataset, where, by, measures, sort, top],
    queryFn: () =>
      answer(
        service.GET('/api/v1/datasets/{dataset}/counts', {
          params: { path: { dataset }, query: { by, measures, where, sort, top } },
        }),
      ),
    enabled: by.length > 0 || measures.length > 0,
    placeholderData: (before) => before,
  })

export const useProfile = (dataset: string, where: string[], exact: boolean) =>
  useQuery({
    queryKey: ['profile', dataset, where, exact],
    queryFn: () =>
      answer(
        service.GET('/api/v1/datasets/{dataset}/profile', { params: { path: { dataset }, query: { where, exact } } }),
      ),
    staleTime: 30_000,
  })

const deliveryPath = (dataset: string, delivery: string) => ({ params: { path: { dataset, delivery } } })

/** While one is under way, it is looked at more often. */
export const useDeliveries = (dataset: string) =>
  useQuery({
    queryKey: ['deliveries', dataset],
    queryFn: () => answer(service.GET('/api/v1/datasets/{dataset}/deliveries', { params: { path: { dataset } } })),
    refetchInterval: (query) => (query.state.data?.some((one) => one.last?.state === 'queued') ? 500 : 15_000),
  })

export const useDelivery = (dataset: string, delivery: string) =>
  useQuery({
    queryKey: ['deliveries', dataset, delivery],
    queryFn: () =>
      answer(service.GET('/api/v1/datasets/{dataset}/deliveries/{delivery}', deliveryPath(dataset, delivery))),
    refetchInterval: (query) => (query.state.data?.delivery.last?.state === 'queued' ? 500 : 15_000),
  })

export function useDeliver(dataset: string, delivery: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () =>
      answer(service.POST('/api/v1/datasets/{dataset}/deliveries/{delivery}', deliveryPath(dataset, delivery))),
    onSettled: () => void client.invalidateQueries({ queryKey: ['deliveries', dataset] }),
  })
}

export const useDeliveryTrial = (dataset: string, delivery: string) =>
  useMutation({
    mutationFn: () =>
      answer(service.POST('/api/v1/datasets/{dataset}/deliveries/{delivery}/trial', deliveryPath(dataset, delivery))),
  })

const ofJob = (job: string) => ({ params: { path: { job } } })

export const useSchedules = () =>
  useQuery({
    queryKey: ['schedule'],
    queryFn: () => answer(service.GET('/api/v1/schedule')),
    refetchInterval: 10_000,
  })

export const useSchedule = (job: string) =>
  useQuery({
    queryKey: ['schedule', job],
    queryFn: () => answer(service.GET('/api/v1/jobs/{job}/schedule', ofJob(job))),
    refetchInterval: 10_000,
  })

/** @param dataset only of jobs that load into it; of all where it is absent */
export const useCalendars = (dataset?: string) =>
  useQuery({
    queryKey: ['calendar', 'of', dataset],
    queryFn: () => answer(service.GET('/api/v1/calendar', { params: { query: dataset ? { dataset } : {} } })),
    refetchInterval: 30_000,
  })

export const useJobCalendar = (job: string) =>
  useQuery({
    queryKey: ['calendar', job],
    queryFn: () => answer(service.GET('/api/v1/jobs/{job}/calendar', ofJob(job))),
    refetchInterval: 30_000,
  })

export const useMessages = () =>
  useQuery({
    queryKey: ['messages'],
    queryFn: () => answer(service.GET('/api/v1/messages', { params: { query: { limit: 1000 } } })),
    refetchInterval: 10_000,
  })

export const useMessage = (number: number) =>
  useQuery({
    queryKey: ['messages', number],
    queryFn: () => answer(service.GET('/api/v1/messages/{message}', { params: { path: { message: number } } })),
    refetchInterval: 10_000,
  })

/** The next times of a text that is not saved. */
export const useTimes = (job: string, text: string) =>
  useQuery({
    queryKey: ['schedule', job, 'times', text],
    queryFn: () => answer(service.POST('/api/v1/jobs/{job}/schedule/times', { ...ofJob(job), body: { text } })),
    placeholderData: keepPreviousData,
  })

export function usePause(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (body: { until?: string; because: string }) =>
      answer(service.POST('/api/v1/jobs/{job}/schedule/pause', { ...ofJob(job), body })),
    onSettled: () => void client.invalidateQueries({ queryKey: ['schedule'] }),
  })
}

export function useResume(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => answer(service.POST('/api/v1/jobs/{job}/schedule/resume', ofJob(job))),
    onSettled: () => void client.invalidateQueries({ queryKey: ['schedule'] }),
  })
}

export const useSavedQueries = () =>
  useQuery({ queryKey: ['queries'], queryFn: () => answer(service.GET('/api/v1/queries')) })

export const useSavedQuery = (query: string) =>
  useQuery({
    queryKey: ['queries', query],
    queryFn: () => answer(service.GET('/api/v1/queries/{query}', { params: { path: { query } } })),
  })

export function useSaveQuery() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: ({ name, ...body }: { name: string } & NewQuery) =>
      answer(service.PUT('/api/v1/queries/{query}', { params: { path: { query: name } }, body: body as never })),
    onSuccess: () => void client.invalidateQueries({ queryKey: ['queries'] }),
  })
}

export function useDeleteQuery() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (query: string) => answer(service.DELETE('/api/v1/queries/{query}', { params: { path: { query } } })),
    onSettled: () => void client.invalidateQueries({ queryKey: ['queries'] }),
  })
}

export function useStartRun(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (set: Values) =>
      answer(service.POST('/api/v1/jobs/{job}/runs', { params: { path: { job } }, body: { set } })),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

export const useCheck = (job: string) =>
  useMutation({
    mutationFn: (set: Values) =>
      answer(service.POST('/api/v1/jobs/{job}/check', { params: { path: { job } }, body: { set } })),
  })

export const useTrial = (job: string) =>
  useMutation({
    mutationFn: (set: Values) =>
      answer(service.POST('/api/v1/jobs/{job}/trial', { params: { path: { job } }, body: { set } })),
  })

export const useCancel = (run: number) =>
  useMutation({ mutationFn: () => answer(service.POST('/api/v1/runs/{run}/cancel', { params: { path: { run } } })) })

/** Follows a run that goes on; everything that depends on it is read anew when it ends. */
export function useProgress(run: number, ended: boolean): Progress | undefined {
  const client = useQueryClient()
  const [progress, setProgress] = useState<Progress>()
  useEffect(() => {
    if (ended) return
    const source = new EventSource(download.events(run))
    source.onmessage = (message) => {
      const event = JSON.parse(message.data) as RunEvent
      if (event.kind === 'ended') {
        source.close()
        setProgress(undefined)
        client.setQueryData(['run', run], event.run)
        void client.invalidateQueries()
      } else if (event.progress) {
        setProgress(event.progress)
      }
    }
    return () => source.close()
  }, [client, run, ended])
  return progress
}
