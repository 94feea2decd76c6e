import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { KeptWays } from '@vitrocept/core';
import type { ListedKept } from '@vitrocept/server';
import { api, send } from './client';

export function useKept() {
  return useQuery({ queryKey: ['kept'], queryFn: () => api<ListedKept[]>('/api/kept') });
}

function useKeptAct<A>(act: (wish: A) => Promise<unknown>) {
  const client = useQueryClient();
  return useMutation({ mutationFn: act, onSettled: () => client.invalidateQueries({ queryKey: ['kept'] }) });
}

export const useKeepFrom = () =>
  useKeptAct(({ frameId, ...wish }: { frameId: string; name: string; ways: KeptWays }) =>
    send('POST', `/api/frames/${frameId}/keep`, wish),
  );

export const useBringKeptIn = () => useKeptAct((file: unknown) => send('POST', '/api/kept', file));

export const useRenameKept = () =>
  useKeptAct(({ id, name }: { id: string; name: string }) => send('PATCH', `/api/kept/${id}`, { name }));

export const useKeptChange = () =>
  useKeptAct(({ id, act }: { id: string; act: 'duplicate' | 'remove' | 'restore' }) =>
    act === 'remove' ? api(`/api/kept/${id}`, { method: 'DELETE' }) : send('POST', `/api/kept/${id}/${act}`, {}),
  );
