import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { PracticeSpec } from '@vitrocept/core';
import type { PracticeCase, PracticeGrade, PracticeSummary } from '@vitrocept/server';
import { api, send } from './client';

export function usePractice() {
  return useQuery({ queryKey: ['practice'], queryFn: () => api<PracticeSummary>('/api/practice') });
}

/** How a frame was photographed; null where the practice camera did not take it. */
export function usePracticeCase(frameId: string) {
  return useQuery({
    queryKey: ['practice', frameId],
    queryFn: () => api<PracticeCase | null>(`/api/frames/${frameId}/practice`),
    refetchOnWindowFocus: false,
  });
}

export function usePhotograph() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wish: { spec: PracticeSpec } | { challenge: string }) =>
      send<{ frameId: string }>('POST', '/api/practice/photograph', wish),
    onSettled: () => client.invalidateQueries({ queryKey: ['shoots'] }),
  });
}

export function useGrade(frameId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => send<PracticeGrade>('POST', `/api/frames/${frameId}/grade`, {}),
    onSettled: () => client.invalidateQueries({ queryKey: ['practice'] }),
  });
}

/** Puts the truth beside the trials. */
export function useTruth(frameId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => send('POST', `/api/frames/${frameId}/truth`, {}),
    onSettled: () => client.invalidateQueries({ queryKey: ['versions', frameId] }),
  });
}
