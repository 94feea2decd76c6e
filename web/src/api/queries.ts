import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { CopyWishes, Stage } from '@vitrocept/core';
import type {
  Emptied,
  FrameChange,
  FrameSummary,
  OutsideVersion,
  RenderJob,
  SavedPrescription,
  ShootDetail,
  ShootSummary,
  TrashedFrame,
  TrashedShoot,
} from '@vitrocept/server';
import { api, send } from './client';

export interface FrameDetail extends FrameSummary {
  readonly shootName: string;
  readonly saved: SavedPrescription;
}

// Nothing is asked for again by itself: the server says what has changed (workspace/useChanges.ts).

export function useShoots() {
  return useQuery({
    queryKey: ['shoots'],
    queryFn: () => api<ShootSummary[]>('/api/shoots'),
  });
}

export function useShoot(id: string) {
  return useQuery({
    queryKey: ['shoot', id],
    queryFn: () => api<ShootDetail>(`/api/shoots/${id}`),
  });
}

export function useFrame(id: string) {
  return useQuery({
    queryKey: ['frame', id],
    queryFn: () => api<FrameDetail>(`/api/frames/${id}`),
    refetchOnWindowFocus: false,
    // A frame that is come back to is asked for anew: what was done to it meanwhile counts.
    gcTime: 0,
  });
}

export function isUnderway(job: RenderJob): boolean {
  return job.state === 'queued' || job.state === 'running';
}

export function useVersions(frameId: string) {
  return useQuery({
    queryKey: ['versions', frameId],
    queryFn: () => api<OutsideVersion[]>(`/api/frames/${frameId}/versions`),
    refetchOnWindowFocus: false,
  });
}

export function useRenders() {
  return useQuery({
    queryKey: ['renders'],
    queryFn: () => api<RenderJob[]>('/api/renders'),
  });
}

export function useStartRender() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (render: {
      frameId: string;
      revision: number;
      format: string;
      quality: number;
      stages: readonly Stage[];
      wishes: CopyWishes;
    }) => send<RenderJob>('POST', '/api/renders', render),
    onSettled: () => client.invalidateQueries({ queryKey: ['renders'] }),
  });
}

export function useRenderAct() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, act }: { id: string; act: 'stop' | 'retry' }) =>
      send<RenderJob>('POST', `/api/renders/${id}/${act}`, {}),
    onSettled: () => client.invalidateQueries({ queryKey: ['renders'] }),
  });
}

export function useChangeShoot() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...change }: { id: string; name?: string; isRemoved?: boolean }) =>
      send<ShootSummary>('PATCH', `/api/shoots/${id}`, change),
    onSettled: () =>
      Promise.all(['shoots', 'shoot', 'trash'].map((key) => client.invalidateQueries({ queryKey: [key] }))),
  });
}

export function useChangeFrames() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (changes: readonly FrameChange[]) => send<void>('PATCH', '/api/frames', { changes }),
    onSettled: () =>
      Promise.all(['shoots', 'shoot', 'trash'].map((key) => client.invalidateQueries({ queryKey: [key] }))),
  });
}

export interface TrashContent {
  readonly shoots: readonly TrashedShoot[];
  readonly frames: readonly TrashedFrame[];
}

export function useTrash() {
  return useQuery({
    queryKey: ['trash'],
    queryFn: () => api<TrashContent>('/api/trash'),
  });
}

export function useEmptyTrash() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => send<Emptied>('POST', '/api/trash/empty', {}),
    onSettled: () => client.invalidateQueries({ queryKey: ['trash'] }),
  });
}

export function useNewShoot() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (name: string) => send<ShootSummary>('POST', '/api/shoots', { name }),
    onSettled: () => client.invalidateQueries({ queryKey: ['shoots'] }),
  });
}
