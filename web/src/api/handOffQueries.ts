import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { SaveFormat } from '@vitrocept/core';
import type { HandOffDetail } from '@vitrocept/server';
import { api, send } from './client';

export interface HandOffForm {
  readonly shootId: string;
  readonly keptId: string | null;
  readonly format: SaveFormat;
}

export function useHandOffs() {
  return useQuery({ queryKey: ['hand-offs'], queryFn: () => api<HandOffDetail[]>('/api/hand-offs') });
}

export function useNewHandOff() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (wish: HandOffForm & { readonly folder: string }) =>
      send<HandOffDetail>('POST', '/api/hand-offs', wish),
    onSettled: () => client.invalidateQueries({ queryKey: ['hand-offs'] }),
  });
}

export function useHandOffAct() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, to }: { readonly id: string; readonly to: HandOffForm | null }): Promise<unknown> =>
      to
        ? send<HandOffDetail>('PUT', `/api/hand-offs/${id}`, to)
        : api<void>(`/api/hand-offs/${id}`, { method: 'DELETE' }),
    onSettled: () => client.invalidateQueries({ queryKey: ['hand-offs'] }),
  });
}
