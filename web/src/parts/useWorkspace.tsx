import type { ReactNode } from 'react';
import { createPortal } from 'react-dom';
import { useOutletContext } from 'react-router';
import type { Prescription } from '@vitrocept/core';
import type { FrameDetail } from '../api/queries';

/** What every step of a frame is given. */
export interface Workspace {
  readonly frame: FrameDetail;
  readonly prescription: Prescription;
  /** Foot of the left column, where a step may put a card of its own. */
  readonly leftFoot: HTMLElement | null;
}

export const useWorkspace = () => useOutletContext<Workspace>();

/** A card of the step in the left column, under the Reading. */
export function LeftCard({ children }: { children: ReactNode }) {
  const { leftFoot } = useWorkspace();
  return leftFoot && createPortal(children, leftFoot);
}
