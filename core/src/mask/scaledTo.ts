import type { Size } from '../picture/region';
import type { MaskOperation } from './maskOperation';

/** The same places in a frame of another size. Areas lie over the whole frame already. */
export function scaledTo(operations: readonly MaskOperation[], from: Size, to: Size): MaskOperation[] {
  const [sx, sy] = [to.width / from.width, to.height / from.height];
  if (sx === 1 && sy === 1) return [...operations];
  const s = Math.sqrt(sx * sy);
  const [atX, atY] = [(x: number) => (x + 0.5) * sx - 0.5, (y: number) => (y + 0.5) * sy - 0.5];
  return operations.map((operation): MaskOperation => {
    switch (operation.kind) {
      case 'stroke': {
        const points = operation.points.map((value, i) => (i % 2 === 0 ? atX(value) : atY(value)));
        return { ...operation, sizePx: operation.sizePx * s, points };
      }
      case 'radial':
        return {
          ...operation,
          x: atX(operation.x),
          y: atY(operation.y),
          rx: operation.rx * sx,
          ry: operation.ry * sy,
        };
      case 'linear':
        return {
          ...operation,
          x0: atX(operation.x0),
          y0: atY(operation.y0),
          x1: atX(operation.x1),
          y1: atY(operation.y1),
        };
      case 'area':
        return { ...operation, frameWidth: to.width, frameHeight: to.height };
      case 'grow':
      case 'feather':
        return { ...operation, px: operation.px * s };
      default:
        return operation;
    }
  });
}
