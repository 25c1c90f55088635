import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import {
  get,
  post,
  put,
  query,
  remove,
  type CheckView,
  type Comparison,
  type CountsView,
  type DatasetDetail,
  type DatasetView,
  type FileView,
  type FindQuestion,
  type FindView,
  type FitView,
  type JobDetail,
  type JobView,
  type Left,
  type Mend,
  type PeekView,
  type Progress,
  type ReasonView,
  type Reject,
  type ReportView,
  type RuleCount,
  type RunEvent,
  type RunView,
  type Trace,
  type Effect,
  type StoreView,
} from './client'

const path = encodeURIComponent

export const useJobs = () =>
  useQuery({
    queryKey: ['jobs'],
    queryFn: () => get<JobView[]>('/jobs'),
    refetchInterval: (state) => (state.state.data?.some((job) => job.running) ? 1000 : 10_000),
  })

type Values = Record<string, string>

const pairs = (set: Values) => Object.entries(set).map(([name, value]) => `${name}=${value}`)

export const useJob = (job: string, set: Values = {}) =>
  useQuery({
    queryKey: ['job', job, set],
    queryFn: () => get<JobDetail>(`/jobs/${path(job)}` + query({ set: pairs(set) })),
    refetchInterval: 10_000,
    placeholderData: (before) => before,
  })

/** How many files are fetched at once. */
export const FILES = 200

/** A part of what a job would take; the folders are looked into again every few seconds. */
export const findPage = (job: string, question: FindQuestion, page: number) => ({
  queryKey: ['find', job, question, page],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    post<FindView>(`/jobs/${path(job)}/find`, { ...question, offset: page * FILES, limit: FILES }, signal),
  refetchInterval: 5_000,
  placeholderData: (before: FindView | undefined) => before,
})

export const useFolders = (begin: string) =>
  useQuery({
    queryKey: ['folders', begin],
    queryFn: () => get<string[]>('/folders' + query({ begin })),
    staleTime: 10_000,
    placeholderData: (before) => before,
  })

/** @param from the first line wanted, counted from 1; below 1 the last lines */
export const usePeek = (job: string, file: string, from: number, count: number) =>
  useQuery({
    queryKey: ['peek', job, file, from, count],
    queryFn: () => get<PeekView>(`/jobs/${path(job)}/peek` + query({ file, from, count })),
    placeholderData: (before) => before,
  })

/** Files against columns; read when the page is opened, since every file is looked into. */
export const useFit = (job: string) =>
  useQuery({ queryKey: ['fit', job], queryFn: () => get<FitView>(`/jobs/${path(job)}/fit`), staleTime: 30_000 })

export function useSave(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (change: { text: string; version: string; set: Values }) =>
      put<JobDetail>(`/jobs/${path(job)}`, change),
    onSuccess: (saved) => {
      client.setQueryData(['job', job, {}], saved)
      void client.invalidateQueries()
    },
  })
}

export function useCopy(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (name: string) => post<JobDetail>(`/jobs/${path(job)}/copy`, { name }),
    onSuccess: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

export const useRuns = (job?: string) =>
  useQuery({
    queryKey: ['runs', job ?? ''],
    queryFn: () => get<RunView[]>('/runs' + query({ job, limit: 100 })),
    refetchInterval: 10_000,
  })

export const useRun = (run: number) => useQuery({ queryKey: ['run', run], queryFn: () => get<RunView>(`/runs/${run}`) })

export const useRunFiles = (run: number, enabled: boolean) =>
  useQuery({ queryKey: ['run', run, 'files'], queryFn: () => get<FileView[]>(`/runs/${run}/files`), enabled })

export const useRunReasons = (run: number, enabled: boolean) =>
  useQuery({ queryKey: ['run', run, 'reasons'], queryFn: () => get<ReasonView[]>(`/runs/${run}/rejects`), enabled })

export const useRejectedRows = (run: number, code: string, column: string, limit: number) =>
  useQuery({
    queryKey: ['run', run, 'rejected', code, column, limit],
    queryFn: () => get<Reject[]>(`/runs/${run}/rejects/rows` + query({ code, column, limit })),
  })

export const useTrace = (run: number, file: string, row: number) =>
  useQuery({
    queryKey: ['run', run, 'trace', file, row],
    queryFn: () => get<Trace>(`/rejects/${run}/trace` + query({ path: file, row })),
  })

/** Changes to the definitions by which rejected rows would fit. */
export const useMends = (run: number, code: string, column: string) =>
  useQuery({
    queryKey: ['run', run, 'mends', code, column],
    queryFn: () => get<Mend[]>(`/rejects/${run}/mends` + query({ code, column })),
    staleTime: 10_000,
  })

export function useApplyMend() {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (mend: Mend) => put(`/${mend.file.replace('.yaml', '')}`, { text: mend.text, version: mend.version }),
    onSettled: () => client.invalidateQueries(),
  })
}

export function useRetry(run: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => post<RunView>(`/runs/${run}/retry`),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

export function useUndo(run: number) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => post<RunView>(`/runs/${run}/undo`),
    onSettled: () => void client.invalidateQueries(),
  }) // not waited for: what it changes takes the button away
}

/** What would come of taking an entry of the history back; asked while the dialog is open. */
export const useUndoEffect = (run: number, open: boolean) =>
  useQuery({
    queryKey: ['run', run, 'undo'],
    queryFn: () => get<Effect>(`/runs/${run}/undo`),
    enabled: open,
    gcTime: 0,
  })

/** What would come of taking the rows of a job out of a dataset. */
export const useRemovalEffect = (dataset: string, job: string, open: boolean) =>
  useQuery({
    queryKey: ['dataset', dataset, 'removal', job],
    queryFn: () => get<Effect>(`/datasets/${path(dataset)}/removal` + query({ job })),
    enabled: open,
    gcTime: 0,
  })

/** What is wrong with the store as a whole. */
export const useStore = () =>
  useQuery({ queryKey: ['store'], queryFn: () => get<StoreView>('/store'), refetchInterval: 30_000 })

/** Takes the rows of a job out of a dataset. */
export function useRemoveRows(dataset: string, job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: () => remove<{ entry: number; notes: string[] }>(`/datasets/${path(dataset)}/rows` + query({ job })),
    onSettled: () => void client.invalidateQueries(),
  })
}

export const useAside = (run: number) =>
  useQuery({ queryKey: ['run', run, 'aside'], queryFn: () => get<RuleCount[]>(`/runs/${run}/aside`) })

/** The first rows that a rule set aside. */
export const useAsideRows = (run: number, rule: string, limit: number) =>
  useQuery({
    queryKey: ['run', run, 'aside', rule, limit],
    queryFn: () => get<Left[]>(`/runs/${run}/aside/rows` + query({ rule, limit })),
  })

export const useComparison = (run: number) =>
  useQuery({ queryKey: ['run', run, 'comparison'], queryFn: () => get<Comparison>(`/runs/${run}/comparison`) })

export const useOpenRejects = () =>
  useQuery({ queryKey: ['rejects'], queryFn: () => get<ReasonView[]>('/rejects'), refetchInterval: 10_000 })

export const useDatasets = () =>
  useQuery({ queryKey: ['datasets'], queryFn: () => get<DatasetView[]>('/datasets'), refetchInterval: 15_000 })

export const useDataset = (dataset: string) =>
  useQuery({ queryKey: ['dataset', dataset], queryFn: () => get<DatasetDetail>(`/datasets/${path(dataset)}`) })

export const useCounts = (dataset: string, by: string[], where: string[]) =>
  useQuery({
    queryKey: ['counts', dataset, by, where],
    queryFn: () => get<CountsView>(`/datasets/${path(dataset)}/counts` + query({ by, where })),
    enabled: by.length > 0,
    placeholderData: (before) => before,
  })

export function useStartRun(job: string) {
  const client = useQueryClient()
  return useMutation({
    mutationFn: (set: Values) => post<RunView>(`/jobs/${path(job)}/runs`, { set }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

export const useCheck = (job: string) =>
  useMutation({ mutationFn: (set: Values) => post<CheckView>(`/jobs/${path(job)}/check`, { set }) })

export const useTrial = (job: string) =>
  useMutation({ mutationFn: (set: Values) => post<ReportView>(`/jobs/${path(job)}/trial`, { set }) })

export const useCancel = (run: number) => useMutation({ mutationFn: () => post<void>(`/runs/${run}/cancel`) })

/** Follows a run that goes on; everything that depends on it is read anew when it ends. */
export function useProgress(run: number, ended: boolean): Progress | undefined {
  const client = useQueryClient()
  const [progress, setProgress] = useState<Progress>()
  useEffect(() => {
    if (ended) return
    const source = new EventSource(`/api/v1/runs/${run}/events`)
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
