import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import {
  get, post, query, type CheckView, type CountsView, type DatasetDetail, type DatasetView, type FileView, type FoundView, type JobDetail,
  type JobView, type Progress, type ReasonView, type Reject, type ReportView, type RunEvent, type RunView,
} from './client'

const path = encodeURIComponent

export const useJobs = () =>
  useQuery({
    queryKey: ['jobs'],
    queryFn: () => get<JobView[]>('/jobs'),
    refetchInterval: (state) => (state.state.data?.some((job) => job.running) ? 1000 : 10_000),
  })

export const useJob = (job: string) =>
  useQuery({ queryKey: ['job', job], queryFn: () => get<JobDetail>(`/jobs/${path(job)}`), refetchInterval: 10_000 })

export const useFound = (job: string) =>
  useQuery({ queryKey: ['found', job], queryFn: () => get<FoundView>(`/jobs/${path(job)}/files`), refetchInterval: 15_000 })

export const useRuns = (job?: string) =>
  useQuery({ queryKey: ['runs', job ?? ''], queryFn: () => get<RunView[]>('/runs' + query({ job, limit: 100 })), refetchInterval: 10_000 })

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

export const useOpenRejects = () =>
  useQuery({ queryKey: ['rejects'], queryFn: () => get<ReasonView[]>('/rejects'), refetchInterval: 10_000 })

export const useDatasets = () => useQuery({ queryKey: ['datasets'], queryFn: () => get<DatasetView[]>('/datasets'), refetchInterval: 15_000 })

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
    mutationFn: (again: boolean) => post<RunView>(`/jobs/${path(job)}/runs`, { again }),
    onSettled: () => client.invalidateQueries({ queryKey: ['jobs'] }),
  })
}

export const useCheck = (job: string) => useMutation({ mutationFn: () => post<CheckView>(`/jobs/${path(job)}/check`) })

export const useTrial = (job: string) => useMutation({ mutationFn: () => post<ReportView>(`/jobs/${path(job)}/trial`) })

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
