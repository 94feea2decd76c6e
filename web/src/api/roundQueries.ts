import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { SaveFormat } from '@vitrocept/core';
import type { Outcome, RoundDetail, RoundJob, RoundSummary } from '@vitrocept/server';
import { api, send } from './client';

export function useRounds() {
  return useQuery({ queryKey: ['rounds'], queryFn: () => api<RoundSummary[]>('/api/rounds') });
}

export function useRound(id: string) {
  return useQuery({ queryKey: ['round', id], queryFn: () => api<RoundDetail>(`/api/rounds/${id}`) });
}

export interface RoundForm {
  readonly keptId: string;
  readonly frameIds: readonly string[];
  readonly format: SaveFormat;
  readonly quality: number;
  readonly namePattern: string;
  readonly folder: string;
  readonly longEdgePx: number | null;
}

export function useBeginRound() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wish: RoundForm) => send<RoundDetail>('POST', '/api/rounds', wish),
    onSettled: () => client.invalidateQueries({ queryKey: ['rounds'] }),
  });
}

export function useRoundAct(id: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (act: 'pause' | 'go-on' | 'stop' | 'first') =>
      send<RoundDetail>('POST', `/api/rounds/${id}/${act}`, {}),
    onSuccess: (round) => client.setQueryData(['round', id], round),
    onSettled: () => client.invalidateQueries({ queryKey: ['rounds'] }),
  });
}

export function useOutcome(roundId: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ ids, outcome }: { ids: readonly string[]; outcome: Outcome | null }) =>
      Promise.all(ids.map((id) => send<RoundJob>('POST', `/api/round-jobs/${id}/outcome`, { outcome }))),
    onSettled: () => client.invalidateQueries({ queryKey: ['round', roundId] }),
  });
}

export const openRoundJob = (id: string, replace: boolean) =>
  send('POST', `/api/round-jobs/${id}/open`, replace ? { replace } : {});
