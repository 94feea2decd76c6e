import type { MaskOperation } from '@vitrocept/core';
import { useBrushStore } from '../stores/brushStore';

/** The tool that adjusts an act, set as the act is. */
export function adjusting(operation: MaskOperation, at: number) {
  const { bands } = useBrushStore.getState();
  switch (operation.kind) {
    case 'area':
      switch (operation.from.kind) {
        case 'tone':
        case 'focus': {
          const { kind, band } = operation.from;
          return { selected: at, tool: 'ranges' as const, range: kind, bands: { ...bands, [kind]: band } };
        }
        case 'colour':
          return {
            selected: at,
            tool: 'ranges' as const,
            range: 'colour' as const,
            tolerance: operation.from.tolerance,
          };
        default:
          return { selected: null };
      }
    case 'radial':
    case 'linear':
      return { selected: at, tool: 'shapes' as const, shape: operation.kind };
    case 'grow':
    case 'feather':
      return { selected: at, tool: 'edge' as const };
    default:
      return { selected: null };
  }
}
